import { expect, it } from 'vitest';
import { hostileRequests } from '../../soak/hostileRequests';
import { kills } from '../../soak/kills';

it('2 kills at random moments: whatever the server had promised is there ever after', async () => {
  const { tried, problems, promisedFrames } = await kills(2);
  expect(problems).toEqual([]);
  // Something had been promised at all.
  expect(promisedFrames).toBeGreaterThan(0);
  // Each kill; frame, render, round and watched file of the first start; and what is left behind.
  expect(tried).toBeGreaterThanOrEqual(11);
});

it('60 requests that no page would send: an answer, no crash, nothing of the inside', async () => {
  expect((await hostileRequests(60)).problems).toEqual([]);
});
