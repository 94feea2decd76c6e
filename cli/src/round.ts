import { randomUUID } from 'node:crypto';
import { existsSync, readdirSync, rmSync, statSync } from 'node:fs';
import { mkdir, readFile, realpath, rm } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { extname, join } from 'node:path';
import { Piscina } from 'piscina';
import {
  checkKept,
  SAVE_FORMAT_DESCRIPTIONS,
  STARTER_PRESCRIPTIONS,
  type KeptPrescription,
  type SaveFormat,
} from '@vitrocept/core';
import { fileState, putInPlace, threadFile } from '@vitrocept/files';
import type { RoundOptions } from './options';
import { fromCaller } from './paths';
import { hashOf, RoundLedger } from './roundLedger';
import type { RoundResult, RoundTask } from './roundOne';
import { lockResults } from './resultsLock';
import { makeScratch, whenEnded } from './scratch';
import { UsageError } from './usage';

/** Whatever is none is refused with its reason by who decodes it. */
const PICTURE = /\.(jpe?g|png|tiff?|avif|dng|arw|cr2|cr3|nef|orf|pef|raf|rw2|srw)$/i;

type Told =
  | ({ readonly file: string; readonly state: 'done' | 'unchanged'; readonly result: string } & RoundResult)
  | { readonly file: string; readonly state: 'failed'; readonly reason: string };

/** Uses a kept prescription on every picture of a folder; returns whether all succeeded. */
export async function roundCommand(
  options: RoundOptions,
  print: (text: string) => void,
  tell: (text: string) => void,
): Promise<boolean> {
  const kept = await keptOf(options.use);
  const folder = fromCaller(options.folder);
  if (!statSync(folder, { throwIfNoEntry: false })?.isDirectory())
    throw new UsageError(`${options.folder} is not a folder.`);
  const out = fromCaller(options.out);
  if (existsSync(out) && !statSync(out).isDirectory())
    throw new UsageError(`--out must be a folder; ${options.out} is a file.`);
  await mkdir(out, { recursive: true });
  if ((await realpath(out)) === (await realpath(folder)))
    throw new UsageError('--out must be another folder: results among the originals would be taken for originals.');
  const names = readdirSync(folder, { withFileTypes: true })
    .filter((entry) => entry.isFile() && !entry.name.startsWith('.'))
    .map(({ name }) => name)
    .sort();
  const pictures = names.filter((name) => PICTURE.test(name));
  const ignored = names.filter((name) => !PICTURE.test(name));
  const told = await throughAll(pictures, { ...options, folder, out, kept }, tell);
  if (options.json) print(`${JSON.stringify({ prescription: kept.name, frames: told, ignored }, null, 2)}\n`);
  else for (const one of told) if (one.state === 'failed') tell(`${one.file}: ${one.reason}\n`);
  return told.every(({ state }) => state !== 'failed');
}

interface Round {
  readonly folder: string;
  readonly out: string;
  readonly kept: KeptPrescription;
  readonly format: SaveFormat;
  readonly jobs: number | null;
}

