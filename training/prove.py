"""Holds the correction after a recovery against the present prior on the told practice cases.

Usage: npm run bench -- export CASES; /usr/bin/python3 training/prove.py CASES CHECKPOINT [PATTERN] [--crops FOLDER]
"""
import json
import pathlib
import re
import sys

import numpy as np
import torch
from PIL import Image

sys.path.insert(0, str(pathlib.Path(__file__).parent))
from corrector import Corrector
from train import noise_line

BORDER_PX = 32
CROP_PX = 128


def srgb(linear):
    """IEC 61966-2-1."""
    clipped = np.clip(linear, 0, 1)
    return np.where(clipped <= 0.0031308, 12.92 * clipped, 1.055 * clipped ** (1 / 2.4) - 0.055)


def psnr(a, b):
    inner = (slice(None), slice(BORDER_PX, -BORDER_PX), slice(BORDER_PX, -BORDER_PX))
    return -10 * np.log10(np.mean((srgb(a)[inner] - srgb(b)[inner]) ** 2))


def load(folder, case, kind):
    shape = (3, case["height"], case["width"])
    return np.fromfile(folder / f"{case['name']}.{kind}", dtype="<f4").reshape(shape)


def corrected(model, present, weak, given, line, jpeg=0.0):
    even = [side + side % 2 for side in present.shape[1:]]
    pad = ((0, 0), (0, even[0] - present.shape[1]), (0, even[1] - present.shape[2]))
    planes = [torch.from_numpy(np.pad(plane, pad, mode="edge"))[None] for plane in (present, weak, given)]
    with torch.no_grad():
        out = model(*planes, torch.tensor([line], dtype=torch.float32), torch.tensor([jpeg]))[0].numpy()
    # The root is what it learned to tell; below nought there is no light.
    return np.maximum(0, out[:, : present.shape[1], : present.shape[2]]) ** 2


def crop(planes):
    top, left = ((side - CROP_PX) // 2 for side in planes.shape[1:])
    part = srgb(planes[:, top : top + CROP_PX, left : left + CROP_PX]).transpose(1, 2, 0)
    return np.repeat(np.repeat(np.round(255 * part).astype(np.uint8), 2, 0), 2, 1)


def main(folder, checkpoint, pattern=".", crops=None):
    folder = pathlib.Path(folder)
    state = torch.load(checkpoint)
    model = Corrector(state["channels"])
    model.load_state_dict(state["model"])
    model.eval()
    rows = []
    for case in json.loads((folder / "index.json").read_text()):
        recipe = case["recipe"]
        if not re.search(pattern, recipe["name"]):
            continue
        kinds = ("degraded", "truth", "present", "weak", "seen")
        degraded, truth, present, weak, given = (load(folder, case, kind) for kind in kinds)
        new = corrected(model, present, weak, given, noise_line(case["noise"], case["guard"]))
        figures = [psnr(planes, truth) for planes in (degraded, weak, present, new)]
        rows.append((recipe["family"], *figures))
        print(
            f"{recipe['name']:44} "
            + "  ".join(f"{value:.2f}" for value in figures)
            + f"  {figures[3] - figures[2]:+.2f}"
        )
        if crops:
            sheet = np.concatenate([crop(picture) for picture in (degraded, present, new, truth)], 1)
            pathlib.Path(crops).mkdir(parents=True, exist_ok=True)
            Image.fromarray(sheet).save(pathlib.Path(crops) / f"{case['name']}.png")
    for family in [*dict.fromkeys(row[0] for row in rows), None]:
        chosen = np.array([row[1:] for row in rows if family in (row[0], None)])
        means = "  ".join(f"{value:.2f}" for value in chosen.mean(0))
        print(f"{family or 'all':44} {means}  {chosen[:, 3].mean() - chosen[:, 2].mean():+.2f}")


if __name__ == "__main__":
    arguments = sys.argv[1:]
    where = None
    if "--crops" in arguments:
        at = arguments.index("--crops")
        where = arguments[at + 1]
        del arguments[at : at + 2]
    main(*arguments, crops=where)
