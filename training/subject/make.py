"""Makes pictures whose subject is known (composites.py) in pieces of 400; pieces that are there stay.

Usage: nice -n 19 /usr/bin/python3 training/subject/make.py FOLDER PIECES
Writes FOLDER/composites/NNNN.npy, uint8: codes of sRGB and the coverage. Those of the first two hold cut-outs that no
other has.
"""
import pathlib
import sys

import numpy as np

from composites import Maker, Sources

SIZES = [(128, 192)] * 5 + [(144, 192)] * 2 + [(112, 192), (192, 128), (160, 160)]
COUNT = 400
HELD_OUT = 2


def main(folder, pieces):
    folder = pathlib.Path(folder)
    out = folder / "composites"
    out.mkdir(parents=True, exist_ok=True)
    sources = Sources(folder)
    for piece in range(int(pieces)):
        file = out / f"{piece:04d}.npy"
        if file.exists():
            continue
        height, width = SIZES[piece % len(SIZES)]
        maker = Maker(sources, np.random.default_rng(19000 + piece), held=piece < HELD_OUT)
        made = np.empty((COUNT, height, width, 5), np.uint8)
        for at in range(COUNT):
            picture, coverage = maker.make(height, width)
            made[at, ..., :3] = np.round(255 * picture)
            made[at, ..., 3:] = np.round(255 * coverage)
        np.save(file, made)
        print(file.name, flush=True)


main(*sys.argv[1:])
