"""Fetches the photographs that the prior learns from (Debian packages, see photographs.txt) and keeps them as linear light.

Usage: /usr/bin/python3 training/fetch.py FOLDER
Writes FOLDER/scenes.npz: each photograph as uint16 codes of √(linear light), shrunk in linear light.
"""
import glob
import pathlib
import subprocess
import sys

import numpy as np
from PIL import Image

HERE = pathlib.Path(__file__).parent
Image.MAX_IMAGE_PIXELS = None


def srgb_to_linear(encoded):
    """IEC 61966-2-1."""
    return np.where(encoded <= 0.04045, encoded / 12.92, ((encoded + 0.055) / 1.055) ** 2.4)


def shrunk(linear, factor):
    """Area-averaged, each channel on its own; size rounded down."""
    height, width = (int(side / factor) for side in linear.shape[:2])
    planes = [
        np.asarray(Image.fromarray(linear[..., c].astype(np.float32), mode="F").resize((width, height), Image.BOX))
        for c in range(3)
    ]
    return np.stack(planes, -1)


def main(folder):
    folder = pathlib.Path(folder)
    folder.mkdir(parents=True, exist_ok=True)
    scenes = {}
    for line in (HERE / "photographs.txt").read_text().splitlines():
        if not line.strip() or line.startswith("#"):
            continue
        package, pattern, factor = (part.strip() for part in line.split("|"))
        unpacked = folder / package
        if not unpacked.exists():
            subprocess.run(["apt-get", "download", package], cwd=folder, check=True)
            (deb,) = folder.glob(f"{package}_*.deb")
            subprocess.run(["dpkg-deb", "-x", deb, unpacked], check=True)
        found = glob.glob(str(unpacked / "usr/share/**" / pattern), recursive=True)
        path = max(found, key=lambda name: Image.open(name).size)
        linear = srgb_to_linear(np.asarray(Image.open(path).convert("RGB"), dtype=np.float32) / 255)
        small = shrunk(linear, float(factor))
        scenes[f"{package}/{pattern.split('/')[0].split('_')[0]}"] = np.round(65535 * np.sqrt(small)).astype(np.uint16)
        print(package, pattern, small.shape, flush=True)
    np.savez(folder / "scenes.npz", **scenes)


main(sys.argv[1])
