// @vitest-environment jsdom
import { beforeEach, expect, it } from 'vitest';
import { useSafestStore } from '../src/stores/safestStore';

const found = { amount: 62, limit: null, figures: [] };
const state = () => useSafestStore.getState();

beforeEach(() => useSafestStore.setState({ found: {}, failed: [], underway: [] }));

it('what was found is there again when the page is opened anew', async () => {
  state().begin('a');
  expect(state().underway).toEqual(['a']);
  state().end('a', found);
  const kept = localStorage.getItem('vitrocept-strongest-safe')!;
  useSafestStore.setState({ found: {} });
  localStorage.setItem('vitrocept-strongest-safe', kept);
  await useSafestStore.persist.rehydrate();
  expect(state().found).toEqual({ a: found });
  expect(state().underway).toEqual([]);
});

it('what could not be found is neither taken for safe nor remembered, and may be tried again', () => {
  state().begin('a');
  state().end('a', null);
  expect(state()).toMatchObject({ found: {}, failed: ['a'], underway: [] });
  expect(localStorage.getItem('vitrocept-strongest-safe')).not.toContain('failed');
  state().begin('a');
  expect(state().failed).toEqual([]);
});

it('the oldest are forgotten', () => {
  for (let i = 0; i < 230; i++) state().end(`t${i}`, found);
  state().end('t100', found);
  expect(Object.keys(state().found)).toHaveLength(200);
  expect(state().found.t29).toBeUndefined();
  expect(Object.keys(state().found).at(-1)).toBe('t100');
});
