"""Trains the correction. Can be stopped at any time and started again: it goes on from the last checkpoint.

Usage: nice -n 19 /usr/bin/python3 training/train.py FOLDER [STEPS] [CHANNELS] [THREADS]
FOLDER/pairs holds patches (pairs.py) solved by `npm run bench -- solve`; corrector-CHANNELS.pt and .log go to FOLDER.
"""
import json
import pathlib
import sys
import time

import numpy as np
import torch

sys.path.insert(0, str(pathlib.Path(__file__).parent))
from corrector import Corrector, root

BATCH = 16
SIDE = 64
RATE = 6e-4
# Of a patch, at each side, where the blur brought in what nobody saw.
RIM_PX = 16
# Looked at for the log alone.
HELD_OUT = 64
KINDS = ("present", "weak", "seen", "truth")


def srgb(linear):
    """IEC 61966-2-1."""
    clipped = linear.clamp(0.0031308, 1)
    return torch.where(linear <= 0.0031308, 12.92 * linear.clamp(min=0), 1.055 * clipped ** (1 / 2.4) - 0.055)


def noise_line(lines, guard):
    """Variance a·x + b, the channels' mean, as strong as the noise guard takes it to be."""
    taken = 2 ** ((guard - 50) / 10)
    return [taken * max(0, np.mean([line[key] for line in lines])) for key in ("a", "b")]


class Pairs:
    def __init__(self, folder):
        index = json.loads((folder / "index.json").read_text())
        side = index[0]["width"]
        self.planes = np.empty((len(index), len(KINDS), 3, side, side), np.float32)
        for at, pair in enumerate(index):
            for k, kind in enumerate(KINDS):
                self.planes[at, k] = np.fromfile(folder / f"{pair['name']}.{kind}", "<f4").reshape(3, side, side)
        solved = [json.loads((folder / f"{pair['name']}.noise.json").read_text()) for pair in index]
        self.lines = np.array([noise_line(one["noise"], one["guard"]) for one in solved], np.float32)
        self.hidden = np.array([one["hidesNoise"] for one in solved], np.float32)
        self.side = side

    def batch(self, random):
        """Turned and mirrored all alike is not needed: the blurs point everywhere already."""
        which = random.integers(HELD_OUT, len(self.planes), BATCH)
        low, high = RIM_PX // 2, (self.side - RIM_PX - SIDE) // 2
        corners = 2 * random.integers(low, high + 1, (BATCH, 2))
        cut = np.stack([self.planes[i, :, :, y : y + SIDE, x : x + SIDE] for i, (y, x) in zip(which, corners)])
        cut = cut[:, :, random.permutation(3)].copy()
        # Exposure: all of it is linear, so a brighter patch is another patch.
        gain = np.exp(random.uniform(-0.7, 0.4, (BATCH, 1, 1, 1))).astype(np.float32)
        parts = [torch.from_numpy(gain * cut[:, k]) for k in range(len(KINDS))]
        gains = np.concatenate([gain, gain * gain], 1).reshape(BATCH, 2)
        return (*parts, torch.from_numpy(gains * self.lines[which]), torch.from_numpy(self.hidden[which]))


def errors_of(corrected, truth):
    """Root mean square error of each patch, as roots of light."""
    return torch.sqrt(((corrected - root(truth)) ** 2).mean((1, 2, 3)) + 1e-8)


def held_out_gain(model, pairs):
    """Mean PSNR (dB, sRGB) gained over the present prior, and of how many patches it grows."""
    gains = []
    with torch.no_grad():
        for at in range(HELD_OUT):
            present, weak, given, truth = (torch.from_numpy(pairs.planes[at, k])[None] for k in range(len(KINDS)))
            told = [torch.from_numpy(values[at : at + 1]) for values in (pairs.lines, pairs.hidden)]
            inner = (..., slice(RIM_PX, -RIM_PX), slice(RIM_PX, -RIM_PX))
            before = ((srgb(present)[inner] - srgb(truth)[inner]) ** 2).mean().item()
            after = (
                ((srgb(model(present, weak, given, *told).clamp(min=0) ** 2)[inner] - srgb(truth)[inner]) ** 2)
                .mean()
                .item()
            )
            gains.append(10 * np.log10(before / after))
    return np.mean(gains), np.mean(np.array(gains) > 0)


def main(folder, steps=12000, channels=32, threads=2):
    folder = pathlib.Path(folder)
    torch.set_num_threads(threads)
    torch.manual_seed(1)
    pairs = Pairs(folder / "pairs")
    model = Corrector(channels)
    optimiser = torch.optim.Adam(model.parameters(), lr=RATE)
    at, spent = 0, 0.0
    checkpoint = folder / f"corrector-{channels}.pt"
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
        present, weak, given, truth, *told = pairs.batch(random)
        before = errors_of(root(present), truth)
        # Of the present prior's error, so that patches count alike.
        loss = (errors_of(model(present, weak, given, *told), truth) / (before + 0.003)).mean()
        optimiser.zero_grad()
        loss.backward()
        torch.nn.utils.clip_grad_norm_(model.parameters(), 1.0)
        optimiser.step()
        at += 1
        mean = loss.item() if mean is None else 0.99 * mean + 0.01 * loss.item()
        if at % 250 == 0:
            total = spent + time.process_time() - started
            gain, better = held_out_gain(model, pairs)
            line = f"step {at}, loss {mean:.4f}, {total / 60:.1f} CPU min; held out {gain:+.2f} dB, {better:.0%} better"
            print(line, flush=True)
            with open(checkpoint.with_suffix(".log"), "a") as log:
                log.write(line + "\n")
            state = {"model": model.state_dict(), "optimiser": optimiser.state_dict(), "step": at, "spent": total}
            torch.save({"channels": channels, **state}, checkpoint.with_suffix(".tmp"))
            checkpoint.with_suffix(".tmp").replace(checkpoint)


if __name__ == "__main__":
    main(sys.argv[1], *(int(value) for value in sys.argv[2:]))
