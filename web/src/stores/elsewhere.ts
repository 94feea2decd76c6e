import { api, send } from '../api/client';
import { queries } from '../api/queryClient';
import type { Prescription } from '@vitrocept/core';
import { isSame, type Elsewhere } from './frameWork';

type ChangeElsewhere = (frameId: string, act: (old: Prescription) => Prescription) => Promise<unknown>;

/** Takes back what an act did elsewhere. Resolves with a sentence where something had to stay. */
export function undoElsewhere(elsewhere: Elsewhere, change: ChangeElsewhere): Promise<string | null> {
  return turn(elsewhere, change, 'before');
}

export function redoElsewhere(elsewhere: Elsewhere, change: ChangeElsewhere): Promise<string | null> {
  return turn(elsewhere, change, 'after');
}

async function turn(elsewhere: Elsewhere, change: ChangeElsewhere, to: 'before' | 'after'): Promise<string | null> {
  if (elsewhere.kind === 'removed version') {
    const { frameId, versionId } = elsewhere;
    const path = `/api/frames/${frameId}/versions/${versionId}`;
    if (to === 'before') await send('POST', `${path}/restore`, {});
    else await api(path, { method: 'DELETE' });
    await queries.invalidateQueries({ queryKey: ['versions', frameId] });
    return null;
  }
  const stayed: string[] = [];
  for (const { frameId, name, ...states } of elsewhere.frames) {
    const from = to === 'before' ? states.after : states.before;
    await change(frameId, (old) => {
      if (isSame(old, from)) return states[to];
      stayed.push(name);
      return old;
    });
  }
  return stayed.length > 0 ? `${stayed.join(', ')} was changed since and stays as it is; undo it there.` : null;
}
