import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { sendFile } from '../api/client';
import { embeddedPreview } from './embeddedPreview';

export interface Arrival {
  readonly id: number;
  readonly name: string;
  readonly share: number;
  readonly outcome: 'waiting' | 'sending' | 'in' | 'known' | 'refused';
  readonly sentence: string | null;
  /** Address of the JPEG inside a raw file. */
  readonly preview?: string;
}

const AT_ONCE = 2;
let nextId = 1;

/** Brings files into a shoot, two at a time. A refused file says why and does not hold up the others. */
export function useBringIn() {
  const client = useQueryClient();
  const [arrivals, setArrivals] = useState<readonly Arrival[]>([]);
  const update = (id: number, change: Partial<Arrival>) =>
    setArrivals((all) => all.map((arrival) => (arrival.id === id ? { ...arrival, ...change } : arrival)));

  async function bringIn(shootId: string, files: readonly File[]): Promise<void> {
    const queue = files.map((file) => ({ file, id: nextId++ }));
    const waiting = queue.map(({ file, id }) => ({
      id,
      name: file.name,
      share: 0,
      outcome: 'waiting' as const,
      sentence: null,
    }));
    setArrivals((all) => [...all, ...waiting]);
    const takeNext = async (): Promise<void> => {
      for (let next = queue.shift(); next; next = queue.shift()) {
        const { file, id } = next;
        update(id, { outcome: 'sending' });
        const preview = await embeddedPreview(file);
        if (preview) update(id, { preview: URL.createObjectURL(preview) });
        try {
          const { known } = await sendFile<{ known: boolean }>(`/api/shoots/${shootId}/frames`, file, (share) =>
            update(id, { share }),
          );
          update(id, { outcome: known ? 'known' : 'in', share: 1, sentence: known ? 'already in this shoot' : null });
        } catch (error) {
          update(id, { outcome: 'refused', sentence: (error as Error).message });
        }
        void client.invalidateQueries({ queryKey: ['shoot', shootId] });
        void client.invalidateQueries({ queryKey: ['shoots'] });
      }
    };
    await Promise.all(Array.from({ length: AT_ONCE }, takeNext));
  }

  const clear = () => {
    for (const { preview } of arrivals) if (preview) URL.revokeObjectURL(preview);
    setArrivals([]);
  };
  const isBusy = arrivals.some(({ outcome }) => outcome === 'waiting' || outcome === 'sending');
  return { arrivals, bringIn, isBusy, clear };
}
