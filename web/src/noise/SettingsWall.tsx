import { useMemo } from 'react';
import Button from 'react-bootstrap/Button';
import { asTaken, cleanedOnly, CLEANING_SETTINGS, cleaningAs, contentKey, withCleaning } from '@vitrocept/core';
import { useFrameStore } from '../stores/frameStore';
import { CLEANING_HELP, CLEANING_NAMES } from '../words';
import { NoiseGrid, type NoiseColumn, type NoiseView } from './NoiseGrid';

const CELL = { width: 177, height: 124 };

/** Several ways to clean the frame beside each other, all else on Automatic. */
export function SettingsWall({ prescription, ...view }: NoiseView) {
  const change = useFrameStore((state) => state.change);
  const { reading, cleaning } = prescription;
  const original = useMemo(() => asTaken(prescription), [prescription]);
  const ways = useMemo(() => {
    const base = cleanedOnly(prescription);
    return CLEANING_SETTINGS.flatMap((setting) => {
      const one = cleaningAs(setting, reading);
      return one ? [{ setting, cleaning: one, column: { ...base, cleaning: one } }] : [];
    });
  }, [prescription, reading]);
  const used = cleaning && contentKey(cleaning);
  const columns = ways.map(({ setting, cleaning: one, column }): NoiseColumn => {
    const isUsed = contentKey(one) === used;
    return {
      name: CLEANING_NAMES[setting],
      head: (
        <>
          <strong>{CLEANING_NAMES[setting]}</strong>
          <Button
            size="sm"
            variant="outline-primary"
            disabled={isUsed}
            onClick={() => change((old) => withCleaning(old, one))}
          >
            {isUsed ? 'in use' : 'use this'}
          </Button>
          <span className="noise-help">{CLEANING_HELP[setting]}</span>
        </>
      ),
      column,
      foot: 'check',
      isSelected: isUsed,
    };
  });
  return <NoiseGrid {...view} label="Settings of the cleaning" original={original} columns={columns} cell={CELL} />;
}
