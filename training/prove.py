"""Holds the trained denoiser, as the prior of a splitting solver, against the present prior on told practice cases.

Usage: npm run bench -- export CASES; /usr/bin/python3 training/prove.py CASES CHECKPOINT [PATTERN] [--crops FOLDER]

Plug and play (Venkatakrishnan, Bouman, Wohlberg, 2013) by splitting with a falling noise level (Zhang, Li, Zuo, Zhang,
Van Gool, Timofte, IEEE TPAMI 44, 2021): x = argmin |k ⊗ x − y|² / σ² + |x − z|² / σₖ², z = D(x, σₖ).
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
# How strongly what was denoised is believed, beside the data; Zhang et al. have 0.23.
WEIGHT = 0.25
# Rounds of the data term before what it gives is denoised.
ROUNDS = 8
# From here a sample says nothing but that it is bright.
WHITE = 0.995
BORDER_PX = 32


def srgb(linear):
    """IEC 61966-2-1."""
    clipped = np.clip(linear, 0, 1)
    return np.where(clipped <= 0.0031308, 12.92 * clipped, 1.055 * clipped ** (1 / 2.4) - 0.055)


def psnr(a, b, border=BORDER_PX):
    inner = (slice(None), slice(border, -border), slice(border, -border))
    return -10 * np.log10(np.mean((srgb(a)[inner] - srgb(b)[inner]) ** 2))


def transfer(psf, shape):
    """Of the psf centred at the origin."""
    full = np.zeros(shape)
    full[: psf.shape[0], : psf.shape[1]] = psf
    return np.fft.rfft2(np.roll(full, (-(psf.shape[0] // 2), -(psf.shape[1] // 2)), (0, 1)))


def recovered(degraded, psf, lines, denoise, first=FIRST_SIGMA, steps=STEPS, weight=WEIGHT, rounds=ROUNDS):
    """lines: the noise of each channel, variance a · y + b. What lies beyond the borders, and what is white, is unknown:
    the data term is split once more (Almeida & Figueiredo, IEEE TIP 22, 2013)."""
    margin = max(psf.shape)
    grown = ((0, 0), (margin, margin), (margin, margin))
    y = np.pad(degraded, grown, mode="edge")
    variance = np.stack([np.maximum(line["a"] * plane + line["b"], 1e-8) for line, plane in zip(lines, y)])
    sigma = float(np.sqrt(np.median(variance)))
    known = np.pad((degraded < WHITE).astype(float), grown) / variance
    h = transfer(psf, y.shape[1:])
    power = np.abs(h) ** 2
    pull = 1 / sigma**2
    z, u, d = y, y, np.zeros_like(y)
    for level in np.geomspace(first, max(sigma, 0.0008), steps):
        trust = weight / level**2
        for _ in range(rounds):
            evidence = pull * np.conj(h) * np.fft.rfft2(u - d) + trust * np.fft.rfft2(z)
            spectrum = evidence / (pull * power + trust)
            again = np.fft.irfft2(h * spectrum, s=y.shape[1:])
            u = (known * y + pull * (again + d)) / (known + pull)
            d = d + again - u
        z = denoise(np.fft.irfft2(spectrum, s=y.shape[1:]), level)
    return z[:, margin : margin + degraded.shape[1], margin : margin + degraded.shape[2]]


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
        new = recovered(degraded, psf, case["noise"], denoise)
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


if __name__ == "__main__":
    arguments = sys.argv[1:]
    where = None
    if "--crops" in arguments:
        at = arguments.index("--crops")
        where = arguments[at + 1]
        del arguments[at : at + 2]
    main(*arguments, crops=where)
