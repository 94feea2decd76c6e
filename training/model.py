"""A small denoiser without biases: it scales with exposure (Mohan, Kadkhodaie, Simoncelli, Fernandez-Granda, 2020).

Works on pixel-unshuffled samples with a map of the noise beside them (FFDNet: Zhang, Zuo, Zhang, IEEE TIP 27, 2018).
"""
import torch
from torch import nn
from torch.nn import functional as F


class Denoiser(nn.Module):
    def __init__(self, channels=40, layers=7, fold=2):
        super().__init__()
        self.fold = fold
        folded = 3 * fold * fold
        widths = [folded + 1] + [channels] * (layers - 1) + [folded]
        self.convolutions = nn.ModuleList(
            nn.Conv2d(before, after, 3, padding=1, bias=False, padding_mode="replicate")
            for before, after in zip(widths, widths[1:])
        )
        for convolution in self.convolutions:
            nn.init.kaiming_normal_(convolution.weight, a=0.1, nonlinearity="leaky_relu")
        # It starts as "nothing to remove".
        with torch.no_grad():
            self.convolutions[-1].weight.mul_(0.1)

    def forward(self, noisy, sigma):
        """noisy: N×3×H×W linear light, sides even; sigma: N×1×1×1, its standard deviation. Returns the same, clean."""
        folded = F.pixel_unshuffle(noisy, self.fold)
        level = sigma.expand(-1, 1, folded.shape[2], folded.shape[3])
        x = torch.cat([folded, level], 1)
        for convolution in self.convolutions[:-1]:
            x = F.leaky_relu(convolution(x), 0.1)
        return noisy - F.pixel_shuffle(self.convolutions[-1](x), self.fold)
