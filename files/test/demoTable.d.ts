import { type AcceptedReading, type CodePiece, type Plane, type Prescription, type Region } from '@vitrocept/core';
import { type DecodedPicture } from '../src';
/**
 * Demo frames with their truths and masks: everything Automatic, amount 100. PSNR on sRGB-encoded luma (BT.709
 * weights).
 */
export declare const DEMO: string;
export interface DemoFrame {
  readonly file: string;
  readonly truth: string;
  readonly mask: string;
  readonly eye: readonly [number, number];
}
export declare const DEMO_FRAMES: readonly DemoFrame[];
export declare const numberOf: ({ file }: DemoFrame) => string;
export declare function opened({ file, truth, mask }: DemoFrame): Promise<{
  picture: DecodedPicture;
  truth: DecodedPicture;
  mask: Plane;
}>;
/** What is read of a frame over its mask, accepted as it is. */
export declare function readDemo(picture: DecodedPicture, mask: Plane): Promise<AcceptedReading>;
/** Everything Automatic, amount 100; null where nothing is to be recovered. */
export declare function planOf(reading: AcceptedReading): Prescription | null;
/** The codes of a whole frame, recovered in the tiles that `area` touches. */
export declare function recoveredOver(
  picture: DecodedPicture,
  plan: Prescription,
  mask: Plane,
  area: Region,
): Promise<CodePiece>;
export declare const eyeRegion: ({ eye: [x, y] }: DemoFrame) => Region;
/** Change in dB against the frame as taken. */
export declare function gainsOf(
  frame: DemoFrame,
  {
    picture,
    truth,
    mask,
  }: {
    picture: DecodedPicture;
    truth: DecodedPicture;
    mask: Plane;
  },
  after: CodePiece,
): {
  readonly eye: number;
  readonly subject: number;
};
