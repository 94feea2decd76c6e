import { useMemo } from 'react';
import { asTaken, recoveryOf, type Prescription } from '@vitrocept/core';
import type { OutsideVersion } from '@vitrocept/server';
import { useVersions } from '../api/queries';
import { useFrameStore } from '../stores/frameStore';
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
  const { reading, mask, cleaning, masksBelow, masksAbove, trials } = prescription;
  const { data: versions = NO_VERSIONS } = useVersions(frameId);
  const own = useMemo(() => {
    const base = { ...useFrameStore.getState().prescription!, reading, mask, cleaning, masksBelow, masksAbove };
    return { original: asTaken(base), trials: trials.map((trial) => ({ ...base, recovery: recoveryOf(trial) })) };
  }, [reading, mask, cleaning, masksBelow, masksAbove, trials]);
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
