import type { Plane } from './plane';

/** Sample by sample, p − q. */
export function minus(p: Plane, q: Plane): Plane {
  const data = new Float32Array(p.data.length);
  for (let i = 0; i < data.length; i++) data[i] = p.data[i] - q.data[i];
  return { ...p, data };
}

/** Sample by sample, p · q. */
export function product(p: Plane, q: Plane): Plane {
  const data = new Float32Array(p.data.length);
  for (let i = 0; i < data.length; i++) data[i] = p.data[i] * q.data[i];
  return { ...p, data };
}
