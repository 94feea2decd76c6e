"""The correction after a recovery, without biases: it scales with exposure (Mohan, Kadkhodaie, Simoncelli,
Fernandez-Granda, ICLR 2020).

It sees the answer under the present prior, the answer with that prior nearly let go, what the recovery was given and how
strong its noise is, all as roots of light, and says what to add to the first (a regularised inversion first, learned cleaning
after: Schuler, Burger, Harmeling, Schölkopf, CVPR 2013). Works on pixel-unshuffled samples (FFDNet: Zhang, Zuo, Zhang,
IEEE TIP 27, 2018).
"""
import torch
from torch import nn
from torch.nn import functional as F

FOLD = 2
# What tells the answers apart is small beside them; and so is what is to be added.
MORE = 4.0
LESS = 0.1


def root(linear):
    return torch.sqrt(linear.clamp(min=0) + 1e-6)


class Corrector(nn.Module):
    def __init__(self, channels, layers=8):
        super().__init__()
        widths = [11 * FOLD * FOLD] + [channels] * (layers - 1) + [3 * FOLD * FOLD]
        self.convolutions = nn.ModuleList(
            nn.Conv2d(before, after, 3, padding=1, bias=False, padding_mode="replicate")
            for before, after in zip(widths, widths[1:])
        )
        for convolution in self.convolutions:
            nn.init.kaiming_normal_(convolution.weight, a=0.1, nonlinearity="leaky_relu")
        # It starts as "nothing to add".
        with torch.no_grad():
            self.convolutions[-1].weight.mul_(0.02)
            for convolution in self.convolutions[2:-1:2]:
                convolution.weight.mul_(0.3)

    def forward(self, present, weak, given, line, hidden):
        """N×3×H×W linear light, sides even; line: N×2, the noise's variance a·x + b; hidden: N, 1
        where JPEG or a mosaic took the finest noise away.

        Returns the root of what is right.
        """
        own = root(present)
        light = present.mean(1, keepdim=True).clamp(min=0)
        sigma = torch.sqrt(line[:, 0].reshape(-1, 1, 1, 1) * light + line[:, 1].reshape(-1, 1, 1, 1))
        noise = sigma / root(light + sigma)
        hides = hidden.reshape(-1, 1, 1, 1) * root(light)
        inputs = [own, MORE * (root(weak) - own), MORE * (root(given) - own), MORE * noise, hides]
        x = F.leaky_relu(self.convolutions[0](F.pixel_unshuffle(torch.cat(inputs, 1), FOLD)), 0.1)
        inner = self.convolutions[1:-1]
        for first, second in zip(inner[::2], inner[1::2]):
            x = x + second(F.leaky_relu(first(x), 0.1))
        return own + LESS * F.pixel_shuffle(self.convolutions[-1](x), FOLD)
