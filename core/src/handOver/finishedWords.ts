import { bendsCurve, CORRECTION_KEYS, CORRECTIONS, type Corrections } from '../prescription/corrections';
import { actingChanges, WHOLE, WHOLE_KEYS, type Finishing } from '../prescription/finishing';
import type { Geometry } from '../prescription/prescription';

const listed = (parts: readonly string[]) => parts.join(', ');
const signed = (value: number, digits: number) => `${value > 0 ? '+' : '−'}${Math.abs(value).toFixed(digits)}`;

/** What is corrected, in plain words. */
export function correctionWords(corrections: Corrections): string {
  const { whiteBalance, curve } = corrections;
  const numbers = CORRECTION_KEYS.filter((key) => corrections[key].value !== CORRECTIONS[key].neutral).map((key) => {
    const { name, unit = '', step } = CORRECTIONS[key];
    const { value } = corrections[key];
    const digits = step < 0.01 ? 3 : step < 0.1 ? 2 : step < 1 ? 1 : 0;
    return `${name} ${key === 'exposureEv' ? signed(value, digits) : value.toFixed(digits)} ${unit}`.trim();
  });
  if (whiteBalance.kind === 'picked') numbers.push('white balance from a grey place');
  if (whiteBalance.kind === 'temperature') {
    const { kelvin, greenMagenta } = whiteBalance;
    numbers.push(
      `light of ${Math.round(kelvin)} K${greenMagenta !== 0 ? `, ${signed(greenMagenta, 0)} to green` : ''}`,
    );
  }
  if (bendsCurve(curve)) numbers.push(`a tone curve of ${curve.length} points`);
  return listed(numbers);
}

/** What guides the eye, in plain words. */
export function finishingWords(finishing: Finishing): string {
  const whole = WHOLE_KEYS.filter((key) => finishing[key] !== 0).map(
    (key) => `${WHOLE[key].name} ${signed(finishing[key], 0)}`,
  );
  const changes = actingChanges(finishing);
  if (changes.length > 0) whole.push(`local changes: ${listed(changes.map(({ mask }) => mask.name))}`);
  const { cornerPercent } = finishing.vignette;
  if (cornerPercent !== 0) whole.push(`vignette ${signed(cornerPercent, 0)} % at the corner`);
  return listed(whole);
}

/** How it is framed, in plain words. */
export function framingWords({ crop, quarterTurns, straightenDeg = 0, isMirrored, enlarge = 1 }: Geometry): string {
  const parts: string[] = [];
  if (crop) parts.push(`cropped to ${crop.width} × ${crop.height} px`);
  if (straightenDeg !== 0) parts.push(`straightened by ${signed(straightenDeg, 1)}°`);
  if (quarterTurns > 0) parts.push(`turned by ${quarterTurns * 90}°`);
  if (isMirrored) parts.push('mirrored');
  if (enlarge !== 1) parts.push(`enlarged ${enlarge.toFixed(2)} ×`);
  return listed(parts);
}
