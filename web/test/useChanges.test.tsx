// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { cleanup, render } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { useChanges } from '../src/workspace/useChanges';

/** What the browser has for a stream of events; the test speaks for the server. */
class FakeSource {
  static all: FakeSource[] = [];
  isClosed = false;
  onmessage: ((event: { data: string }) => void) | null = null;
  constructor(readonly url: string) {
    FakeSource.all.push(this);
  }
  close() {
    this.isClosed = true;
  }
  say(change: object) {
    this.onmessage?.({ data: JSON.stringify(change) });
  }
}

function Listens() {
  useChanges();
  return null;
}

let isHidden = false;
const look = (hidden: boolean) => {
  isHidden = hidden;
  document.dispatchEvent(new Event('visibilitychange'));
};

describe('a page that is told what changes', () => {
  let client: QueryClient;
  const asked: string[] = [];

  beforeEach(() => {
    vi.useFakeTimers();
    vi.stubGlobal('EventSource', FakeSource);
    Object.defineProperty(document, 'hidden', { configurable: true, get: () => isHidden });
    FakeSource.all = [];
    isHidden = false;
    asked.length = 0;
    client = new QueryClient();
    vi.spyOn(client, 'invalidateQueries').mockImplementation(async (filters) => {
      asked.push((filters!.queryKey as string[]).join(' '));
    });
  });
  afterEach(() => {
    cleanup();
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });
  const shown = () =>
    render(
      <QueryClientProvider client={client}>
        <Listens />
      </QueryClientProvider>,
    );

  it('asks again for what changed, once for a burst', () => {
    shown();
    const [source] = FakeSource.all;
    expect(source.url).toBe('/api/changes');
    for (let tile = 0; tile < 9; tile++) source.say({ kind: 'renders' });
    source.say({ kind: 'shoot', id: 's' });
    expect(asked).toEqual([]);
    vi.advanceTimersByTime(300);
    expect(asked).toEqual(['renders', 'shoot s']);
    source.say({ kind: 'frame', id: 'f', revision: 4 });
    vi.advanceTimersByTime(300);
    expect(asked.at(-1)).toBe('frame f');
  });

  it('a frame that waits for its Reading is asked for when its shoot changes, others are not', () => {
    shown();
    client.setQueryData(['frame', 'waits'], { firstReading: { state: 'waiting' } });
    client.setQueryData(['frame', 'read'], { firstReading: { state: 'done' } });
    FakeSource.all[0].say({ kind: 'shoot', id: 's' });
    vi.advanceTimersByTime(300);
    expect(asked).toEqual(['shoot s', 'frame waits']);
  });

  it('a sheet of very many frames is asked for less often, once all the same', () => {
    shown();
    client.setQueryData(['shoot', 's'], { frames: Array.from({ length: 500 }, (_, id) => ({ id })) });
    FakeSource.all[0].say({ kind: 'shoot', id: 's' });
    vi.advanceTimersByTime(300);
    FakeSource.all[0].say({ kind: 'shoot', id: 's' });
    expect(asked).toEqual([]);
    vi.advanceTimersByTime(2500);
    expect(asked).toEqual(['shoot s']);
  });

  it('does not listen while it is hidden, and looks at everything when it is seen again', () => {
    const { unmount } = shown();
    look(true);
    expect(FakeSource.all[0].isClosed).toBe(true);
    look(false);
    expect(FakeSource.all).toHaveLength(2);
    FakeSource.all[1].say({ kind: 'listening' });
    vi.advanceTimersByTime(300);
    expect(asked).toEqual(['shoots', 'trash', 'shoot', 'frame', 'renders', 'kept', 'rounds', 'round', 'hand-offs']);
    unmount();
    expect(FakeSource.all[1].isClosed).toBe(true);
  });
});
