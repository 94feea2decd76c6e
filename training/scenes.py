"""Sharp patches of the photographs that fetch.py keeps."""
import numpy as np

# Looked at for the log alone.
HELD_OUT = ("lomiri-wallpapers-16.04/Dragonfly", "plasma-workspace-wallpapers/FallenLeaf")
EXPOSURE = (-2.0, 0.5)


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

    def patch(self, random, side):
        """3 × side × side: turned, mirrored, exposed and its channels ordered at random; plain ones mostly passed over."""
        for _ in range(4):
            scene = self.scenes[random.choice(len(self.scenes), p=self.shares)]
            y = random.integers(scene.shape[0] - side + 1)
            x = random.integers(scene.shape[1] - side + 1)
            codes = scene[y : y + side, x : x + side]
            if codes[..., 1].std() > 0.03 * 65535 or random.random() < 0.1:
                break
        patch = np.rot90(linear(codes), random.integers(4))
        if random.random() < 0.5:
            patch = patch[:, ::-1]
        patch = patch[..., random.permutation(3)] * 2 ** random.uniform(*EXPOSURE)
        return np.minimum(1, patch).transpose(2, 0, 1)
