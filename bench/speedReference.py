"""The references' side of the speed bench: runs the work named on each line of standard input once and answers with
the CPU seconds it took. The pictures are seeded; both sides work on pictures of the same kind and size."""

import sys
import time

import cv2
import numpy as np
import scipy.fft
from skimage import restoration

random = np.random.default_rng(7)


def picture(side, channels=None):
    shape = (side, side) if channels is None else (side, side, channels)
    return random.random(shape, np.float32) * 0.5 + 0.2


PSF = np.ones((15, 15), np.float32) / 225
PLANES = {side: picture(side) for side in (512, 1024, 2048)}
COLOUR = picture(1024, 3)
BYTES = np.round(255 * COLOUR).astype(np.uint8)
cv2.setNumThreads(1)


def fft_pair(side):
    scipy.fft.irfft2(scipy.fft.rfft2(PLANES[side], workers=1), s=(side, side), workers=1)


def richardson_lucy(plane):
    restoration.richardson_lucy(plane, PSF, num_iter=20, clip=False)


WORK = {
    "fft 512, twice": lambda: [fft_pair(512) for _ in range(2)],
    "fft 1024, twice": lambda: [fft_pair(1024) for _ in range(2)],
    "fft 2048, twice": lambda: [fft_pair(2048) for _ in range(2)],
    "richardson_lucy 1024": lambda: richardson_lucy(PLANES[1024]),
    "richardson_lucy 1024 colour": lambda: [richardson_lucy(COLOUR[..., c]) for c in range(3)],
    "fastNlMeansDenoisingColored 1024": lambda: cv2.fastNlMeansDenoisingColored(BYTES, None, 10, 10, 7, 21),
}

for line in sys.stdin:
    name = line.strip()
    before = time.process_time()
    WORK[name]()
    print(time.process_time() - before, flush=True)
