"""Makes golden/outside.json with Debian's python3-skimage (0.19.3), scipy, numpy and python3-pil (9.4, with Little CMS).

Run: /usr/bin/python3 core/golden/makeOutside.py [FILE]

What independent libraries say of seeded pictures: colour difference (the 34 published pairs and random ones), structural
similarity, grey dilation by a disc, a guided filter written a second time from its paper, a picture moved by
a spline of fifth order, one enlarged by Lanczos, Laplace's equation over a hole, and Bradford's adaptation from the white
of sRGB to that of profiles.
"""
import json
import os
import re
import sys

import numpy as np
from scipy.ndimage import gaussian_filter, uniform_filter
from PIL import Image, ImageCms
from scipy.ndimage import shift as moved
from scipy.sparse import lil_matrix
from scipy.sparse.linalg import spsolve
from skimage.color import deltaE_ciede2000
from skimage.metrics import structural_similarity
from skimage.morphology import dilation

HERE = os.path.dirname(os.path.abspath(__file__))
rng = np.random.default_rng(2026)


def rounded(values, digits=6):
    return np.round(np.asarray(values, dtype=float), digits).ravel().tolist()


def texture(height, width, sigma):
    plane = gaussian_filter(rng.random((height, width)), sigma)
    return (plane - plane.min()) / (plane.max() - plane.min())


# The published pairs as they stand in the table that the tests use, and pairs at random.
table = open(os.path.join(HERE, "..", "tables", "ciede2000.ts")).read()
published = [[float(v) for v in row.split(",")] for row in re.findall(r"^  \[([-\d., ]+)\],$", table, re.M)]
assert len(published) == 34
random_pairs = np.round(
    np.column_stack(
        [
            rng.uniform(0, 100, 60),
            rng.uniform(-100, 100, (60, 2)),
            rng.uniform(0, 100, 60),
            rng.uniform(-100, 100, (60, 2)),
        ]
    ),
    3,
)
pairs = np.vstack([np.array(published)[:, :6], random_pairs])
differences = deltaE_ciede2000(pairs[:, :3], pairs[:, 3:])

# Structural similarity: uniform windows of 7 px, sample covariance, range 1, without 32 px of border.
height, width = 96, 120
one = np.stack([texture(height, width, 1.5) for _ in range(3)])
other = np.clip(one + rng.normal(0, 0.05, one.shape), 0, 1)
# Compared on what the file holds.
one, other = np.round(one, 4), np.round(other, 4)
similarity = []
for x, y in zip(one, other):
    _, full = structural_similarity(x, y, win_size=7, data_range=1, full=True)
    similarity.append(full[32:-32, 32:-32].mean())


def disc(radius):
    """Rows of a disc whose half width is rounded to the nearest pixel."""
    reach = int(radius)
    x = np.arange(-reach, reach + 1)
    return np.array([np.abs(x) <= int(np.sqrt(radius**2 - dy**2) + 0.5) for dy in x]).astype(np.uint8)


# A mask of levels grown by a disc.
mask = np.zeros((40, 56))
mask[8:14, 10:30] = 1
mask[25, 40] = 0.6
mask[30:33, 8:10] = 0.8


def guided(wanted, guide, reach, stiffness):
    """He, Sun, Tang, IEEE TPAMI 35 (2013), eq. 14 to 16, for a guide of three colours; borders are cut, not repeated."""
    side = 2 * reach + 1
    count = uniform_filter(np.ones_like(wanted), side, mode="constant")
    mean = lambda plane: uniform_filter(plane, side, mode="constant") / count
    means = np.stack([mean(plane) for plane in guide])
    own = mean(wanted)
    cross = np.stack([mean(plane * wanted) for plane in guide]) - means * own
    second = np.empty((3, 3) + wanted.shape)
    for p in range(3):
        for q in range(3):
            second[p, q] = mean(guide[p] * guide[q]) - means[p] * means[q]
    matrix = np.moveaxis(second, (0, 1), (-2, -1)) + stiffness * np.eye(3)
    slopes = np.moveaxis(np.linalg.solve(matrix, np.moveaxis(cross, 0, -1)[..., None])[..., 0], -1, 0)
    offset = own - (slopes * means).sum(0)
    return (np.stack([mean(plane) for plane in slopes]) * guide).sum(0) + mean(offset)


guide = np.stack([texture(36, 44, 2) for _ in range(3)])
wanted = (guide[0] + 0.3 * guide[1] > 0.7).astype(float)

scene = texture(128, 150, 2)
by = (2.4, -1.3)
away = moved(scene, by, order=5, mode="nearest")

small = np.round(texture(30, 36, 1.2), 4)
factor = 2.4
enlarged = np.asarray(
    Image.fromarray(small.astype(np.float32), mode="F").resize((round(36 * factor), round(30 * factor)), Image.LANCZOS)
)


def harmonic(edge, free):
    """Laplace's equation where free is 1, by a direct solver; the border of the plane is not free."""
    places = {place: i for i, place in enumerate(map(tuple, np.argwhere(free)))}
    matrix, right = lil_matrix((len(places), len(places))), np.zeros(len(places))
    for (y, x), i in places.items():
        matrix[i, i] = 4
        for beside in ((y - 1, x), (y + 1, x), (y, x - 1), (y, x + 1)):
            if beside in places:
                matrix[i, places[beside]] = -1
            else:
                right[i] += edge[beside]
    out = edge.copy()
    for place, value in zip(places, spsolve(matrix.tocsr(), right)):
        out[place] = value
    return out


edge = np.round(texture(40, 48, 3), 4)
y, x = np.mgrid[:40, :48]
free = ((x - 22) ** 2 / 15**2 + (y - 19) ** 2 / 11**2 < 1) & ~((abs(x - 25) < 3) & (y > 17))

srgb = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).profile

out = {
    "ciede2000": {"pairs": np.round(pairs, 4).tolist(), "values": rounded(differences)},
    "ssim": {
        "width": width,
        "height": height,
        "one": [rounded(p, 4) for p in one],
        "other": [rounded(p, 4) for p in other],
        "value": float(np.mean(similarity)),
    },
    "dilation": {
        "width": 56,
        "height": 40,
        "mask": rounded(mask),
        "radius": 4,
        "grown": rounded(dilation(mask, disc(4))),
    },
    "guided": {
        "width": 44,
        "height": 36,
        "guide": [rounded(p) for p in guide],
        "wanted": rounded(wanted),
        "reach": 3,
        "stiffness": 1e-3,
        "filtered": rounded(guided(wanted, guide, 3, 1e-3)),
    },
    "lanczos": {"width": 36, "height": 30, "factor": factor, "plane": rounded(small, 4), "enlarged": rounded(enlarged)},
    "laplace": {
        "width": 48,
        "height": 40,
        "edge": rounded(edge, 4),
        "free": rounded(free, 0),
        "solved": rounded(harmonic(edge, free)),
    },
    "adaptation": rounded(srgb.chromatic_adaptation[0]),
    "registration": {
        "width": 150,
        "height": 128,
        "scene": rounded(scene, 4),
        "away": rounded(away, 4),
        "by": {"x": by[1], "y": by[0]},
    },
}
with open(sys.argv[1] if len(sys.argv) > 1 else os.path.join(HERE, "outside.json"), "w") as file:
    json.dump(out, file)
