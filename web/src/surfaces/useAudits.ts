import { useEffect, useId, useMemo, useSyncExternalStore } from 'react';
import {
  figuresOver,
  regionOfProbe,
  unchangedFigures,
  type Figures,
  type Probe,
  type TileAudit,
} from '@vitrocept/core';
import type { WorkerFrame } from '@vitrocept/workers';
import { tileEngine } from './tileEngine';
import { layer, type Column } from './tileKeys';

const kept = new WeakMap<TileAudit, Map<string, Figures>>();

/** What the audit says of a prescription at one probe; null while a tile of it is still being computed. */
export function figuresAt(frame: WorkerFrame, prescription: Column, probe: Probe): Figures | null {
  const isUnchanged = !prescription.recovery || prescription.recovery.amount.value === 0;
  if (isUnchanged && !prescription.outside) return unchangedFigures();
  const region = regionOfProbe(probe);
  const parts = layer(frame, prescription, region, 'final', 0);
  if (parts.length === 0) return null;
  const audits: TileAudit[] = [];
  for (const { key } of parts) {
    if (!tileEngine.isDone(key)) return null;
    const audit = tileEngine.auditOf(key);
    if (audit) audits.push(audit);
  }
  if (audits.length === 0) return unchangedFigures();
  if (audits.length > 1) return figuresOver(audits, region);
  const known = kept.get(audits[0]) ?? new Map<string, Figures>();
  kept.set(audits[0], known);
  const place = `${region.x} ${region.y} ${region.width}`;
  const figures = known.get(place) ?? figuresOver(audits, region);
  known.set(place, figures);
  return figures;
}

/** Figures by trial and probe; asks for the tiles that are missing. */
export function useAudits(
  frame: WorkerFrame,
  trials: readonly Column[],
  probes: readonly Probe[],
): (Figures | null)[][] {
  const owner = useId();
  const version = useSyncExternalStore(tileEngine.subscribe, tileEngine.getVersion);
  const places = probes.map(({ x, y, size }) => `${x} ${y} ${size}`).join(';');
  useEffect(() => {
    const wanted = trials.flatMap((trial) =>
      probes.flatMap((probe, i) => layer(frame, trial, regionOfProbe(probe), 'final', 3000 + i)),
    );
    tileEngine.want(
      owner,
      wanted.map(({ want }) => want),
    );
    return () => tileEngine.forget(owner);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- names of probes change nothing here
  }, [frame, trials, places, owner]);
  return useMemo(
    () => trials.map((trial) => probes.map((probe) => figuresAt(frame, trial, probe))),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- version says that tiles arrived
    [version, frame, trials, places],
  );
}
