import { judgeShare } from './judge';
import type { Part } from './scenes';

/** One process's share of the cases: what is wanted comes as JSON, verdicts go back as messages. */
interface Wish {
  readonly part: Part;
  readonly only?: string;
  readonly told: boolean;
  readonly masked: boolean;
  readonly round: number;
  readonly share: number;
  readonly of: number;
}

const { part, only, ...wish } = JSON.parse(process.argv[2]) as Wish;
await judgeShare(part, { ...wish, only: only ? new RegExp(only) : null }, (verdict) => process.send!(verdict));
process.disconnect();
