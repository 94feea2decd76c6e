import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import type { Change, ShootDetail } from '@vitrocept/server';
import type { FrameDetail } from '../api/queries';
import { useFrameStore } from '../stores/frameStore';

/** Changes come in bursts, a tile of a render each: what is shown is asked for again this often at most. */
const BREATH_MS = 250;
/** A sheet of so many frames is heavy: while it is being sorted it is asked for less often. */
const MANY_FRAMES = 200;
const LONG_BREATH_MS = 2500;

/**
 * Asks again for what the server says has changed, as long as somebody looks at this page: hidden pages do not listen,
 * browsers keep few connections to one place.
 */
export function useChanges(): void {
  const client = useQueryClient();
  useEffect(() => {
    let source: EventSource | null = null;
    const timers = new Map<string, ReturnType<typeof setTimeout>>();
    const askAfter = (breathMs: number, key: readonly string[]) => {
      const name = key.join(' ');
      if (timers.has(name)) return;
      const ask = () => {
        timers.delete(name);
        void client.invalidateQueries({ queryKey: key });
      };
      timers.set(name, setTimeout(ask, breathMs));
    };
    const askAgain = (...key: string[]) => askAfter(BREATH_MS, key);
    const hear = (change: Change | { readonly kind: 'listening' }) => {
      switch (change.kind) {
        case 'listening':
          // Something may have changed while nobody listened.
          for (const key of ['shoots', 'trash', 'shoot', 'frame', 'renders', 'kept', 'rounds', 'round', 'hand-offs'])
            askAgain(key);
          return;
        case 'shoots':
          askAgain('shoots');
          askAgain('trash');
          return;
        case 'renders':
        case 'kept':
        case 'rounds':
        case 'hand-offs':
          askAgain(change.kind);
          return;
        case 'round':
          askAgain('round', change.id);
          askAgain('rounds');
          return;
        case 'shoot': {
          const shoot = client.getQueryData<ShootDetail>(['shoot', change.id]);
          askAfter((shoot?.frames.length ?? 0) > MANY_FRAMES ? LONG_BREATH_MS : BREATH_MS, ['shoot', change.id]);
          for (const [key, frame] of client.getQueriesData<FrameDetail>({ queryKey: ['frame'] })) {
            if (frame && ['waiting', 'sorted'].includes(frame.firstReading.state)) askAgain(...(key as string[]));
          }
          return;
        }
        case 'frame': {
          const { work } = useFrameStore.getState();
          // What this very page saved it knows.
          if (work?.frameId !== change.id || work.revision < change.revision) askAgain('frame', change.id);
        }
      }
    };
    const listen = () => {
      if (document.hidden) {
        source?.close();
        source = null;
      } else if (!source) {
        source = new EventSource('/api/changes');
        source.onmessage = ({ data }: MessageEvent<string>) => hear(JSON.parse(data) as Change);
      }
    };
    listen();
    document.addEventListener('visibilitychange', listen);
    return () => {
      document.removeEventListener('visibilitychange', listen);
      source?.close();
      for (const timer of timers.values()) clearTimeout(timer);
    };
  }, [client]);
}
