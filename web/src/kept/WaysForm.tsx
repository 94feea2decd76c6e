import { KEPT_PARTS, KEPT_WAYS, type KeptPart, type KeptWays } from '@vitrocept/core';

export const PART_NAMES: Record<KeptPart, string> = {
  subject: 'Where',
  reading: 'Blur and noise',
  cleaning: 'Cleaning',
  recovery: 'Method and settings',
  amount: 'Amount',
  framing: 'Crop and turn',
  corrections: 'Corrections',
  finishing: 'Finishing',
};

const WAY_NAMES: { readonly [P in KeptPart]: Record<KeptWays[P], string> } = {
  subject: {
    anew: 'subject found on each frame',
    features: 'subject found on each, faces without their skin',
    'as-it-is': 'this mask on each',
    'whole-frame': 'all of each frame',
  },
  reading: { anew: 'measured anew on each frame', 'as-it-is': 'as measured here' },
  cleaning: { anew: 'by each frame’s own noise', 'as-it-is': 'as it is here', 'left-out': 'left out' },
  recovery: { anew: 'by the cause measured on each', 'as-it-is': 'as it is here', 'left-out': 'left out' },
  amount: { safest: 'as far as is safe on each', 'as-it-is': 'as it is here' },
  framing: { 'as-it-is': 'as it is here', 'left-out': 'left out' },
  corrections: { 'as-it-is': 'as it is here', 'left-out': 'left out' },
  finishing: { 'as-it-is': 'as it is here', 'left-out': 'left out' },
};

/** How each part that counts is used, of a prescription that was kept. */
export function keptWays(ways: KeptWays): { readonly part: KeptPart; readonly way: string }[] {
  const recovers = ways.recovery !== 'left-out';
  return KEPT_PARTS.filter((part) => ways[part] !== 'left-out')
    .filter((part) => recovers || (part !== 'amount' && part !== 'subject'))
    .map((part) => ({
      part,
      way: (WAY_NAMES[part] as Record<string, string>)[ways[part]].replace('as it is here', 'as kept'),
    }));
}

/** For each part of a prescription: as it is, or measured anew on each frame. */
export function WaysForm({ ways, onChange }: { readonly ways: KeptWays; onChange(ways: KeptWays): void }) {
  return (
    <div className="ways-form">
      {KEPT_PARTS.map((part) => (
        <label key={part}>
          <span>{PART_NAMES[part]}</span>
          <select value={ways[part]} onChange={({ target }) => onChange({ ...ways, [part]: target.value })}>
            {KEPT_WAYS[part].map((way) => (
              <option key={way} value={way}>
                {(WAY_NAMES[part] as Record<string, string>)[way]}
              </option>
            ))}
          </select>
        </label>
      ))}
    </div>
  );
}
