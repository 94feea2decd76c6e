"""Makes golden/skimage.json with Debian's python3-skimage (0.19.3) and numpy. Run: /usr/bin/python3 core/golden/make.py [FILE]

Holds a small seeded picture that is not square, an asymmetric PSF, its blurred version, and what the reference
library makes of it; also numpy's FFT of a picture whose sides are products of 2, 3 and 5, scipy's Gaussian filter, and
a block cleaned in scipy's DCT.
"""
import json
import os
import sys

import numpy as np
from scipy.fft import dctn, idctn
from scipy.ndimage import gaussian_filter
from scipy.signal import fftconvolve
from skimage.restoration import denoise_tv_chambolle, estimate_sigma, richardson_lucy, unsupervised_wiener, wiener

rng = np.random.default_rng(41)
height, width = 60, 80
truth = gaussian_filter(rng.random((height, width)), 1.5)
truth = (truth - truth.min()) / (truth.max() - truth.min()) * 0.7 + 0.1
truth[20:40, 30:34] = 0.9
psf = np.zeros((7, 9))
psf[1, 2] = 0.1
psf[2, 3:6] = [0.15, 0.2, 0.1]
psf[3, 5:8] = [0.15, 0.15, 0.05]
psf[5, 7] = 0.1
psf /= psf.sum()
blurred = fftconvolve(np.pad(truth, 12, mode="wrap"), psf, mode="same")[12:-12, 12:-12]
noisy = blurred + rng.normal(0, 0.002, blurred.shape)
spectrum = np.fft.fft2(truth)
white = np.full((128, 128), 0.4) + rng.normal(0, 0.02, (128, 128))


def psnr(a):
    inner = np.s_[10:-10, 10:-10]
    return float(10 * np.log10(1 / np.mean((a[inner] - truth[inner]) ** 2)))


block = truth[16:24, 28:36]
coefficients = dctn(block, norm="ortho")
small = np.abs(coefficients) < 0.15
small[0, 0] = False

out = {
    "width": width,
    "height": height,
    "truth": np.round(truth, 6).ravel().tolist(),
    "psf": {"width": 9, "height": 7, "values": psf.ravel().tolist()},
    "blurred": np.round(blurred, 6).ravel().tolist(),
    "noisy": np.round(noisy, 6).ravel().tolist(),
    "fft": {
        "re": np.round(spectrum.real, 4).ravel().tolist(),
        "im": np.round(spectrum.imag, 4).ravel().tolist(),
    },
    "white": {
        "side": 128,
        "values": np.round(white, 6).ravel().tolist(),
        "estimateSigma": float(estimate_sigma(white)),
    },
    "gaussian": {
        "sigma": 1.3,
        "values": np.round(gaussian_filter(truth, 1.3, truncate=3, mode="nearest"), 6).ravel().tolist(),
    },
    "block": {
        "values": np.round(block, 6).ravel().tolist(),
        "threshold": 0.15,
        "kept": int((~small).sum()),
        "cleaned": np.round(idctn(np.where(small, 0, coefficients), norm="ortho"), 6).ravel().tolist(),
    },
    "psnr": {
        "input": psnr(noisy),
        "wiener": max(psnr(wiener(noisy, psf, 10.0**-k)) for k in range(1, 6)),
        "unsupervisedWiener": psnr(unsupervised_wiener(noisy, psf, random_state=41)[0]),
        "richardsonLucy": max(psnr(richardson_lucy(noisy, psf, num_iter=n)) for n in (10, 20, 40, 80)),
    },
}
with open(sys.argv[1] if len(sys.argv) > 1 else os.path.join(os.path.dirname(__file__), "skimage.json"), "w") as file:
    json.dump(out, file)
print(out["psnr"], out["white"]["estimateSigma"])
