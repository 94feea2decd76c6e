import { isBlurMethod, METHOD_DESCRIPTIONS } from '../methods';
import type { Size } from '../picture/region';
import { isFinished } from '../prescription/stages';
import { maskOfCleaning } from '../prescription/cleaning';
import { isRecovered, plansOf } from '../prescription/masks';
import type { Prescription, Recovery } from '../prescription/prescription';
import { SAVE_FORMAT_DESCRIPTIONS, type SaveFormat } from '../prescription/saveFormats';
import { sizeAfter } from '../stages/pipeline';
import { correctionWords, finishingWords, framingWords } from './finishedWords';
import { cleaningWords, sizeWords } from './plainWords';

/** One thing that is done, and how. */
export interface Told {
  readonly term: string;
  readonly text: string;
}

/** What a prescription does, in plain words, in the order in which it is done; empty: nothing. */
export function prescriptionWords(prescription: Prescription): Told[] {
  const { cleaning, corrections, finishing, geometry, mends = [], outputSharpeningPercent = 0 } = prescription;
  const plans = plansOf(prescription);
  const recovered = plans.filter(({ recovery }) => recovery !== null);
  const hasMask = limitsByMask(prescription);
  const told: Told[] = [];
  const tell = (term: string, text: string) => told.push({ term, text });
  if (cleaning) tell('Cleaning', cleaningWords(cleaning, maskOfCleaning(prescription)?.name ?? null));
  for (const { mask, recovery } of recovered) {
    const where = hasMask ? `under mask “${mask.name}” at ${mask.opacityPercent} %` : 'over the whole frame';
    tell(recovered.length > 1 ? mask.name : 'Recovery', `${recoverySentence(recovery!)} ${where}`);
  }
  if (mends.length > 0) {
    tell('Mended', `${mends.length === 1 ? 'one place' : `${mends.length} places`}, covered from their surroundings`);
  }
  if (corrections) tell('Corrections', correctionWords(corrections));
  if (finishing) tell('Finishing', finishingWords(finishing));
  if (geometry) tell('Framing', framingWords(geometry));
  if (outputSharpeningPercent > 0) tell('Output sharpening', `${outputSharpeningPercent.toFixed(0)} %, last of all`);
  return told.filter(({ text }) => text !== '');
}

/** Whether a mask says where anything is done. */
export const limitsByMask = (prescription: Prescription): boolean =>
  plansOf(prescription).length > 1 || prescription.mask.operations.length > 0;

function recoverySentence({ method, amount, blurSizePx, directionDeg, learnedTexture, badlySoft }: Recovery): string {
  const size = isBlurMethod(method)
    ? sizeWords(method, blurSizePx.value, directionDeg.value)
    : `${blurSizePx.value.toFixed(1)} px`;
  const texture = learnedTexture && isBlurMethod(method) ? ', with learned texture' : '';
  const name = `${METHOD_DESCRIPTIONS[method].name}${badlySoft && isBlurMethod(method) ? ', badly soft (at half size)' : ''}`;
  return `${name}, amount ${amount.value.toFixed(0)} · ${size}${texture}`;
}

/** Of the finished picture; where it is not the frame's, the frame's too. @throws CoreError where it has no size. */
export function finishedSizeWords(prescription: Prescription, frame: Size): string {
  const px = ({ width, height }: Size) => `${width} × ${height} px`;
  const size = sizeAfter(prescription, frame);
  return px(size) === px(frame) ? px(size) : `${px(size)}, of a frame of ${px(frame)}`;
}

/** What is promised of the pixels outside the mask, in a format and a colour space. */
export function untouchedWords(
  prescription: Prescription,
  format: SaveFormat,
  frameBits: 8 | 16,
  isConverted: boolean,
): string {
  const cleansAll = prescription.cleaning !== null && maskOfCleaning(prescription) === null;
  if (!limitsByMask(prescription) || cleansAll || isFinished(prescription)) {
    return 'nothing: no mask limits what is done';
  }
  const to = SAVE_FORMAT_DESCRIPTIONS[format];
  if (!to.isExact) return 'not promised: JPEG compresses every pixel again';
  if (isConverted) return 'not promised: every pixel is converted to another colour space';
  if (to.bits < frameBits) return 'not promised: 8 bits hold less than the original’s 16';
  return 'outside the mask every pixel keeps its exact value';
}

/** What was done in a word or two, for names. */
export function shortWords(prescription: Prescription): string {
  const { recovery, cleaning } = prescription;
  if (isRecovered(prescription)) return recovery ? METHOD_DESCRIPTIONS[recovery.method].name : 'recovered';
  return cleaning ? 'cleaned' : 'as taken';
}
