import type { Kernels } from '../kernels';
import { createPlane, type Plane } from '../picture/plane';
import { reachOf, type Psf } from '../psf/psf';

/** A blur and where it holds, 0..1 per sample; null: everywhere. The shares of all of them sum to 1. */
export interface BlurPart {
  readonly psf: Psf;
  readonly share: Plane | null;
}

/** Photographs planes of one size again, through a blur that may change over them. Wraps around at the border. */
export class BlurOver {
  readonly reach: number;

  constructor(
    private readonly parts: readonly BlurPart[],
    private readonly kernels: Kernels,
  ) {
    this.reach = Math.ceil(Math.max(...parts.map(({ psf }) => reachOf(psf))));
  }

  /** k ⊗ each plane. */
  blur(planes: readonly Plane[]): Plane[] {
    return this.through(planes, (psf) => psf, false);
  }

  /** k ⋆ plane: what of it has the shape of the blur. */
  correlate(plane: Plane): Plane {
    return this.through([plane], (psf) => psf, true)[0];
  }

  /** k² ⋆ each plane of variances: the variance of what `correlate` gives for noise of that variance. */
  correlatedVariances(planes: readonly Plane[]): Plane[] {
    return this.through(planes, squared, true);
  }

  /** Σk² per sample. */
  energy({ width, height }: Plane): Plane {
    const out = createPlane(width, height);
    for (const { psf, share } of this.parts) {
      const sum = psf.data.reduce((total, value) => total + value * value, 0);
      const [sums, weights] = [out.data, share?.data];
      if (!weights) for (let i = 0; i < sums.length; i++) sums[i] += sum;
      else for (let i = 0; i < sums.length; i++) sums[i] += weights[i] * sum;
    }
    return out;
  }

  private through(planes: readonly Plane[], shaped: (psf: Psf) => Psf, correlates: boolean): Plane[] {
    const answers = this.parts.map(({ psf }) => this.kernels.convolve(planes, shaped(psf), correlates));
    if (this.parts.length === 1 && !this.parts[0].share) return answers[0];
    return planes.map(({ width, height }, k) => {
      const out = createPlane(width, height);
      this.parts.forEach(({ share }, part) => {
        const [sums, values, weights] = [out.data, answers[part][k].data, share?.data];
        if (!weights) for (let i = 0; i < sums.length; i++) sums[i] += values[i];
        else for (let i = 0; i < sums.length; i++) sums[i] += weights[i] * values[i];
      });
      return out;
    });
  }
}

function squared(psf: Psf): Psf {
  return { ...psf, data: psf.data.map((value) => value * value) };
}
