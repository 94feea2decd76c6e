import { createComplex, type ComplexPlane } from '../fourier/fft2d';
import { fastLength } from '../fourier/lanes';
import type { Kernels } from '../kernels';
import { createPlane, type Plane } from '../picture/plane';
import { reachOf, type Psf } from '../psf/psf';
import { psfAtOrigin } from '../psf/transfer';

/** A blur and where it holds, 0..1 per sample; null: everywhere. The shares of all of them sum to 1. */
export interface BlurPart {
  readonly psf: Psf;
  readonly share: Plane | null;
}

/** Photographs planes of one size again, through a blur that may change over them. Wraps around at the border. */
export class BlurOver {
  private readonly transfers: readonly ComplexPlane[];
  private readonly squares: readonly ComplexPlane[];
  readonly reach: number;

  constructor(
    private readonly parts: readonly BlurPart[],
    private readonly width: number,
    private readonly height: number,
    private readonly kernels: Kernels,
  ) {
    const [w, h] = [fastLength(width), fastLength(height)];
    const transfer = (psf: Psf) => {
      const plane = { width: w, height: h, re: psfAtOrigin(psf, w, h), im: new Float32Array(w * h) };
      kernels.fft2d(plane);
      return plane;
    };
    this.transfers = parts.map(({ psf }) => transfer(psf));
    this.squares = parts.map(({ psf }) => transfer(squared(psf)));
    this.reach = Math.ceil(Math.max(...parts.map(({ psf }) => reachOf(psf))));
  }

  /** k ⊗ each of two planes. */
  blur(first: Plane, second: Plane | null = null): [Plane, Plane] {
    return this.through(first, second, this.transfers, 1);
  }

  /** k ⋆ plane: what of it has the shape of the blur. */
  correlate(plane: Plane): Plane {
    return this.through(plane, null, this.transfers, -1)[0];
  }

  /** k² ⋆ each of two planes of variances: the variance of what `correlate` gives for noise of that variance. */
  correlatedVariances(first: Plane, second: Plane): [Plane, Plane] {
    return this.through(first, second, this.squares, -1);
  }

  /** Σk² per sample. */
  energy(): Plane {
    const out = createPlane(this.width, this.height);
    for (const { psf, share } of this.parts) {
      const sum = psf.data.reduce((total, value) => total + value * value, 0);
      for (let i = 0; i < out.data.length; i++) out.data[i] += share ? share.data[i] * sum : sum;
    }
    return out;
  }

  private through(
    first: Plane,
    second: Plane | null,
    transfers: readonly ComplexPlane[],
    sign: 1 | -1,
  ): [Plane, Plane] {
    const spectrum = this.spectrumOf(first, second);
    const out: [Plane, Plane] = [createPlane(this.width, this.height), createPlane(this.width, this.height)];
    transfers.forEach((otf, part) => {
      const product = createComplex(otf.width, otf.height);
      const { re, im } = product;
      const { re: a, im: b } = spectrum;
      const { re: c, im: d } = otf;
      for (let i = 0; i < re.length; i++) {
        re[i] = a[i] * c[i] - sign * b[i] * d[i];
        im[i] = sign * a[i] * d[i] + b[i] * c[i];
      }
      this.kernels.inverseFft2d(product);
      const share = this.parts[part].share?.data;
      const [first, second] = [out[0].data, out[1].data];
      if (!share) {
        for (let y = 0; y < this.height; y++) {
          const from = y * otf.width;
          first.set(re.subarray(from, from + this.width), y * this.width);
          second.set(im.subarray(from, from + this.width), y * this.width);
        }
        return;
      }
      for (let y = 0, i = 0; y < this.height; y++) {
        for (let x = 0, from = y * otf.width; x < this.width; x++, i++, from++) {
          const weight = share[i];
          first[i] += weight * re[from];
          second[i] += weight * im[from];
        }
      }
    });
    return out;
  }

  private spectrumOf(first: Plane, second: Plane | null): ComplexPlane {
    const plane = createComplex(fastLength(this.width), fastLength(this.height));
    for (let y = 0; y < this.height; y++) {
      const row = y * this.width;
      plane.re.set(first.data.subarray(row, row + this.width), y * plane.width);
      if (second) plane.im.set(second.data.subarray(row, row + this.width), y * plane.width);
    }
    this.kernels.fft2d(plane);
    return plane;
  }
}

function squared(psf: Psf): Psf {
  return { ...psf, data: psf.data.map((value) => value * value) };
}
