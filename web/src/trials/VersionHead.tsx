import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { OutsideVersion } from '@vitrocept/server';
import { api } from '../api/client';
import { useFrameStore } from '../stores/frameStore';

interface VersionHeadProps {
  readonly version: OutsideVersion;
  readonly letter: string;
  readonly width: number;
}

/** Head of an outside version's column: its file, how well it lies on the frame, and removal, which asks once. */
export function VersionHead({ version, letter, width }: VersionHeadProps) {
  const client = useQueryClient();
  const did = useFrameStore((state) => state.did);
  const [asks, setAsks] = useState(false);
  const [failure, setFailure] = useState<string | null>(null);
  const { name, alignment, frameId, id } = version;
  const size = `${version.width} × ${version.height} px`;
  const remove = async () => {
    if (!asks) return setAsks(true);
    try {
      await api(`/api/frames/${frameId}/versions/${id}`, { method: 'DELETE' });
      did({ kind: 'removed version', frameId, versionId: id });
    } catch (error) {
      setFailure((error as Error).message);
    }
    await client.invalidateQueries({ queryKey: ['versions', frameId] });
  };
  return (
    <div role="columnheader" style={{ width }}>
      <div
        className="trial-head"
        title={`${name}, ${size}; lies on the frame within ${alignment.medianPx.toFixed(2)} px (median), ${alignment.worstPx.toFixed(2)} px (95 %)`}
      >
        <span className="trial-method">
          <strong>{letter}</strong> {name}
        </span>
        <span className="figure">
          ±{alignment.medianPx.toFixed(2)} px{' '}
          <button
            type="button"
            className="link-button"
            aria-label={`Remove outside version ${letter}`}
            onBlur={() => setAsks(false)}
            onClick={() => void remove()}
          >
            {asks ? 'really?' : 'remove'}
          </button>
          {failure && (
            <span className="text-damaged" role="alert" title={failure}>
              not removed
            </span>
          )}
        </span>
      </div>
    </div>
  );
}
