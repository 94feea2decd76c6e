"""Holds the trained denoiser, as the prior of a splitting solver, against the present prior on told practice cases.

Usage: npm run bench -- export CASES; /usr/bin/python3 training/prove.py CASES CHECKPOINT [PATTERN] [--crops FOLDER]

Plug and play (Venkatakrishnan, Bouman, Wohlberg, 2013) by half-quadratic splitting with a falling noise level (Zhang, Li,
Zuo, Zhang, Van Gool, Timofte, IEEE TPAMI 44, 2021): x = argmin |k ⊗ x − y|² / σ² + |x − z|² / σₖ², z = D(x, σₖ).
"""
import json
import pathlib
import re
import sys
import time

import numpy as np
import torch
from PIL import Image

sys.path.insert(0, str(pathlib.Path(__file__).parent))
from model import Denoiser

STEPS = 8
# The first level of noise, linear light: what a strongly blurred picture is wrong by.
FIRST_SIGMA = 0.06
BORDER_PX = 32
PAD_PX = 64


def srgb(linear):
    """IEC 61966-2-1."""
    clipped = np.clip(linear, 0, 1)
    return np.where(clipped <= 0.0031308, 12.92 * clipped, 1.055 * clipped ** (1 / 2.4) - 0.055)


def psnr(a, b):
    inner = (slice(None), slice(BORDER_PX, -BORDER_PX), slice(BORDER_PX, -BORDER_PX))
    return -10 * np.log10(np.mean((srgb(a)[inner] - srgb(b)[inner]) ** 2))


def padded(planes, margin):
    """Extended by a blend of the edges that meet there: the transform is periodic."""
    count, height, width = planes.shape
    out = np.pad(planes, ((0, 0), (0, 2 * margin), (0, 2 * margin)), mode="edge")
    share = np.linspace(0, 1, 2 * margin + 2)[1:-1]
    across = out[:, :height, width - 1, None] * (1 - share) + out[:, :height, :1] * share
    out[:, :height, width:] = across
    out[:, height:] = out[:, height - 1, None] * (1 - share[None, :, None]) + out[:, :1] * share[None, :, None]
    return out


def transfer(psf, shape):
    """Of the psf centred at the origin."""
    full = np.zeros(shape)
    full[: psf.shape[0], : psf.shape[1]] = psf
    return np.fft.rfft2(np.roll(full, (-(psf.shape[0] // 2), -(psf.shape[1] // 2)), (0, 1)))


def recovered(degraded, psf, sigma, denoise, first=FIRST_SIGMA, steps=STEPS, weight=1.0):
    """sigma: standard deviation of the noise at mid-tone, linear light."""
    margin = max(PAD_PX // 2, psf.shape[0], psf.shape[1])
    y = padded(degraded, margin)
    h = transfer(psf, y.shape[1:])
    power = np.abs(h) ** 2
    evidence = np.conj(h) * np.fft.rfft2(y)
    last = max(0.7 * sigma, 0.0008)
    levels = np.geomspace(first, last, steps)
    z = y
    for level in levels:
        ratio = weight * sigma**2 / level**2
        x = np.fft.irfft2((evidence + ratio * np.fft.rfft2(z)) / (power + ratio), s=y.shape[1:])
        z = denoise(x, level)
    return z[:, : degraded.shape[1], : degraded.shape[2]]


def denoiser(checkpoint):
    model = Denoiser()
    model.load_state_dict(torch.load(checkpoint)["model"])
    model.eval()

    def denoise(planes, sigma):
        with torch.no_grad():
            even = [side + side % 2 for side in planes.shape[1:]]
            pad = ((0, 0), (0, even[0] - planes.shape[1]), (0, even[1] - planes.shape[2]))
            noisy = torch.from_numpy(np.pad(planes, pad, mode="edge").astype(np.float32))[None]
            out = model(noisy, torch.full((1, 1, 1, 1), float(sigma)))[0].numpy()
            return out[:, : planes.shape[1], : planes.shape[2]].astype(np.float64)

    return denoise


def load(folder, case):
    def read(kind, shape):
        return np.fromfile(folder / f"{case['name']}.{kind}", dtype="<f4").reshape(shape).astype(np.float64)

    shape = (3, case["height"], case["width"])
    psf = read("psf", (case["psfHeight"], case["psfWidth"]))
    return read("degraded", shape), read("truth", shape), read("present", shape), psf


def crop(planes):
    top, left = ((side - 128) // 2 for side in planes.shape[1:])
    part = srgb(planes[:, top : top + 128, left : left + 128]).transpose(1, 2, 0)
    return np.repeat(np.repeat(np.round(255 * part).astype(np.uint8), 2, 0), 2, 1)


def main(folder, checkpoint, pattern=".", crops=None):
    folder = pathlib.Path(folder)
    denoise = denoiser(checkpoint)
    rows = []
    for case in json.loads((folder / "index.json").read_text()):
        recipe = case["recipe"]
        if not re.search(pattern, recipe["name"]):
            continue
        degraded, truth, present, psf = load(folder, case)
        started = time.process_time()
        new = recovered(degraded, psf, recipe["noisePercent"] / 100, denoise)
        spent = time.process_time() - started
        figures = [psnr(degraded, truth), psnr(present, truth), psnr(new, truth)]
        rows.append((recipe["family"], *figures))
        print(f"{recipe['name']:44} " + "  ".join(f"{value:.2f}" for value in figures) + f"  {spent:.0f} s", flush=True)
        if crops:
            sheet = np.concatenate([crop(picture) for picture in (degraded, present, new, truth)], 1)
            pathlib.Path(crops).mkdir(parents=True, exist_ok=True)
            Image.fromarray(sheet).save(pathlib.Path(crops) / f"{case['name']}.png")
    for family in [*dict.fromkeys(row[0] for row in rows), None]:
        chosen = np.array([row[1:] for row in rows if family in (row[0], None)])
        means = "  ".join(f"{value:.2f}" for value in chosen.mean(0))
        print(f"{family or 'all':44} {means}  {chosen[:, 2].mean() - chosen[:, 1].mean():+.2f}")


arguments = sys.argv[1:]
where = None
if "--crops" in arguments:
    at = arguments.index("--crops")
    where = arguments[at + 1]
    del arguments[at : at + 2]
main(*arguments, crops=where)
