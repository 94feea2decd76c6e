"""scikit-image's deconvolutions, given the true point spread function, in linear light, channel by channel.

Usage: reference.py PICTURE PSF FOLDER TRUTH MASK; MASK may be "-". Writes wiener.png, unsupervised_wiener.png and
richardson_lucy.png with usual settings, and wiener_best.png and richardson_lucy_best.png with those that came nearest to
the truth: better than anybody could choose who does not know it. Outside a mask the picture stays, as in ours.
"""

import struct
import sys
import zlib

import numpy as np
from skimage import io, restoration


def decode(codes):
    return np.where(codes <= 0.04045, codes / 12.92, ((codes + 0.055) / 1.055) ** 2.4)


def encode(linear):
    linear = np.clip(linear, 0, 1)
    return np.where(linear <= 0.0031308, linear * 12.92, 1.055 * linear ** (1 / 2.4) - 0.055)


def read(path):
    codes = io.imread(path, plugin=None)
    return codes / (65535.0 if codes.dtype == np.uint16 else 255.0)


def read_png16(path):
    """Pillow reduces 16-bit colour to 8 bits: the samples are read here."""
    data = open(path, "rb").read()
    width, height, depth, kind = struct.unpack(">IIBB", data[16:26])
    if depth != 16:
        return read(path)
    at, packed = 8, b""
    while at < len(data):
        (length,) = struct.unpack(">I", data[at : at + 4])
        if data[at + 4 : at + 8] == b"IDAT":
            packed += data[at + 8 : at + 8 + length]
        at += 12 + length
    channels = {0: 1, 2: 3}[kind]
    pitch = width * channels * 2
    raw = np.frombuffer(zlib.decompress(packed), np.uint8).reshape(height, pitch + 1)
    out = np.zeros((height, pitch), np.int32)
    step = channels * 2
    for row in range(height):
        line = raw[row, 1:].astype(np.int32)
        above = out[row - 1] if row else np.zeros(pitch, np.int32)
        how = raw[row, 0]
        if how in (0, 2):
            out[row] = (line + (above if how == 2 else 0)) & 255
            continue
        for i in range(pitch):
            left = out[row, i - step] if i >= step else 0
            corner = above[i - step] if i >= step else 0
            if how == 1:
                guess = left
            elif how == 3:
                guess = (left + above[i]) >> 1
            else:
                p = left + above[i] - corner
                options = ((abs(p - left), 0, left), (abs(p - above[i]), 1, above[i]), (abs(p - corner), 2, corner))
                guess = min(options)[2]
            out[row, i] = (line[i] + guess) & 255
    codes = out.reshape(height, width, channels, 2)
    return (codes[..., 0] * 256 + codes[..., 1]) / 65535.0


def write(path, encoded):
    """16 bits a sample: 8 would round the best of them."""
    codes = np.round(encoded * 65535).astype(">u2")
    height, width, _ = codes.shape
    rows = b"".join(b"\0" + codes[y].tobytes() for y in range(height))

    def chunk(kind, body):
        return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))

    header = struct.pack(">IIBBBBB", width, height, 16, 2, 0, 0, 0)
    packed = zlib.compress(rows, 1)
    with open(path, "wb") as file:
        file.write(b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", header) + chunk(b"IDAT", packed) + chunk(b"IEND", b""))


BALANCES = [0.3, 0.1, 0.03, 0.01, 0.003, 0.001, 3e-4, 1e-4]
ITERATIONS = [5, 10, 20, 40, 80]


def main(picture, psf_path, folder, truth_path, mask_path):
    blurred = decode(read_png16(picture) if picture.endswith(".png") else read(picture))
    truth = read_png16(truth_path)
    psf = read_png16(psf_path).squeeze()
    psf = psf / psf.sum()
    mask = None if mask_path == "-" else read_png16(mask_path)
    pad = max(psf.shape)
    padded = np.pad(blurred, ((pad, pad), (pad, pad), (0, 0)), mode="reflect")

    def applied(method):
        planes = [method(padded[..., c])[pad:-pad, pad:-pad] for c in range(3)]
        answer = np.stack(planes, -1)
        return encode(answer if mask is None else blurred + mask * (answer - blurred))

    def best(made):
        return min(made, key=lambda encoded: np.mean((encoded - truth)[32:-32, 32:-32] ** 2))

    def wiener(balance):
        return applied(lambda plane: restoration.wiener(plane, psf, balance=balance, clip=False))

    def richardson_lucy(count):
        return applied(lambda plane: restoration.richardson_lucy(plane, psf, num_iter=count, clip=False))

    made = {
        "wiener": wiener(0.01),
        "wiener_best": best([wiener(balance) for balance in BALANCES]),
        "unsupervised_wiener": applied(
            lambda plane: restoration.unsupervised_wiener(
                plane, psf, clip=False, user_params={"max_num_iter": 60, "min_num_iter": 20}, random_state=1
            )[0]
        ),
        "richardson_lucy": richardson_lucy(20),
        "richardson_lucy_best": best([richardson_lucy(count) for count in ITERATIONS]),
    }
    for name, encoded in made.items():
        write(f"{folder}/{name}.png", encoded)


main(*sys.argv[1:])
