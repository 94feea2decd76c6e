"""Trains the network. Can be stopped at any time and started again: it goes on from the last checkpoint.

Usage: nice -n 19 /usr/bin/python3 training/subject/train.py FOLDER [STEPS] [THREADS]
Reads FOLDER/composites (make.py); subject.pt and subject.log go to FOLDER.
"""
import pathlib
import sys
import time

import numpy as np
import torch
from torch.nn import functional as F

from network import SubjectNetwork

BATCH = 8
RATE = 1.5e-3
# What is kept is the mean of the weights over some so many of the last steps.
KEPT_OVER = 800
HELD_OUT = 2
# A subject of fewer px of the small picture is none.
LEAST_PX = 60


def loss_of(said, truth):
    """Of subjects, and half as much of heads."""
    return part_loss(said[:, :1], truth[:, :1]) + 0.5 * part_loss(said[:, 1:], truth[:, 1:])


def part_loss(said, truth):
    """Cross entropy, and half of what intersection over union lacks of 1: so each picture counts alike."""
    p = torch.sigmoid(said)
    both = (p * truth).sum((1, 2, 3))
    either = (p + truth - p * truth).sum((1, 2, 3))
    lacking = torch.where(truth.sum((1, 2, 3)) > LEAST_PX, 1 - (both + 1) / (either + 1), torch.zeros_like(both))
    return F.binary_cross_entropy_with_logits(said, truth) + 0.5 * lacking.mean()


class Mean:
    """The mean of the last weights, which swings less than they do."""

    def __init__(self, model):
        self.state = {name: value.clone() for name, value in model.state_dict().items()}

    def take(self, model, at):
        share = 1 / min(KEPT_OVER, at + 1)
        for name, value in model.state_dict().items():
            self.state[name] += share * (value - self.state[name])


def parted(pieces):
    """Codes 0..1 and the coverage of subject and head, N×3×H×W and N×2×H×W."""
    x = torch.from_numpy(pieces.astype(np.float32) / 255).permute(0, 3, 1, 2)
    return x[:, :3], x[:, 3:]


def batch(random, pieces):
    """Mirrored, coloured, softened and with noise at random."""
    piece = pieces[random.integers(len(pieces))]
    rgb, coverage = parted(piece[np.sort(random.choice(len(piece), BATCH, False))])
    if random.random() < 0.5:
        rgb, coverage = rgb.flip(3), coverage.flip(3)
    if random.random() < 0.3:
        rgb = rgb[:, torch.from_numpy(random.permutation(3))]
    rgb = rgb * torch.from_numpy(np.exp(random.normal(0, 0.15, (BATCH, 3, 1, 1))).astype(np.float32))
    if random.random() < 0.2:
        rgb = F.avg_pool2d(F.pad(rgb, (1, 1, 1, 1), mode="replicate"), 3, 1)
    if random.random() < 0.3:
        rgb = rgb + random.uniform(0, 0.08) * torch.randn_like(rgb)
    return rgb.clamp(0, 1), (coverage > 0.5).float()


def overlap(model, pieces):
    """Mean intersection over union of subjects, of how many it is over 0.8, and of how many heads the likeliest sample
    is one."""
    found, hit = [], []
    with torch.no_grad():
        for piece in pieces:
            for at in range(0, 200, 20):
                rgb, coverage = parted(piece[at : at + 20])
                odds = model(rgb)
                said, truth = odds[:, 0] > 0, coverage[:, 0] > 0.5
                both, either = (part.sum((1, 2)).float() for part in (said & truth, said | truth))
                found += (both / either)[truth.sum((1, 2)) > LEAST_PX].tolist()
                for likely, head in zip(odds[:, 1], coverage[:, 1]):
                    if head.sum() > LEAST_PX:
                        hit.append(head.flatten()[likely.argmax()].item() > 0.5)
    return np.mean(found), np.mean(np.array(found) > 0.8), np.mean(hit)


def main(folder, steps=9000, threads=2):
    folder = pathlib.Path(folder)
    torch.set_num_threads(int(threads))
    torch.manual_seed(1)
    pieces = [np.load(file, mmap_mode="r") for file in sorted((folder / "composites").glob("*.npy"))]
    held, pieces = pieces[:HELD_OUT], pieces[HELD_OUT:]
    model = SubjectNetwork().to(memory_format=torch.channels_last)
    optimiser = torch.optim.Adam(model.parameters(), lr=RATE)
    at, spent = 0, 0.0
    checkpoint = folder / "subject.pt"
    if checkpoint.exists():
        state = torch.load(checkpoint)
        model.load_state_dict(state["model"])
        optimiser.load_state_dict(state["optimiser"])
        at, spent = state["step"], state["spent"]
    kept = Mean(model)
    if checkpoint.exists():
        kept.state = state["mean"]
    random = np.random.default_rng(50 + at)
    mean, started = None, time.process_time()
    while at < int(steps):
        for group in optimiser.param_groups:
            group["lr"] = RATE * min(1, (at + 1) / 300) * (0.5 + 0.5 * np.cos(np.pi * at / int(steps))) + 1e-6
        rgb, truth = batch(random, pieces)
        loss = loss_of(model(rgb.contiguous(memory_format=torch.channels_last)), truth)
        optimiser.zero_grad()
        loss.backward()
        torch.nn.utils.clip_grad_norm_(model.parameters(), 1.0)
        optimiser.step()
        kept.take(model, at)
        at += 1
        mean = loss.item() if mean is None else 0.98 * mean + 0.02 * loss.item()
        if at % 250 == 0:
            total = spent + time.process_time() - started
            averaged = SubjectNetwork()
            averaged.load_state_dict(kept.state)
            iou, good, heads = overlap(averaged, held)
            line = f"step {at}, loss {mean:.4f}, {total / 60:.1f} CPU min; "
            line += f"held out {iou:.3f}, {good:.0%} over 0.8, heads {heads:.0%}"
            print(line, flush=True)
            with open(checkpoint.with_suffix(".log"), "a") as log:
                log.write(line + "\n")
            state = {"model": model.state_dict(), "mean": kept.state, "optimiser": optimiser.state_dict()}
            state |= {"step": at, "spent": total}
            torch.save(state, checkpoint.with_suffix(".tmp"))
            checkpoint.with_suffix(".tmp").replace(checkpoint)


if __name__ == "__main__":
    main(*sys.argv[1:])
