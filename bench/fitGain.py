"""Fits the trees that expect a recovery's gain: usage fitGain.py [--beside OLD.ts] CANDIDATES.json... > NEW.ts

With --beside the trees that stand in a file of that kind keep half the say. Harm counts twice. Each file is what
`npm run bench -- candidates tune --json FILE` wrote. Gradient boosting (Friedman, Annals of Statistics 29, 2001), trees
of two questions, shrunk by RATE; needs numpy only.
"""
import json
import re
import sys

import numpy as np

TREES, RATE, LEAST_LEAF, MOST_GAIN = 150, 0.08, 8, 6.0
# So many times as much as a gain, and at most, dB.
HARM, MOST_HARM = 2, 8.0
# Where a tree's four answers stand.
LEAVES = (4, 5, 8, 9)


def best_split(signs, rest, thresholds, rows):
    best = None
    for sign, limits in enumerate(thresholds):
        values = signs[rows, sign]
        for limit in limits:
            left = values <= limit
            few = left.sum()
            if few < LEAST_LEAF or len(rows) - few < LEAST_LEAF:
                continue
            a, b = rest[rows][left].sum(), rest[rows][~left].sum()
            won = a * a / (few + 2) + b * b / (len(rows) - few + 2)
            if best is None or won > best[0]:
                best = (won, sign, limit, a / (few + 2), b / (len(rows) - few + 2))
    return best


def fit(signs, gains):
    thresholds = [np.unique(np.quantile(signs[:, j], np.linspace(0.05, 0.95, 19))) for j in range(signs.shape[1])]
    expected = np.full(len(gains), gains.mean())
    trees = []
    everything = np.arange(len(gains))
    for _ in range(TREES):
        rest = gains - expected
        top = best_split(signs, rest, thresholds, everything)
        tree = [top[1], top[2]]
        goes_left = signs[:, top[1]] <= top[2]
        for side, alone in ((goes_left, top[3]), (~goes_left, top[4])):
            rows = np.where(side)[0]
            own = best_split(signs, rest, thresholds, rows) if len(rows) > 20 else None
            sign, limit, low, high = own[1:] if own else (0, 0.0, alone, alone)
            tree += [sign, limit, RATE * low, RATE * high]
            expected[rows] += np.where(signs[rows, sign] <= limit, RATE * low, RATE * high)
        trees.append(tree)
    return gains.mean(), trees


def standing(name):
    text = open(name).read()
    mean = float(re.search(r"MEAN_GAIN = ([-0-9.]+)", text)[1])
    rows = re.findall(r"^  \[([-0-9., e]+)\],$", text, re.M)
    return mean, [[float(value) for value in row.split(",")] for row in rows]


def with_half_a_say(mean, trees):
    return mean / 2, [[value / 2 if at in LEAVES else value for at, value in enumerate(tree)] for tree in trees]


def main():
    names = sys.argv[1:]
    beside = names.pop(1) if names[0] == "--beside" else None
    candidates = [row for name in names if name != "--beside" for row in json.load(open(name))]
    signs = np.array([row["signs"] for row in candidates])
    gains = np.array([row["gain"] for row in candidates])
    gains = np.clip(np.where(gains > 0, gains, HARM * gains), -MOST_HARM, MOST_GAIN)
    mean, trees = fit(signs, gains)
    if beside:
        (mean, trees), (old_mean, old) = (with_half_a_say(*one) for one in ((mean, trees), standing(beside)))
        mean, trees = mean + old_mean, old + trees
    print("import type { GainTree } from './expectedGain';\n")
    print(
        f"/** Fitted by bench/fitGain.py on {len(candidates)} candidates of {len({row['name'] for row in candidates})} cases{' and, as before, on others: each has half a say' if beside else ''}. */"
    )
    print(f"export const MEAN_GAIN = {mean:.4f};\n")
    print("export const GAIN_TREES: readonly GainTree[] = [")
    for tree in trees:
        print("  [" + ", ".join(f"{value:.4g}" for value in tree) + "],")
    print("];")


main()
