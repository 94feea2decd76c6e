import type { Filters, Plane } from '@vitrocept/core';
import type { KernelExports } from './exports';
import type { KernelMemory } from './memory';

/** Room for the samples that a kernel takes four at a time lies in what `take` rounds up to. */
export function createArithmetic(
  kernel: KernelExports,
  memory: KernelMemory,
): Pick<
  Filters,
  'lit' | 'mixes' | 'blendOver' | 'varianceByTone' | 'squaredRatio' | 'rooted' | 'lookedUp' | 'logLight'
> {
  const placed = (planes: readonly Plane[]) => planes.map(({ data }) => memory.place(data));
  const planeAt = (at: number, { width, height, data }: Plane): Plane => ({
    width,
    height,
    data: memory.floats(at, data.length).slice(),
  });
  return {
    lit(planes, light) {
      memory.reset();
      const [by, ...at] = placed([light, ...planes]);
      for (const p of at) kernel.lit(p, by, 4 * light.data.length);
      return at.map((p) => planeAt(p, light));
    },
    mixes(planes, rows) {
      memory.reset();
      const weights = memory.place([...rows.flat(), ...Array<number>(9 - 3 * rows.length).fill(0)]);
      const [p, q, r] = placed(planes);
      kernel.mixes(p, q, r, 4 * planes[0].data.length, weights, rows.length);
      return rows.map((_, i) => planeAt([p, q, r][i], planes[0]));
    },
    blendOver(shown, own, answer, weight, share) {
      memory.reset();
      const [at, base, over, alpha] = placed([shown, own, answer, weight]);
      kernel.blendOver(at, base, over, alpha, 4 * shown.data.length, share);
      return planeAt(at, shown);
    },
    varianceByTone(channels, { base, linear, rooted }, found, most) {
      memory.reset();
      const { length } = found.data;
      const [values, ...tones] = placed([found, ...channels]);
      const sum = memory.take(4 * length);
      memory.floats(sum, length).fill(base);
      tones.forEach((tone, c) => kernel.addByTone(tone, 4 * length, linear[c], rooted[c], sum));
      kernel.holdAbove(values, sum, 4 * length, most);
      return planeAt(values, found);
    },
    squaredRatio(p, q, v, w, share) {
      memory.reset();
      const [at, variance, more] = placed([p, v, w]);
      const less = q ? memory.place(q.data) : memory.take(4 * p.data.length);
      if (!q) memory.floats(less, p.data.length).fill(0);
      kernel.squaredRatio(at, less, variance, more, 4 * p.data.length, share);
      return planeAt(at, p);
    },
    rooted(plane, slope, base, scale) {
      memory.reset();
      const at = memory.place(plane.data);
      kernel.rooted(at, 4 * plane.data.length, slope, base, scale);
      return planeAt(at, plane);
    },
    logLight(plane) {
      memory.reset();
      const at = memory.place(plane.data);
      kernel.logLight(at, 4 * plane.data.length);
      return planeAt(at, plane);
    },
    lookedUp(plane, { low, perUnit, values }) {
      memory.reset();
      const [table, at] = [memory.place(values), memory.place(plane.data)];
      kernel.lookedUp(at, 4 * plane.data.length, low, perUnit, table, values.length - 1);
      return planeAt(at, plane);
    },
  };
}
