import { useMemo } from 'react';
import { asTaken, inItsLight, recoveredOnly, recoveryOf, type Prescription } from '@vitrocept/core';
import type { OutsideVersion } from '@vitrocept/server';
import { useVersions } from '../api/queries';
import { useFrameStore } from '../stores/frameStore';
import { useLightStore } from '../stores/lightStore';
import type { Column } from '../surfaces/tileKeys';
import { trialLetter, trialName } from '../words';

const NO_VERSIONS: readonly OutsideVersion[] = [];

export interface Columns {
  readonly original: Prescription;
  /** The prescription as each trial would make it. */
  readonly trials: readonly Prescription[];
  readonly outside: readonly Column[];
  /** Trials, then outside versions. */
  readonly all: readonly Column[];
  readonly versions: readonly OutsideVersion[];
  readonly titles: readonly string[];
}

/** What the Wall compares. Only what changes pixels makes new columns: a moved probe or another choice does not. */
export function useColumns(frameId: string, prescription: Prescription): Columns {
  const { reading, mask, cleaning, masksBelow, masksAbove, trials, corrections } = prescription;
  const isLit = useLightStore((state) => state.isLit);
  const { data: versions = NO_VERSIONS } = useVersions(frameId);
  const own = useMemo(() => {
    const whole = { ...useFrameStore.getState().prescription!, reading, mask, cleaning, masksBelow, masksAbove };
    const lit = (column: Prescription) => (isLit ? inItsLight(column, { ...whole, corrections }) : column);
    const base = recoveredOnly(whole);
    return {
      original: lit(asTaken(base)),
      trials: trials.map((trial) => lit({ ...base, recovery: recoveryOf(trial) })),
    };
  }, [reading, mask, cleaning, masksBelow, masksAbove, trials, corrections, isLit]);
  return useMemo(() => {
    const outside = versions.map(({ id, width, height, alignment: { placement } }): Column => ({
      ...own.original,
      outside: { id, width, height, placement },
    }));
    const names = [...trials.map(trialName), ...versions.map(({ name }) => name)];
    const titles = names.map((name, i) => `${trialLetter(i)} · ${name}`);
    return { ...own, outside, all: [...own.trials, ...outside], versions, titles };
  }, [own, versions, trials]);
}
