import { useEffect, useId, useMemo, useSyncExternalStore } from 'react';
import {
  figuresOver,
  regionOfProbe,
  unchangedFigures,
  type Figures,
  type Probe,
  type Region,
  type TileAudit,
} from '@vitrocept/core';
import type { WorkerFrame } from '@vitrocept/workers';
import { tileEngine } from '../surfaces/tileEngine';
import { layer, type Column } from '../surfaces/tileKeys';
import { useTiles } from '../surfaces/useTiles';

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
  const known = kept.get(audits[0]) ?? new Map<string, Figures>();
  kept.set(audits[0], known);
  const place = [region.x, region.y, region.width, ...parts.map(({ key }) => key)].join(' ');
  const figures = known.get(place) ?? figuresOver(audits, region);
  known.set(place, figures);
  return figures;
}

export interface MaskAudit {
  readonly done: number;
  readonly total: number;
  /** Null until all of it is done. */
  readonly figures: Figures | null;
  /** Why a tile of it could not be computed. */
  readonly failure: string | null;
}

/** The audit over a whole region, tile by tile as it comes; asks for nothing while `column` is null. */
export function useRegionAudit(frame: WorkerFrame, column: Column | null, region: Region): MaskAudit {
  const parts = column ? layer(frame, column, region, 'final', 6000) : [];
  const version = useTiles(parts);
  const keys = parts.map(({ key }) => key).join('|');
  return useMemo(() => {
    const done = parts.filter(({ key }) => tileEngine.isDone(key)).length;
    const audits = parts.map(({ key }) => tileEngine.auditOf(key)).filter((audit) => audit !== null);
    const figures = done < parts.length ? null : audits.length > 0 ? figuresOver(audits, region) : unchangedFigures();
    const failure = parts.map(({ key }) => tileEngine.failureOf(key)).find((sentence) => sentence !== null) ?? null;
    return { done, total: parts.length, figures, failure };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- version says that tiles arrived, keys which they are
  }, [version, keys]);
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
