"""The correction after a recovery, without biases: it scales with exposure (Mohan, Kadkhodaie, Simoncelli,
Fernandez-Granda, ICLR 2020).

It sees the answer under the present prior, the answer with that prior nearly let go, the photograph itself and how strong
its noise is, and says what to add to the first (a regularised inversion first, learned cleaning after: Schuler, Burger,
Harmeling, Schölkopf, CVPR 2013). Works on pixel-unshuffled samples (FFDNet: Zhang, Zuo, Zhang, IEEE TIP 27, 2018).
"""
import torch
from torch import nn
from torch.nn import functional as F

FOLD = 2


class Corrector(nn.Module):
    def __init__(self, channels=48, layers=8):
        super().__init__()
        widths = [9 * FOLD * FOLD + 1] + [channels] * (layers - 1) + [3 * FOLD * FOLD]
        self.convolutions = nn.ModuleList(
            nn.Conv2d(before, after, 3, padding=1, bias=False, padding_mode="replicate")
            for before, after in zip(widths, widths[1:])
        )
        for convolution in self.convolutions:
            nn.init.kaiming_normal_(convolution.weight, a=0.1, nonlinearity="leaky_relu")
        # It starts as "nothing to add".
        with torch.no_grad():
            self.convolutions[-1].weight.mul_(0.02)

    def forward(self, present, weak, degraded, sigma):
        """N×3×H×W linear light, sides even; sigma: N×1×1×1, the noise at mid-tone. Returns what `present` should be."""
        folded = F.pixel_unshuffle(torch.cat([present, weak - present, degraded - present], 1), FOLD)
        x = torch.cat([folded, sigma.expand(-1, 1, *folded.shape[2:])], 1)
        x = F.leaky_relu(self.convolutions[0](x), 0.1)
        inner = self.convolutions[1:-1]
        for first, second in zip(inner[::2], inner[1::2]):
            x = x + second(F.leaky_relu(first(x), 0.1))
        return present + F.pixel_shuffle(self.convolutions[-1](x), FOLD)
