import type { Region } from '../picture/region';

/** Where planes lie: what they cover, px of the frame, and how many samples they have per px of it. */
export interface Extent {
  readonly region: Region;
  readonly scale: number;
}
