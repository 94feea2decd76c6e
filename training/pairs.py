"""Makes the blurred and noisy patches that the correction after a recovery learns from, with their truths.

Usage: nice -n 19 /usr/bin/python3 training/pairs.py FOLDER COUNT; then npm run bench -- solve FOLDER/pairs
FOLDER holds scenes.npz (fetch.py); FOLDER/pairs is written in the form of `npm run bench -- export`. The blurs and noises
are drawn here, unlike the practice camera's and the benches'.
"""
import io
import json
import pathlib
import sys

import numpy as np
from PIL import Image
from scipy.ndimage import gaussian_filter
from scipy.signal import fftconvolve

sys.path.insert(0, str(pathlib.Path(__file__).parent))
from scenes import Scenes

SIDE = 192
SEED = 12
# Shares of the patches that come as JPEG, that are cleaned of noise first, and of the rest that come from a mosaic
# (filled in where they are solved, by the application itself).
JPEG = 0.25
CLEANED = 0.2
MOSAIC = 0.2


def over(random, low, high):
    """Evenly by ratio."""
    return float(np.exp(random.uniform(np.log(low), np.log(high))))


def drawn(inside, half, fine=5):
    """A PSF of side 2·half + 1 from a function of (x, y) in px, sampled fine × fine to the px."""
    at = (np.arange((2 * half + 1) * fine) + 0.5) / fine - half - 0.5
    values = inside(at[None, :], at[:, None])
    return values.reshape(2 * half + 1, fine, 2 * half + 1, fine).mean((1, 3))


def disc(random):
    radius = over(random, 1.3, 13)
    lean, angle = random.uniform(0.85, 1), random.uniform(0, np.pi)
    soft = random.uniform(0.02, 0.25) * radius

    def inside(x, y):
        along, across = x * np.cos(angle) + y * np.sin(angle), y * np.cos(angle) - x * np.sin(angle)
        return np.clip((radius - np.hypot(along, across / lean)) / soft + 0.5, 0, 1)

    return drawn(inside, int(np.ceil(radius + soft)))


def softness(random):
    sigma = over(random, 0.7, 3.2)
    return drawn(lambda x, y: np.exp(-(x * x + y * y) / (2 * sigma * sigma)), int(np.ceil(3.5 * sigma)))


def path(points, half):
    """Points in px to a PSF, each shared among its four neighbours."""
    psf = np.zeros((2 * half + 1, 2 * half + 1))
    corner = np.floor(points).astype(int)
    part = points - corner
    for dx in (0, 1):
        for dy in (0, 1):
            share = np.where(dx, part[:, 0], 1 - part[:, 0]) * np.where(dy, part[:, 1], 1 - part[:, 1])
            np.add.at(psf, (corner[:, 1] + dy + half, corner[:, 0] + dx + half), share)
    return gaussian_filter(psf, 0.35)


def movement(random):
    length, angle = over(random, 3, 28), random.uniform(0, np.pi)
    along = np.linspace(-length / 2, length / 2, 400)
    return path(np.stack([along * np.cos(angle), along * np.sin(angle)], 1), int(np.ceil(length / 2)) + 2)


def shake(random):
    """A damped walk whose push turns at random."""
    steps = 600
    speed = np.cumsum(random.standard_normal((steps, 2)), 0)
    walk = np.cumsum(gaussian_filter(random.standard_normal((steps, 2)), (random.uniform(15, 90), 0)), 0)
    walk = walk + random.uniform(0, 0.02) * speed
    walk -= walk.mean(0)
    walk *= over(random, 5, 26) / 2 / np.abs(walk).max()
    return path(walk, int(np.ceil(np.abs(walk).max())) + 2)


KINDS = (disc, disc, softness, movement, shake, shake)


def encoded(linear):
    """IEC 61966-2-1."""
    return np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * np.maximum(linear, 1e-9) ** (1 / 2.4) - 0.055)


def decoded(codes):
    return np.where(codes <= 0.04045, codes / 12.92, ((codes + 0.055) / 1.055) ** 2.4)


def through_jpeg(codes, quality):
    file = io.BytesIO()
    picture = Image.fromarray(np.round(255 * codes).astype(np.uint8).transpose(1, 2, 0))
    picture.save(file, "JPEG", quality=quality, subsampling=0)
    return np.asarray(Image.open(file)).transpose(2, 0, 1) / 255


def degraded(sharp, psf, random, jpeg):
    """sharp: 3 × H × W linear light. Returns the inner SIDE × SIDE, blurred, with noise, white clipped, in codes."""
    blurred = np.stack([fftconvolve(plane, psf, "same") for plane in sharp])
    edge = (sharp.shape[1] - SIDE) // 2
    inner = np.maximum(0, blurred[:, edge : edge + SIDE, edge : edge + SIDE])
    sigma = over(random, 0.001, 0.035)
    # Of the variance at mid-tone (0.18), what the light itself brings.
    shot = random.uniform(0.3, 1)
    variance = sigma**2 * (shot * inner / 0.18 + 1 - shot)
    noisy = np.clip(inner + np.sqrt(variance) * random.standard_normal(inner.shape), 0, 1)
    if jpeg:
        return decoded(through_jpeg(encoded(noisy), int(random.integers(82, 98))))
    steps = 255 if random.random() < 0.5 else 65535
    return decoded(np.round(encoded(noisy) * steps) / steps)


def main(folder, count):
    folder = pathlib.Path(folder)
    out = folder / "pairs"
    out.mkdir(parents=True, exist_ok=True)
    scenes = Scenes(folder / "scenes.npz")
    index = []
    for i in range(count):
        random = np.random.default_rng((SEED, i))
        kind = KINDS[random.integers(len(KINDS))]
        psf = kind(random)
        psf /= psf.sum()
        sharp = scenes.patch(random, SIDE + 2 * (max(psf.shape) // 2 + 1))
        edge = (sharp.shape[1] - SIDE) // 2
        jpeg, cleaned = random.random() < JPEG, random.random() < CLEANED
        planes = {
            "degraded": degraded(sharp, psf, random, jpeg),
            "truth": sharp[:, edge : edge + SIDE, edge : edge + SIDE],
            "psf": psf,
        }
        mosaic = not jpeg and random.random() < MOSAIC
        name = f"pair{i}"
        for suffix, values in planes.items():
            values.astype("<f4").tofile(out / f"{name}.{suffix}")
        height, width = psf.shape
        sides = dict(width=SIDE, height=SIDE, psfWidth=width, psfHeight=height)
        index.append(
            dict(name=name, **sides, kind=kind.__name__, jpeg=bool(jpeg), mosaic=bool(mosaic), cleaned=bool(cleaned))
        )
    (out / "index.json").write_text(json.dumps(index))


main(sys.argv[1], int(sys.argv[2]))
