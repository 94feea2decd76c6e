// @vitest-environment jsdom
import { act, renderHook, waitFor } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import { emptyPrescription, withCorrection } from '@vitrocept/core';
import type { LightJob } from '@vitrocept/workers';
import { useLitMap } from '../src/surfaces/useLitMap';
import { useFrameStore } from '../src/stores/frameStore';
import { FRAME, openPage } from './page';

const { asked, engine } = vi.hoisted(() => {
  const asked: LightJob[] = [];
  /** Nothing is drawn: only what is asked for counts. */
  const showLight = (job: LightJob) => Promise.resolve({ bitmap: null, asked: asked.push(job) });
  return { asked, engine: { light: { showLight } } };
});
vi.mock('../src/surfaces/tileEngine', () => ({ tileEngine: engine }));

it('another frame is never asked for with the corrections of the one before', async () => {
  openPage();
  const brighter = withCorrection(emptyPrescription(), 'exposureEv', 1);
  useFrameStore.setState({ prescription: brighter });
  const other = { ...FRAME, id: 'another' };
  const { rerender } = renderHook(({ frame }) => useLitMap(frame), { initialProps: { frame: FRAME } });
  // The draft and the whole.
  await waitFor(() => expect(asked.map(({ frame }) => frame.id)).toEqual([FRAME.id, FRAME.id]));
  useFrameStore.setState({ frame: other, prescription: emptyPrescription() });
  rerender({ frame: other });
  await act(() => new Promise((resolve) => setTimeout(resolve)));
  expect(asked.filter(({ frame }) => frame.id === other.id)).toEqual([]);
});
