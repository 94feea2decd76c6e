"""Trains the denoiser. Can be stopped at any time and started again: it goes on from the last checkpoint.

Usage: nice -n 19 /usr/bin/python3 training/train.py FOLDER [STEPS] [THREADS]
FOLDER holds scenes.npz (fetch.py); checkpoint.pt and log.txt go there.
"""
import pathlib
import sys
import time

import numpy as np
import torch

sys.path.insert(0, str(pathlib.Path(__file__).parent))
from model import Denoiser

BATCH = 16
SIDE = 64
RATE = 1e-3
SIGMA = (0.0007, 0.12)
EXPOSURE = (-2.0, 0.5)
# Looked at for the log alone.
HELD_OUT = ("lomiri-wallpapers-16.04/Dragonfly", "plasma-workspace-wallpapers/FallenLeaf")


def linear(codes):
    return (codes.astype(np.float32) / 65535) ** 2


class Scenes:
    def __init__(self, file):
        stored = np.load(file)
        names = [name for name in stored.files if name not in HELD_OUT]
        self.scenes = [stored[name] for name in names]
        areas = np.array([scene.shape[0] * scene.shape[1] for scene in self.scenes], dtype=np.float64)
        self.shares = areas / areas.sum()
        self.held_out = [linear(stored[name]) for name in HELD_OUT]

    def patch(self, random):
        """A sharp patch: turned, mirrored, exposed and its channels ordered at random. Plain ones are mostly passed over."""
        for _ in range(4):
            scene = self.scenes[random.choice(len(self.scenes), p=self.shares)]
            y = random.integers(scene.shape[0] - SIDE + 1)
            x = random.integers(scene.shape[1] - SIDE + 1)
            codes = scene[y : y + SIDE, x : x + SIDE]
            if codes[..., 1].std() > 0.03 * 65535 or random.random() < 0.1:
                break
        patch = np.rot90(linear(codes), random.integers(4))
        if random.random() < 0.5:
            patch = patch[:, ::-1]
        patch = patch[..., random.permutation(3)] * 2 ** random.uniform(*EXPOSURE)
        return np.minimum(1, patch).transpose(2, 0, 1)


def batch_of(scenes, random):
    clean = torch.from_numpy(np.stack([scenes.patch(random) for _ in range(BATCH)]).copy())
    low, high = np.log(SIGMA)
    sigma = torch.from_numpy(np.exp(random.uniform(low, high, (BATCH, 1, 1, 1))).astype(np.float32))
    noise = torch.from_numpy(random.standard_normal(clean.shape).astype(np.float32))
    return clean, clean + sigma * noise, sigma


def loss_of(cleaned, clean, sigma):
    """Absolute error as square roots of light show it, weak and strong noise counting alike."""
    weight = 1 / torch.sqrt(clean + sigma + 0.004)
    return (weight * (cleaned - clean).abs() / sigma**0.7).mean()


def gains(model, scenes):
    """PSNR gained (dB, linear light) at three strengths of noise over the held-out scenes."""
    texts = []
    random = np.random.default_rng(1)
    with torch.no_grad():
        for sigma in (0.003, 0.015, 0.06):
            before = after = 0
            for scene in scenes.held_out:
                clean = torch.from_numpy(scene[200:456, 300:556].transpose(2, 0, 1)[None].copy())
                noisy = clean + sigma * torch.from_numpy(random.standard_normal(clean.shape).astype(np.float32))
                cleaned = model(noisy, torch.full((1, 1, 1, 1), sigma))
                before += ((noisy - clean) ** 2).mean().item()
                after += ((cleaned - clean) ** 2).mean().item()
            texts.append(f"σ {sigma}: {10 * np.log10(before / after):+.2f} dB")
    return ", ".join(texts)


def main(folder, steps=60000, threads=2):
    folder = pathlib.Path(folder)
    torch.set_num_threads(threads)
    torch.manual_seed(1)
    scenes = Scenes(folder / "scenes.npz")
    model = Denoiser()
    optimiser = torch.optim.Adam(model.parameters(), lr=RATE)
    at, spent = 0, 0.0
    checkpoint = folder / "checkpoint.pt"
    if checkpoint.exists():
        state = torch.load(checkpoint)
        model.load_state_dict(state["model"])
        optimiser.load_state_dict(state["optimiser"])
        at, spent = state["step"], state["spent"]
    random = np.random.default_rng(1000 + at)
    mean, started = None, time.process_time()
    while at < steps:
        share = at / steps
        for group in optimiser.param_groups:
            group["lr"] = RATE * min(1, (at + 1) / 200) * (0.5 + 0.5 * np.cos(np.pi * share)) + 1e-6
        clean, noisy, sigma = batch_of(scenes, random)
        loss = loss_of(model(noisy, sigma), clean, sigma)
        optimiser.zero_grad()
        loss.backward()
        torch.nn.utils.clip_grad_norm_(model.parameters(), 1.0)
        optimiser.step()
        at += 1
        mean = loss.item() if mean is None else 0.99 * mean + 0.01 * loss.item()
        if at % 500 == 0:
            total = spent + time.process_time() - started
            line = f"step {at}, loss {mean:.4f}, {total / 60:.1f} CPU min; {gains(model, scenes)}"
            print(line, flush=True)
            with open(folder / "log.txt", "a") as log:
                log.write(line + "\n")
            state = {"model": model.state_dict(), "optimiser": optimiser.state_dict(), "step": at, "spent": total}
            torch.save(state, folder / "checkpoint.tmp")
            (folder / "checkpoint.tmp").replace(checkpoint)


main(sys.argv[1], *(int(value) for value in sys.argv[2:]))
