"""scikit-image's cleaners and OpenCV's, each at the best parameter of a grid, which only somebody who knows the truth can choose.

Usage: noiseReference.py FOLDER WIDTH HEIGHT: reads FOLDER/noisy.f32 and FOLDER/truth.f32 (three planes, sRGB-encoded 0..1)
and prints a JSON object: for each method its best PSNR (dB, 32 px border left out) and the seconds of that call.
"""

import json
import sys
import time

import numpy as np
from skimage import restoration

try:
    import cv2
except ImportError:
    cv2 = None

BORDER = 32


def main(folder, width, height):
    shape = (3, int(height), int(width))
    noisy, truth = (
        np.moveaxis(np.fromfile(f"{folder}/{name}.f32", np.float32).reshape(shape), 0, -1)
        for name in ("noisy", "truth")
    )
    sigma = float(np.mean(restoration.estimate_sigma(noisy, channel_axis=-1)))

    def wavelet(factor, mode, ycbcr):
        return restoration.denoise_wavelet(
            noisy,
            sigma=None if factor is None else factor * sigma,
            method="BayesShrink",
            mode=mode,
            convert2ycbcr=ycbcr,
            channel_axis=-1,
            rescale_sigma=True,
        )

    def nl_means(factor, patch):
        return restoration.denoise_nl_means(
            noisy, patch_size=patch, patch_distance=6, h=factor * sigma, sigma=sigma, fast_mode=True, channel_axis=-1
        )

    grids = {
        "denoise_nl_means": [lambda f=f, p=p: nl_means(f, p) for f in (0.4, 0.6, 0.8, 1.0) for p in (5, 7)],
        "denoise_wavelet": [
            lambda f=f, m=m, y=y: wavelet(f, m, y)
            for f in (None, 0.8, 1.2)
            for m in ("soft", "hard")
            for y in (False, True)
        ],
        "denoise_tv_chambolle": [
            lambda w=w: restoration.denoise_tv_chambolle(noisy, weight=w * sigma, max_num_iter=200, channel_axis=-1)
            for w in (0.5, 0.8, 1.1, 1.4, 1.8, 2.3)
        ],
    }
    if cv2:
        codes = np.round(np.clip(noisy, 0, 1) * 255).astype(np.uint8)
        cv2.setNumThreads(1)
        grids["fastNlMeansDenoisingColored"] = [
            lambda h=h: cv2.fastNlMeansDenoisingColored(codes, None, h, h, 7, 21).astype(np.float32) / 255
            for h in (3, 6, 9, 13, 18, 25, 33)
        ]
    out = {}
    inner = np.s_[BORDER:-BORDER, BORDER:-BORDER]
    for name, calls in grids.items():
        best = (-1.0, 0.0)
        for call in calls:
            start = time.process_time()
            cleaned = np.clip(call(), 0, 1)
            seconds = time.process_time() - start
            best = max(best, (float(10 * np.log10(1 / np.mean((cleaned[inner] - truth[inner]) ** 2))), seconds))
        out[name] = {"psnr": best[0], "seconds": best[1]}
    print(json.dumps(out))


main(*sys.argv[1:])
