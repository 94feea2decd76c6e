import { useMemo } from 'react';
import { regionOfProbe, type CleaningCheck, type Probe } from '@vitrocept/core';
import type { WorkerFrame } from '@vitrocept/workers';
import { tileEngine } from '../surfaces/tileEngine';
import { layer, type Column } from '../surfaces/tileKeys';
import { useTiles } from '../surfaces/useTiles';

/** What the check says of the tiles a probe touches; null while it is not known. */
export function useCleaningChecks(
  frame: WorkerFrame,
  column: Column,
  probe: Probe,
  rank: number,
): readonly CleaningCheck[] | null {
  const isCleaned = column.cleaning !== null;
  const parts = useMemo(
    () => (isCleaned ? layer(frame, column, regionOfProbe(probe), 'final', rank) : []),
    [frame, column, probe, rank, isCleaned],
  );
  useTiles(parts);
  if (!isCleaned) return null;
  const checks = parts.map(({ key }) => tileEngine.checkOf(key));
  return checks.every((check) => check !== null) ? checks : null;
}
