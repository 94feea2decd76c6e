import { existsSync, mkdirSync, writeFileSync } from 'node:fs';
import { readdir, readFile, writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { KEPT_KIND, STARTER_PRESCRIPTIONS } from '@vitrocept/core';
import type { Reading } from '@vitrocept/core';
import { fileState } from '@vitrocept/files';
import { secondsLeft } from '../src/rounds/timeLeft';
import type { ListedKept, RoundDetail, RoundJob } from '../src';
import { newShoot, openHarness, own, smallPng, upload, type Harness } from './harness';

let harness: Harness;
const frames: string[] = [];
let cleanOnly: ListedKept;

beforeAll(async () => {
  harness = await openHarness();
  const shoot = await newShoot(harness.app);
  for (const seed of [1, 2, 3, 4]) {
    const answer = await upload(harness.app, shoot, `reed-${seed}.png`, await smallPng(seed));
    frames.push(answer.json<{ id: string }>().id);
  }
  await harness.services.readings.idle();
  cleanOnly = (await kept()).find((one) => one.kept.name === 'Clean only')!;
}, 120_000);
afterAll(() => harness.close());

const ask = async <T>(method: 'GET' | 'POST' | 'PATCH' | 'DELETE', url: string, payload?: object) => {
  const answer = await harness.app.inject({ method, url, headers: own, payload });
  return {
    status: answer.statusCode,
    body: (answer.body && answer.headers['content-type']?.toString().includes('json') ? answer.json() : null) as T,
  };
};
const kept = async () => (await ask<ListedKept[]>('GET', '/api/kept')).body;
const begun = async (part: object = {}) =>
  (await ask<RoundDetail>('POST', '/api/rounds', { keptId: cleanOnly.id, frameIds: frames, format: 'png8', ...part }))
    .body;
const look = async (id: string) => (await ask<RoundDetail>('GET', `/api/rounds/${id}`)).body;
const outbox = (folder = '') => readdir(join(harness.services.folder.outbox, folder));

describe('kept prescriptions', () => {
  it('are there at first start, each with a sentence', async () => {
    const all = await kept();
    expect(all.map((one) => one.kept.name)).toEqual(STARTER_PRESCRIPTIONS.map(({ name }) => name));
    expect(all.every(({ sentence }) => sentence.endsWith('.'))).toBe(true);
  });

  it('are kept from a frame, renamed, duplicated, removed and back', async () => {
    const ways = {
      subject: 'anew',
      reading: 'anew',
      cleaning: 'left-out',
      recovery: 'anew',
      amount: 'safest',
      framing: 'left-out',
      corrections: 'left-out',
      finishing: 'left-out',
    };
    const made = await ask<ListedKept>('POST', `/api/frames/${frames[0]}/keep`, { name: 'Owls', ways });
    expect(made.status).toBe(201);
    const twin = await ask<ListedKept>('POST', `/api/kept/${made.body.id}/duplicate`);
    expect(twin.body.kept.name).toBe('Owls 2');
    const renamed = await ask<ListedKept>('PATCH', `/api/kept/${twin.body.id}`, { name: 'Owls at dusk' });
    expect(renamed.body.kept.name).toBe('Owls at dusk');
    expect((await ask('DELETE', `/api/kept/${twin.body.id}`)).status).toBe(204);
    expect((await kept()).some(({ id }) => id === twin.body.id)).toBe(false);
    await ask('POST', `/api/kept/${twin.body.id}/restore`);
    expect((await kept()).some(({ id }) => id === twin.body.id)).toBe(true);
    expect((await ask('POST', `/api/frames/${frames[0]}/keep`, { name: ' ', ways })).status).toBe(400);
  });

  it('come in from a file, or are refused with what is wrong', async () => {
    const exported = (await kept())[0].kept;
    const back = await ask<ListedKept>('POST', '/api/kept', exported);
    expect(back.body.kept).toEqual({ ...exported, name: `${exported.name} 2` });
    const bad = await ask<{ error: string }>('POST', '/api/kept', { kind: KEPT_KIND, version: 1, name: 'x' });
    expect(bad.status).toBe(422);
    expect(bad.body.error).toMatch(/Not a valid kept prescription/);
  });
});

describe('a round', () => {
  it('writes one file a frame, by its pattern, into its folder, and says so', async () => {
    const round = await begun({ folder: 'May', namePattern: '{counter}-{frame}' });
    await harness.services.rounds.idle();
    const done = await look(round.id);
    expect(done).toMatchObject({ state: 'ended', counts: { left: 0, done: 4, failed: 0 }, secondsLeft: 0 });
    const names = done.jobs.map(({ fileName }) => fileName);
    expect(names).toEqual(['May/001-reed-1.png', 'May/002-reed-2.png', 'May/003-reed-3.png', 'May/004-reed-4.png']);
    expect((await outbox('May')).sort()).toEqual(names.map((name) => name!.slice(4)));
    expect(done.jobs.every(({ fileBytes }) => fileBytes! > 1000)).toBe(true);
  });

  it('writes at the size it is asked for, and shows what was done at the frame’s own', async () => {
    const round = await begun({ folder: 'Small', frameIds: [frames[0]], longEdgePx: 80 });
    await harness.services.rounds.idle();
    const { jobs, longEdgePx } = await look(round.id);
    expect(longEdgePx).toBe(80);
    const written = await readFile(join(harness.services.folder.outbox, jobs[0].fileName!));
    const { width, height } = await sharp(written).metadata();
    expect(Math.max(width, height)).toBe(80);
    const crop = await harness.app.inject({ url: `/api/round-jobs/${jobs[0].id}/after.jpg`, headers: own });
    expect(crop.statusCode).toBe(200);
    expect((await sharp(crop.rawPayload).metadata()).width).toBeGreaterThan(80);
    const bad = await ask('POST', '/api/rounds', {
      keptId: cleanOnly.id,
      frameIds: [frames[0]],
      format: 'png8',
      longEdgePx: 3,
    });
    expect(bad.status).toBe(400);
  });

  it('used again, writes beside what is there and over nothing', async () => {
    const before = await readFile(join(harness.services.folder.outbox, 'May', '001-reed-1.png'));
    const round = await begun({ folder: 'May', namePattern: '{counter}-{frame}', frameIds: [frames[0], frames[0]] });
    await harness.services.rounds.idle();
    const { jobs } = await look(round.id);
    expect(jobs.map(({ fileName }) => fileName)).toEqual(['May/001-reed-1-2.png']);
    expect(await readFile(join(harness.services.folder.outbox, 'May', '001-reed-1.png'))).toEqual(before);
  });

  it('paused at once, goes on later; nothing is done twice', async () => {
    const round = await begun({ folder: 'Paused' });
    const paused = (await ask<RoundDetail>('POST', `/api/rounds/${round.id}/pause`)).body;
    expect(paused.state).toBe('paused');
    await harness.services.rounds.idle();
    const { counts } = await look(round.id);
    expect(counts.done).toBeLessThan(4);
    expect(counts.left).toBe(4 - counts.done);
    await ask('POST', `/api/rounds/${round.id}/go-on`);
    await harness.services.rounds.idle();
    expect(await look(round.id)).toMatchObject({ state: 'ended', counts: { done: 4 } });
    expect(await outbox('Paused')).toHaveLength(4);
  });

  it('stopped, leaves what waits; going on takes it up', async () => {
    const round = await begun({ folder: 'Stopped' });
    await ask('POST', `/api/rounds/${round.id}/stop`);
    await harness.services.rounds.idle();
    const stopped = await look(round.id);
    expect(stopped.state).toBe('stopped');
    expect(stopped.counts.stopped + stopped.counts.done).toBe(4);
    await ask('POST', `/api/rounds/${round.id}/go-on`);
    await harness.services.rounds.idle();
    expect(await look(round.id)).toMatchObject({ state: 'ended', counts: { done: 4, stopped: 0 } });
  });

  it('a later one that is put first is taken first', async () => {
    const one = await begun({ folder: 'One' });
    await ask('POST', `/api/rounds/${one.id}/pause`);
    await harness.services.rounds.idle();
    const two = await begun({ folder: 'Two', frameIds: [frames[0]] });
    await ask('POST', `/api/rounds/${two.id}/pause`);
    await harness.services.rounds.idle();
    await ask('POST', `/api/rounds/${two.id}/first`);
    const order: string[] = [];
    const unlisten = harness.services.changes.listen((change) => {
      if (change.kind === 'round' && order.at(-1) !== change.id) order.push(change.id);
    });
    harness.services.stores.rounds.setState(one.id, 'going');
    harness.services.stores.rounds.setState(two.id, 'going');
    harness.services.rounds.wake();
    await harness.services.rounds.idle();
    unlisten();
    const left = [two.id, one.id].filter((id) => order.includes(id));
    expect(order.filter((id) => left.includes(id))).toEqual(left);
  });

  it('a frame that fails is named and does not stop the others', async () => {
    const { folder, stores } = harness.services;
    const shoot = await newShoot(harness.app, 'Broken');
    const ids: string[] = [];
    for (const seed of [21, 22, 23]) {
      const answer = await upload(harness.app, shoot, `sedge-${seed}.png`, await smallPng(seed));
      ids.push(answer.json<{ id: string }>().id);
    }
    await harness.services.readings.idle();
    const { sha256 } = stores.frames.get(ids[1])!;
    await writeFile(folder.original(sha256), 'no picture');
    await writeFile(folder.samples(sha256), 'no samples');
    const round = await begun({ folder: 'Broken', frameIds: ids });
    await harness.services.rounds.idle();
    const { jobs, counts } = await look(round.id);
    expect(counts).toMatchObject({ done: 2, failed: 1 });
    expect(jobs[1]).toMatchObject({ state: 'failed', fileName: null });
    expect(jobs[1].error).toMatch(/\w+ .*\.$/);
  });

  it('is refused with a sentence where it cannot be meant', async () => {
    const refusal = async (part: object) =>
      await ask<{ error: string }>('POST', '/api/rounds', {
        keptId: cleanOnly.id,
        frameIds: frames,
        format: 'png8',
        ...part,
      });
    expect((await refusal({ namePattern: '{author}' })).body.error).toMatch(/\{author\} is not known/);
    expect((await refusal({ namePattern: 'same' })).body.error).toMatch(/differ from frame to frame/);
    expect((await refusal({ folder: '../up' })).status).toBe(400);
    expect((await refusal({ folder: '.hidden' })).status).toBe(400);
    expect((await refusal({ frameIds: [] })).status).toBe(400);
    expect((await refusal({ keptId: frames[0] })).status).toBe(404);
  });
});

describe('looking a round through', () => {
  const job = async (): Promise<RoundJob> => {
    const [last] = (await ask<{ id: string; folder: string }[]>('GET', '/api/rounds')).body.filter(
      ({ folder }) => folder === 'May',
    );
    return (await look(last.id)).jobs[0];
  };

  it('shows both crops, takes a copy back and gives it again', async () => {
    const { id, fileName } = await job();
    for (const which of ['before', 'after']) {
      const answer = await harness.app.inject({ url: `/api/round-jobs/${id}/${which}.jpg`, headers: own });
      expect(answer.headers['content-type']).toBe('image/jpeg');
    }
    const place = join(harness.services.folder.outbox, fileName!);
    expect((await ask('POST', `/api/round-jobs/${id}/outcome`, { outcome: 'taken-back' })).status).toBe(200);
    expect(existsSync(place)).toBe(false);
    expect((await harness.app.inject({ url: `/api/round-jobs/${id}/file`, headers: own })).statusCode).toBe(200);
    await ask('POST', `/api/round-jobs/${id}/outcome`, { outcome: null });
    expect(existsSync(place)).toBe(true);
    await ask('POST', `/api/round-jobs/${id}/outcome`, { outcome: 'taken-back' });
    await writeFile(place, 'somebody else’s');
    const clash = await ask<{ error: string }>('POST', `/api/round-jobs/${id}/outcome`, { outcome: 'accepted' });
    expect(clash).toMatchObject({ status: 409, body: { error: expect.stringMatching(/Another file has its name/) } });
  });

  it('opens a frame with what the round used, but never over work of one’s own unasked', async () => {
    const { id, frameId } = await job();
    const opened = await ask<{ revision: number }>('POST', `/api/round-jobs/${id}/open`, {});
    expect(opened.status).toBe(200);
    const { prescription } = harness.services.stores.prescriptions.get(frameId);
    expect(prescription.cleaning).not.toBeNull();
    expect((await ask('POST', `/api/round-jobs/${id}/open`, {})).status).toBe(409);
    expect((await ask('POST', `/api/round-jobs/${id}/open`, { replace: true })).status).toBe(200);
  });
});

describe('the time left', () => {
  const idle = { underwayMegapixels: 0, underwaySeconds: 0 };
  const third = { openMegapixels: 60, doneMegapixels: 40, doneSeconds: 80, ...idle };

  it('goes by the megapixels done', () => {
    expect(secondsLeft(0, [{ openMegapixels: 0, doneMegapixels: 4, doneSeconds: 9, ...idle }])).toBe(0);
    expect(secondsLeft(3, [{ openMegapixels: 60, doneMegapixels: 0, doneSeconds: 0, ...idle }])).toBeNull();
    expect(secondsLeft(3, [third])).toBe(120);
    // What was spent on the frame under way counts, but no more than it was expected to take.
    expect(secondsLeft(3, [{ ...third, underwayMegapixels: 20, underwaySeconds: 30 }])).toBe(90);
    expect(secondsLeft(3, [{ ...third, underwayMegapixels: 20, underwaySeconds: 90 }])).toBe(80);
    expect(secondsLeft(3, [{ ...third, underwayMegapixels: 20, underwaySeconds: -3600 }])).toBe(120);
  });

  it('frames of which nothing is to be recovered are through sooner, as soon as one of them is done', () => {
    const quiet = { openMegapixels: 20, doneMegapixels: 10, doneSeconds: 1, ...idle };
    expect(secondsLeft(4, [third, quiet])).toBe(122);
    expect(secondsLeft(4, [third, { ...quiet, doneMegapixels: 0, doneSeconds: 0 }])).toBe(160);
  });

  it('tells frames apart of which it is known that nothing is to be recovered', () => {
    const { stores } = harness.services;
    const [round] = stores.rounds.all();
    const jobs = stores.rounds.jobsOf(round.id);
    const known = stores.readings.get(jobs[0].frameId);
    const proposal = known.proposal ?? { over: 'whole' as const, share: 1, mask: null, probes: [] };
    const paces = (cause: Reading['cause']) => {
      stores.readings.done(jobs[0].frameId, { reading: { ...known.reading!, cause }, proposal });
      return stores.rounds.pacesOf(round.id);
    };
    const size = ({ doneMegapixels, openMegapixels }: { doneMegapixels: number; openMegapixels: number }) =>
      doneMegapixels + openMegapixels;
    const quiet = paces(null);
    expect(quiet.some((pace) => Math.abs(size(pace) - jobs[0].megapixels) < 1e-6)).toBe(true);
    const soft = { method: 'missed-focus', blurSizePx: 6, directionDeg: 0 } as Reading['cause'];
    expect(paces(soft)).toHaveLength(quiet.length - 1);
  });
});

describe('a round of which nothing is left', () => {
  it('is through, also when it was paused then', async () => {
    const { rounds } = harness.services.stores;
    const round = await begun({ folder: 'Through', frameIds: [frames[0]] });
    await harness.services.rounds.idle();
    rounds.setState(round.id, 'paused');
    await ask('POST', `/api/rounds/${round.id}/go-on`);
    await harness.services.rounds.idle();
    expect((await look(round.id)).state).toBe('ended');
  });
});

describe('a file that somebody put into the outbox meanwhile', () => {
  it('is not written over, though its name was reserved', async () => {
    const { stores, folder } = harness.services;
    const place = join(folder.outbox, 'Theirs', 'reed-1.png');
    const { reserve } = stores.rounds;
    stores.rounds.reserve = (jobId, fileName) => {
      reserve(jobId, fileName);
      mkdirSync(join(folder.outbox, 'Theirs'), { recursive: true });
      writeFileSync(place, 'theirs');
    };
    const round = await begun({ folder: 'Theirs', namePattern: '{frame}', frameIds: [frames[0]] });
    await harness.services.rounds.idle();
    stores.rounds.reserve = reserve;
    expect((await look(round.id)).jobs[0]).toMatchObject({ state: 'done', fileName: 'Theirs/reed-1-2.png' });
    expect(await readFile(place, 'utf8')).toBe('theirs');
  });

  it('nor after a pause; what an earlier attempt at the job wrote there is', async () => {
    const { stores, folder, rounds } = harness.services;
    const wish = { kept: cleanOnly.kept, format: 'png8', longEdgePx: null, quality: 90 } as const;
    const round = stores.rounds.add({
      ...wish,
      namePattern: '{frame}',
      frameIds: [frames[0], frames[1]],
      folder: 'Again',
    });
    mkdirSync(join(folder.outbox, 'Again'));
    const [own, theirs] = ['reed-1.png', 'reed-2.png'].map((name) => join(folder.outbox, 'Again', name));
    const [first, second] = stores.rounds.jobsOf(round.id);
    for (const [job, place] of [
      [first, own],
      [second, theirs],
    ] as const) {
      stores.rounds.reserve(job.id, `Again/${basename(place)}`);
      writeFileSync(place, 'there');
    }
    stores.notes.set(`written by ${first.id}`, fileState(own)!);
    rounds.wake();
    await rounds.idle();
    expect((await look(round.id)).jobs.map(({ fileName }) => fileName)).toEqual([
      'Again/reed-1.png',
      'Again/reed-2-2.png',
    ]);
    expect((await sharp(own).metadata()).width).toBeGreaterThan(0);
    expect(await readFile(theirs, 'utf8')).toBe('there');
    expect((await readdir(join(folder.outbox, 'Again'))).sort()).toEqual(['reed-1.png', 'reed-2-2.png', 'reed-2.png']);
  });
});

describe('leases', () => {
  it('hold whatever the clock does: put back they are free at the next start, put on nobody holds one twice', () => {
    const { rounds } = harness.services.stores;
    const wish = {
      kept: cleanOnly.kept,
      format: 'png8',
      longEdgePx: null,
      quality: 90,
      namePattern: '{frame}',
    } as const;
    vi.useFakeTimers({ toFake: ['Date'] });
    try {
      const day = 86_400_000;
      const begunAt = Date.now();
      const round = rounds.add({ ...wish, frameIds: [frames[0]], folder: 'Clock' });
      const job = rounds.take()!;
      expect(job.roundId).toBe(round.id);
      vi.setSystemTime(begunAt - 400 * day);
      expect(rounds.take()).toBeNull();
      rounds.renew(job.id);
      rounds.freeLeases();
      expect(rounds.take()!.id).toBe(job.id);
      // A job that its holder goes on with is renewed before anybody asks.
      vi.setSystemTime(begunAt + 400 * day);
      rounds.renew(job.id);
      expect(rounds.take()).toBeNull();
      rounds.failed(job.id, 'The test is over.');
      rounds.setState(round.id, 'ended');
    } finally {
      vi.useRealTimers();
    }
  });

  it('a job under which the process ended is begun again, the third time left alone', async () => {
    const { rounds } = harness.services.stores;
    mkdirSync(join(harness.services.folder.outbox, 'Leases'), { recursive: true });
    const keptNow = cleanOnly.kept;
    const round = rounds.add({
      kept: keptNow,
      frameIds: [frames[0]],
      format: 'png8',
      longEdgePx: null,
      quality: 90,
      namePattern: '{frame}',
      folder: 'Leases',
    });
    const first = rounds.take()!;
    expect(first.roundId).toBe(round.id);
    // Somebody holds it: nobody else gets it, until the lease is free.
    expect(rounds.take()).toBeNull();
    rounds.freeLeases();
    expect(rounds.take()!.id).toBe(first.id);
    rounds.freeLeases();
    expect(rounds.take()!.id).toBe(first.id);
    rounds.freeLeases();
    expect(rounds.take()).toBeNull();
    expect(rounds.job(first.id)).toMatchObject({
      state: 'failed',
      error: expect.stringMatching(/ended several times/),
    });
  });
});
