import { METHOD_DESCRIPTIONS } from '../methods';
import type { KeptPrescription } from './keptPrescription';

/** What a kept prescription does, in one sentence. */
export function keptSentence({ ways, prescription }: KeptPrescription): string {
  const { recovery, mask } = prescription;
  const where = {
    anew: 'the subject of each frame',
    features: 'the subject of each frame (of faces the features, not the skin)',
    'as-it-is': `what the mask “${mask.name}” holds`,
    'whole-frame': 'all of each frame',
  }[ways.subject];
  const parts: string[] = [];
  if (ways.cleaning === 'anew') parts.push('cleans as much noise as each frame has');
  else if (ways.cleaning === 'as-it-is' && prescription.cleaning) parts.push('cleans noise with the settings kept');
  const amount =
    ways.amount === 'safest'
      ? 'as far as the audit finds it safe'
      : recovery
        ? `at ${Math.round(recovery.amount.value)} %`
        : 'at full amount';
  if (ways.recovery === 'anew') {
    const cause = ways.reading === 'anew' ? 'the blur measured on it' : 'the blur that was kept';
    parts.push(`recovers ${where} from ${cause}, ${amount}`);
  } else if (ways.recovery === 'as-it-is' && recovery) {
    const numbers =
      ways.reading === 'anew' && Object.values(recovery).some(isAutomatic) ? ', measured anew where on Automatic' : '';
    parts.push(`recovers ${where} by ${METHOD_DESCRIPTIONS[recovery.method].name}${numbers}, ${amount}`);
  }
  if (ways.corrections === 'as-it-is' && prescription.corrections) parts.push('corrects light and colour as kept');
  if (ways.finishing === 'as-it-is' && prescription.finishing) parts.push('finishes it as kept');
  if (ways.framing === 'as-it-is' && prescription.geometry) parts.push('frames it as kept');
  if (parts.length === 0) return 'Changes nothing.';
  const text = parts.length === 1 ? parts[0] : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)}`;
  return `${text[0].toUpperCase()}${text.slice(1)}.`;
}

function isAutomatic(setting: unknown): boolean {
  return typeof setting === 'object' && setting !== null && (setting as { auto?: unknown }).auto === true;
}
