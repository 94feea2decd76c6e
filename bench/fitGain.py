"""Fits the trees that expect a recovery's gain: usage fitGain.py CANDIDATES.json... > core/src/read/gainTrees.ts

Each file is what `npm run bench -- candidates tune --json FILE` wrote. Gradient boosting (Friedman, Annals of Statistics
29, 2001), trees of two questions, shrunk by RATE; needs numpy only.
"""
import json
import sys

import numpy as np

TREES, RATE, LEAST_LEAF, MOST_GAIN = 150, 0.08, 8, 6.0


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


def main():
    candidates = [row for name in sys.argv[1:] for row in json.load(open(name))]
    signs = np.array([row["signs"] for row in candidates])
    gains = np.clip([row["gain"] for row in candidates], -MOST_GAIN, MOST_GAIN)
    mean, trees = fit(signs, gains)
    print("import type { GainTree } from './expectedGain';\n")
    print(f"/** Fitted by bench/fitGain.py on {len(candidates)} candidates of {len({row['name'] for row in candidates})} cases. */")
    print(f"export const MEAN_GAIN = {mean:.4f};\n")
    print("export const GAIN_TREES: readonly GainTree[] = [")
    for tree in trees:
        print("  [" + ", ".join(f"{value:.4g}" for value in tree) + "],")
    print("];")


main()
