// @vitest-environment jsdom
import { act, renderHook, waitFor } from '@testing-library/react';
import { expect, it } from 'vitest';
import { useLatest } from '../src/surfaces/useLatest';

/** Answers when the test says so. */
function maker() {
  const asked: { job: string; answer(): void; fail(): void }[] = [];
  const make = (job: string) =>
    new Promise<string>((resolve, reject) =>
      asked.push({ job, answer: () => resolve(`made of ${job}`), fail: () => reject(new Error(`not ${job}`)) }),
    );
  return { asked, make };
}

function shownBy(make: (job: string) => Promise<string>) {
  const begin = { initialProps: { job: 'a' as string | null } };
  return renderHook(({ job }: { job: string | null }) => useLatest<string, string>(job, make), begin);
}
const settled = (settle: () => void) =>
  act(async () => {
    settle();
    await Promise.resolve();
  });

it('makes one at a time, and of those wanted meanwhile only the last', async () => {
  const { asked, make } = maker();
  const { result, rerender } = shownBy(make);
  for (const job of ['b', 'c', 'd']) rerender({ job });
  expect(asked.map(({ job }) => job)).toEqual(['a']);
  await settled(asked[0].answer);
  expect(result.current).toMatchObject({ value: 'made of a', isComing: true });
  await waitFor(() => expect(asked.map(({ job }) => job)).toEqual(['a', 'd']));
  await settled(asked[1].answer);
  expect(result.current).toEqual({ value: 'made of d', isComing: false, failure: null });
});

it('shows a draft before the whole, and makes no whole of what was left behind by then', async () => {
  const [drafts, wholes] = [maker(), maker()];
  const begin = { initialProps: { job: 'a' as string | null } };
  const { result, rerender } = renderHook(
    ({ job }: { job: string | null }) => useLatest<string, string>(job, wholes.make, drafts.make),
    begin,
  );
  rerender({ job: 'b' });
  await settled(drafts.asked[0].answer);
  expect(result.current).toMatchObject({ value: 'made of a', isComing: true });
  await waitFor(() => expect(drafts.asked.map(({ job }) => job)).toEqual(['a', 'b']));
  await settled(drafts.asked[1].answer);
  expect(result.current).toMatchObject({ value: 'made of b', isComing: true });
  await waitFor(() => expect(wholes.asked.map(({ job }) => job)).toEqual(['b']));
  await settled(wholes.asked[0].answer);
  expect(result.current).toEqual({ value: 'made of b', isComing: false, failure: null });
});

it('says why one failed, and makes the next all the same', async () => {
  const { asked, make } = maker();
  const { result, rerender } = shownBy(make);
  await settled(asked[0].fail);
  expect(result.current).toEqual({ value: null, isComing: false, failure: 'not a' });
  rerender({ job: 'b' });
  await settled(asked[1].answer);
  expect(result.current.value).toBe('made of b');
});

it('what is no longer wanted is not made', async () => {
  const { asked, make } = maker();
  const { rerender } = shownBy(make);
  rerender({ job: 'b' });
  rerender({ job: null });
  await settled(asked[0].answer);
  expect(asked.map(({ job }) => job)).toEqual(['a']);
});
