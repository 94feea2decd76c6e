import { resolve } from 'node:path';
import { FileError } from '@vitrocept/files';

/** Paths are meant from the folder the person calls from, also when npm runs the program from the project's own. */
export function fromCaller(path: string): string {
  return resolve(process.env.INIT_CWD ?? process.cwd(), path);
}

interface Sized {
  readonly width: number;
  readonly height: number;
}

export function checkMaskSize(mask: Sized, frame: Sized): void {
  if (mask.width !== frame.width || mask.height !== frame.height) {
    throw new FileError(
      'MASK_SIZE',
      `The mask has ${mask.width} × ${mask.height} px, the upright picture ${frame.width} × ${frame.height} px; they must be equal.`,
    );
  }
}
