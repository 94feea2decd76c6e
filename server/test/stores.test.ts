import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { emptyPrescription } from '@vitrocept/core';
import { frameStore, type Frame } from '../src/db/frames';
import { openDatabase } from '../src/db/open';
import { prescriptionStore } from '../src/db/prescriptions';
import { renderJobStore } from '../src/db/renderJobs';

const folder = mkdtempSync(join(tmpdir(), 'vitrocept-stores-'));
afterAll(() => rmSync(folder, { recursive: true }));

let db: ReturnType<typeof openDatabase>;
let frame: Frame;
let opened = 0;

beforeEach(() => {
  db = openDatabase(join(folder, `${++opened}.sqlite`));
  db.prepare("INSERT INTO shoot (id, name, created_at) VALUES ('shoot', 'Saltmere', '')").run();
  frame = frameStore(db).add({
    shootId: 'shoot',
    name: 'one.tif',
    sha256: 'a'.repeat(64),
    format: 'tiff',
    width: 30,
    height: 20,
    channels: 3,
    bits: 16,
    profile: 'sRGB',
    exposure: { iso: 800 } as Frame['exposure'],
  });
  return () => db.close();
});

describe('a database file', () => {
  it('opened again is as it was, and its migrations do not run twice', () => {
    const path = join(folder, `${opened}.sqlite`);
    const again = openDatabase(path);
    expect(again.pragma('user_version', { simple: true })).toBe(db.pragma('user_version', { simple: true }));
    expect(frameStore(again).get(frame.id)).toEqual(frame);
    again.close();
  });

  it('holds no frame of a shoot that is not there, nor one twice', () => {
    const { id: _, ...same } = frame;
    expect(() => frameStore(db).add({ ...same, shootId: 'other' })).toThrow(/FOREIGN KEY/);
    expect(() => frameStore(db).add(same)).toThrow(/UNIQUE/);
    expect(frameStore(db).twinOf('shoot', frame.sha256)).toEqual(frame);
    expect(frameStore(db).twinOf('shoot', 'b'.repeat(64))).toBeNull();
    expect(frameStore(db).inShoot('shoot')).toEqual([frame]);
  });
});

describe('saved prescriptions', () => {
  it('are saved on top of the revision that was seen, and never over a newer one', () => {
    const store = prescriptionStore(db);
    expect(store.get(frame.id)).toEqual({ revision: 0, prescription: emptyPrescription() });
    const noted = { ...emptyPrescription(), box: { x: 1, y: 2, width: 16, height: 12 } };
    expect(store.save(frame.id, 0, noted)?.revision).toBe(1);
    // Another tab that still has revision 0.
    expect(store.save(frame.id, 0, emptyPrescription())).toBeNull();
    expect(store.get(frame.id)).toEqual({ revision: 1, prescription: noted });
    expect(store.save(frame.id, 1, emptyPrescription())?.revision).toBe(2);
  });
});

describe('render jobs', () => {
  it('are done in the order in which they were asked for', () => {
    const jobs = renderJobStore(db);
    const ids = Array.from({ length: 12 }, () => jobs.add(frame.id, emptyPrescription(), 'png16', 90).id);
    const order = ids.map(() => {
      const id = jobs.nextQueued()!;
      jobs.begin(id);
      jobs.done(id, 'one.png', 5);
      return id;
    });
    expect(order).toEqual(ids);
    expect(jobs.nextQueued()).toBeNull();
  });

  it('tell how far they are, and how they ended', () => {
    const jobs = renderJobStore(db);
    const { id } = jobs.add(frame.id, emptyPrescription(), 'jpeg', 80, ['original', 'recovered']);
    expect(jobs.get(id)).toMatchObject({ state: 'queued', frameName: 'one.tif', stages: ['original', 'recovered'] });
    jobs.begin(id);
    jobs.progress(id, 3, 8);
    expect(jobs.get(id)).toMatchObject({ state: 'running', tilesDone: 3, tilesAll: 8 });
    jobs.failed(id, 'The disk is full.');
    expect(jobs.get(id)).toMatchObject({ state: 'failed', error: 'The disk is full.', fileName: null });
    jobs.requeue(id);
    expect(jobs.get(id)).toMatchObject({ state: 'queued', error: null, finishedAt: null, tilesDone: 0 });
    jobs.stopped(id);
    expect(jobs.get(id)?.state).toBe('stopped');
    expect(jobs.all().map((job) => job.id)).toEqual([id]);
    expect(jobs.get('nothing')).toBeNull();
  });

  it('that ran when the server stopped wait again, the others stay as they ended', () => {
    const jobs = renderJobStore(db);
    const [running, done, queued] = [0, 1, 2].map(() => jobs.add(frame.id, emptyPrescription(), 'png16', 90).id);
    jobs.begin(running);
    jobs.begin(done);
    jobs.done(done, 'one.png', 12);
    jobs.requeueInterrupted();
    expect(jobs.get(running)?.state).toBe('queued');
    expect(jobs.get(done)).toMatchObject({ state: 'done', fileBytes: 12 });
    expect(jobs.get(queued)?.state).toBe('queued');
    expect(jobs.nextQueued()).toBe(running);
    expect(jobs.prescriptionOf(running)).toEqual(emptyPrescription());
  });
});
