// @vitest-environment jsdom
import { act, renderHook } from '@testing-library/react';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { useRested } from '../src/surfaces/useRested';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

it('gives a value only once it has rested, however often it changed meanwhile', () => {
  const { result, rerender } = renderHook(({ value }) => useRested(value, 400), { initialProps: { value: 1 } });
  const wait = (ms: number) => act(() => void vi.advanceTimersByTime(ms));
  for (const value of [2, 3, 4]) {
    rerender({ value });
    wait(300);
    expect(result.current).toBe(1);
  }
  wait(100);
  expect(result.current).toBe(4);
});
