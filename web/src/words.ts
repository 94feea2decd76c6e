import type { AcceptedReading, Method, Pile } from '@vitrocept/core';

export const METHOD_NAMES: Record<Method, string> = {
  'ordinary-softness': 'Ordinary softness',
  'missed-focus': 'Missed focus',
  'straight-movement': 'Straight movement',
  'camera-shake': 'Camera shake',
  'edge-contrast': 'Edge contrast',
  'fine-texture': 'Fine texture',
};

/** Camera shake is only offered where its path was found. */
export function offered<M extends Method>(
  methods: readonly M[],
  reading: AcceptedReading | null,
  path = reading?.path,
): M[] {
  return methods.filter((method) => method !== 'camera-shake' || path !== undefined);
}

export const METHOD_HELP: Record<Method, string> = {
  'ordinary-softness': 'For the slight softness of lens and sensor. Blur size is the full width at half maximum.',
  'missed-focus': 'For a subject out of focus. Blur size is the diameter of the circle a point of light became.',
  'straight-movement': 'For a subject or camera that moved in a line. Blur size is the length of the line.',
  'camera-shake': 'For a hand that wandered: follows the path found in the frame. Blur size is the length along it.',
  'edge-contrast': 'Makes edges steeper without undoing a blur; for frames that need only a little.',
  'fine-texture':
    'Strengthens hairs, scales and cloth and leaves edges alone. Undoes no blur. Blur size is the coarsest texture.',
};

export const PILE_NAMES: Record<Pile, string> = {
  'good-as-is': 'Good as is',
  grainy: 'Grainy',
  soft: 'Soft',
  'beyond-recovery': 'Beyond recovery',
};

export const trialLetter = (index: number) => String.fromCharCode(65 + index);

export function causeSentence(method: Method | null, blurSizePx: number, directionDeg: number): string {
  if (!method) return 'Nothing to recover';
  const across =
    method === 'missed-focus'
      ? ' across'
      : method === 'straight-movement'
        ? ` at ${directionDeg.toFixed(0)}°`
        : method === 'camera-shake'
          ? ' along its path'
          : ' wide';
  return `${METHOD_NAMES[method]}, ${blurSizePx.toFixed(1)} px${across}`;
}

export function timeLeft(seconds: number): string {
  if (!Number.isFinite(seconds)) return 'estimating';
  if (seconds < 1.5) return 'about a second left';
  if (seconds < 90) return `about ${Math.round(seconds)} s left`;
  return `about ${Math.round(seconds / 60)} min left`;
}

export function bytesText(bytes: number): string {
  return bytes < 1e6 ? `${Math.round(bytes / 1000)} kB` : `${(bytes / 1e6).toFixed(1)} MB`;
}
