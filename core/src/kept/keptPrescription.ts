import type { Size } from '../picture/region';
import { automaticRecovery } from '../prescription/automatic';
import { automaticCleaning } from '../prescription/cleaning';
import { emptyPrescription, type MaskPlan, type Prescription } from '../prescription/prescription';

/** The parts of a prescription that are kept under a name, and the ways in which each can be used on another frame. */
export const KEPT_WAYS = {
  /**
   * Where is recovered: the subject found on each frame (its skin left out of faces), one mask on each, or all of each.
   */
  subject: ['anew', 'features', 'as-it-is', 'whole-frame'],
  /** Blur and noise. */
  reading: ['anew', 'as-it-is'],
  cleaning: ['anew', 'as-it-is', 'left-out'],
  /** Method and settings. */
  recovery: ['anew', 'as-it-is', 'left-out'],
  amount: ['safest', 'as-it-is'],
  framing: ['as-it-is', 'left-out'],
  /** Light, colour and lens. */
  corrections: ['as-it-is', 'left-out'],
  /** What guides the eye; mended places belong to their frame. */
  finishing: ['as-it-is', 'left-out'],
} as const;

export type KeptPart = keyof typeof KEPT_WAYS;
export const KEPT_PARTS = Object.keys(KEPT_WAYS) as KeptPart[];
export type KeptWays = { readonly [P in KeptPart]: (typeof KEPT_WAYS)[P][number] };

export const KEPT_VERSION = 2;
/** What an exported file says it is. */
export const KEPT_KIND = 'vitrocept-kept-prescription';
export const MOST_KEPT_NAME = 80;

/** A prescription saved under a name, to be used on other frames. */
export interface KeptPrescription {
  readonly kind: typeof KEPT_KIND;
  readonly version: typeof KEPT_VERSION;
  readonly name: string;
  readonly ways: KeptWays;
  /** Of the frame it was kept from: places and masks are px of that. */
  readonly frame: Size;
  /** What *as it is* means. */
  readonly prescription: Prescription;
}

/** Blur, noise and subject differ from frame to frame: they are measured anew unless somebody wants otherwise. */
export const usualWays = ({ cleaning, recovery, geometry, mask, corrections, finishing }: Prescription): KeptWays => ({
  subject: mask.operations.length === 0 ? 'whole-frame' : 'anew',
  reading: 'anew',
  cleaning: cleaning ? 'as-it-is' : 'left-out',
  recovery: recovery ? 'as-it-is' : 'left-out',
  amount: 'as-it-is',
  framing: geometry ? 'as-it-is' : 'left-out',
  corrections: corrections ? 'as-it-is' : 'left-out',
  finishing: finishing ? 'as-it-is' : 'left-out',
});

/** @param name - Trimmed and not empty. */
export function keepPrescription(name: string, ways: KeptWays, frame: Size, from: Prescription): KeptPrescription {
  const { reading, cleaning, geometry, masksBelow, masksAbove, corrections, finishing } = from;
  const { width, height } = frame;
  return {
    kind: KEPT_KIND,
    version: KEPT_VERSION,
    name,
    ways,
    frame: { width, height },
    prescription: {
      ...emptyPrescription(),
      // Where the blur changes over one frame says nothing of another.
      reading: reading && { ...reading, sizes: [] },
      cleaning,
      geometry,
      ...(corrections ? { corrections } : {}),
      ...(finishing ? { finishing } : {}),
      ...planToKeep(from),
      ...(masksBelow?.length ? { masksBelow: masksBelow.map(planToKeep) } : {}),
      ...(masksAbove?.length ? { masksAbove: masksAbove.map(planToKeep) } : {}),
    },
  };
}

/** Trials, audits and answers belong to the frame they were made on. */
const planToKeep = ({ mask, recovery }: MaskPlan): MaskPlan => ({ mask, trials: [], recovery });

const STARTER_FRAME: Size = { width: 6000, height: 4000 };
const FULL = 100;

const starter = (name: string, ways: Partial<KeptWays>, part: Partial<Prescription> = {}): KeptPrescription =>
  keepPrescription(
    name,
    {
      subject: 'anew',
      reading: 'anew',
      cleaning: 'left-out',
      recovery: 'anew',
      amount: 'safest',
      framing: 'left-out',
      corrections: 'left-out',
      finishing: 'left-out',
      ...ways,
    },
    STARTER_FRAME,
    { ...emptyPrescription(), ...part },
  );

/** Those that are there at first start, for ordinary needs. */
export const STARTER_PRESCRIPTIONS: readonly KeptPrescription[] = [
  starter('Recover the subject as far as safe', {}),
  starter('Clean, then recover the subject as far as safe', { cleaning: 'anew' }),
  starter('Clean only', { subject: 'whole-frame', cleaning: 'anew', recovery: 'left-out' }),
  starter('Recover all of the frame as far as safe', { subject: 'whole-frame' }),
  starter('Portrait: features in, skin out', { subject: 'features' }),
  starter(
    'Crisper edges on the subject, gently',
    { recovery: 'as-it-is', amount: 'as-it-is' },
    { recovery: { ...automaticRecovery('edge-contrast', null, FULL / 2), trialId: null } },
  ),
  starter(
    'Colour noise only',
    { subject: 'whole-frame', cleaning: 'as-it-is', recovery: 'left-out' },
    { cleaning: { ...automaticCleaning(null), luminance: { value: 0, auto: false }, channelPercents: [] } },
  ),
];
