"""The network that says where a subject is likely: a U of residual parts on samples folded 2 × 2 (after Ronneberger,
Fischer, Brox, "U-Net", MICCAI 2015), without biases but for a channel of ones. Run by core/src/mask/likelySubject.ts."""
import torch
from torch import nn
from torch.nn import functional as F


class Part(nn.Module):
    """First and last convolution, pairs that go around between them (core/src/learned/network.ts)."""

    def __init__(self, given, inner, pairs, out):
        super().__init__()
        widths = [given] + [inner] * (1 + 2 * pairs) + [out]
        self.convolutions = nn.ModuleList(
            nn.Conv2d(a, b, 3, padding=1, bias=False, padding_mode="replicate") for a, b in zip(widths, widths[1:])
        )
        for convolution in self.convolutions:
            nn.init.kaiming_normal_(convolution.weight, a=0.1, nonlinearity="leaky_relu")
        with torch.no_grad():
            for convolution in self.convolutions[2:-1:2]:
                convolution.weight.mul_(0.3)

    def forward(self, x):
        x = F.leaky_relu(self.convolutions[0](x), 0.1)
        inner = self.convolutions[1:-1]
        for first, second in zip(inner[::2], inner[1::2]):
            x = x + second(F.leaky_relu(first(x), 0.1))
        return self.convolutions[-1](x)


class SubjectNetwork(nn.Module):
    def __init__(self):
        super().__init__()
        self.down = nn.ModuleList(
            [Part(15, 16, 0, 16), Part(64, 24, 1, 24), Part(96, 32, 2, 32), Part(128, 48, 3, 128)]
        )
        self.up = nn.ModuleList([Part(64, 32, 1, 96), Part(48, 24, 1, 64), Part(32, 16, 0, 8)])

    def forward(self, rgb):
        """N×3×H×W codes 0..1, sides multiples of 16; returns N×2×H×W: ln of odds of subject and head."""
        mean = rgb.mean((1, 2, 3), keepdim=True)
        spread = rgb.std((1, 2, 3), keepdim=True) + 0.02
        n, _, h, w = rgb.shape
        y = torch.linspace(-1, 1, h // 2).reshape(1, 1, -1, 1).expand(n, 1, h // 2, w // 2)
        x = torch.linspace(-1, 1, w // 2).reshape(1, 1, 1, -1).expand(n, 1, h // 2, w // 2)
        given = torch.cat([F.pixel_unshuffle((rgb - mean) / spread, 2), y, x, torch.ones_like(x)], 1)
        a = self.down[0](given)
        b = self.down[1](F.pixel_unshuffle(F.leaky_relu(a, 0.1), 2))
        c = self.down[2](F.pixel_unshuffle(F.leaky_relu(b, 0.1), 2))
        d = self.down[3](F.pixel_unshuffle(F.leaky_relu(c, 0.1), 2))
        c = self.up[0](torch.cat([F.pixel_shuffle(d, 2), c], 1))
        b = self.up[1](torch.cat([F.pixel_shuffle(c, 2), b], 1))
        return F.pixel_shuffle(self.up[2](torch.cat([F.pixel_shuffle(b, 2), a], 1)), 2)