async function throughAll(names: readonly string[], round: Round, tell: (text: string) => void): Promise<Told[]> {
  const { folder, out, kept, format } = round;
  const unlock = lockResults(out);
  const ledger = new RoundLedger(out);
  const way = hashOf(JSON.stringify({ kept, format }));
  const results = resultNames(names, format);
  const scratch = makeScratch();
  const clear = () => {
    rmSync(scratch, { recursive: true, force: true });
    unlock();
  };
  const forget = whenEnded(clear);
  const threads = Math.min(round.jobs ?? availableParallelism(), Math.max(1, names.length));
  const pool = new Piscina({
    ...threadFile('roundOne', import.meta.url),
    minThreads: 0,
    maxThreads: threads,
  });
  const began = performance.now();
  let through = 0;
  /** Those that were worked on: what was there already took no time. */
  let worked = 0;

  async function one(name: string): Promise<Told> {
    const path = join(folder, name);
    const result = results.get(name)!;
    try {
      const original = hashOf(await readFile(path));
      const known = ledger.doneWith(name, original, way);
      if (known?.done) {
        const { mtimeMs: _, ...done } = known.done;
        return { file: name, state: 'unchanged', result, ...done };
      }
      const place = join(out, result);
      const taken = new Error(
        `${result} lies in the folder of results already and is not this round’s: it stays as it is.`,
      );
      const before = ledger.owns(result) ? fileState(place) : null;
      const isOwn = () => before !== null && fileState(place) === before;
      if (existsSync(place) && !isOwn()) throw taken;
      await ledger.begin(name, { original, way, result });
      const whole = join(out, `.vitrocept-${randomUUID()}.part`);
      const task: RoundTask = { path, originalSha256: original, kept, place: whole, format, scratch };
      const answer = (await pool.run(task)) as { value: RoundResult } | { error: string };
      worked++;
      if ('error' in answer) {
        await ledger.gaveUp(name);
        throw new Error(answer.error);
      }
      try {
        // It may have been changed while the frame was worked on.
        if (existsSync(place) && isOwn()) await rm(place);
        if (existsSync(place)) throw taken;
        await ledger.writes(name, whole);
        await putInPlace(whole, place);
      } finally {
        await rm(whole, { force: true });
      }
      await ledger.done(name, answer.value);
      return { file: name, state: 'done', result, ...answer.value };
    } catch (error) {
      return { file: name, state: 'failed', reason: (error as Error).message };
    } finally {
      through++;
      tell(`${through} of ${names.length} · ${name}${timeLeft()}\n`);
    }
  }
  function timeLeft(): string {
    const left = names.length - through;
    if (left === 0 || worked === 0) return '';
    const seconds = ((performance.now() - began) / 1000 / worked) * left;
    return seconds < 90 ? ` · about ${Math.round(seconds)} s left` : ` · about ${Math.round(seconds / 60)} min left`;
  }
  try {
    return await inTurn(names, threads, one);
  } finally {
    await pool.destroy();
    forget();
    clear();
  }
}

/** So many at a time, in their order. */
async function inTurn<T, R>(items: readonly T[], atOnce: number, act: (item: T) => Promise<R>): Promise<R[]> {
  const out: R[] = new Array<R>(items.length);
  let next = 0;
  const hand = async () => {
    for (let at = next++; at < items.length; at = next++) out[at] = await act(items[at]);
  };
  await Promise.all(Array.from({ length: atOnce }, hand));
  return out;
}

/** The original's name with another ending; those of one name and several endings keep theirs. */
function resultNames(names: readonly string[], format: SaveFormat): Map<string, string> {
  const { ending } = SAVE_FORMAT_DESCRIPTIONS[format];
  const bareOf = (name: string) => name.slice(0, -extname(name).length);
  const isAlone = (name: string) =>
    names.filter((other) => bareOf(other).toLowerCase() === bareOf(name).toLowerCase()).length === 1;
  return new Map(names.map((name) => [name, `${isAlone(name) ? bareOf(name) : name}${ending}`]));
}

async function keptOf(use: string | null): Promise<KeptPrescription> {
  if (use === null) return STARTER_PRESCRIPTIONS[0];
  const named = STARTER_PRESCRIPTIONS.find(({ name }) => name.toLowerCase() === use.toLowerCase());
  if (named) return named;
  const path = fromCaller(use);
  if (!existsSync(path)) {
    const known = STARTER_PRESCRIPTIONS.map(({ name }) => `“${name}”`).join(', ');
    throw new UsageError(`--use names neither a file nor a kept prescription. There are ${known}.`);
  }
  let value: unknown;
  try {
    value = JSON.parse(await readFile(path, 'utf8'));
  } catch (error) {
    throw new UsageError(`The kept prescription cannot be read: ${(error as Error).message}`);
  }
  return checkKept(value);
}
