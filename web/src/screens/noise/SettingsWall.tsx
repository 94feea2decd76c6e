import { useMemo } from 'react';
import Button from 'react-bootstrap/Button';
import {
  asTaken,
  cleanedOnly,
  cleaningAs,
  CLEANING_SETTINGS,
  contentKey,
  type Prescription,
  type Probe,
} from '@vitrocept/core';
import type { WorkerFrame } from '@vitrocept/workers';
import { useFrameStore } from '../../stores/frameStore';
import { CLEANING_HELP, CLEANING_NAMES } from '../../words';
import { withCleaning } from '../cleaningActs';
import { NoiseCell } from './NoiseCell';

const CELL = { width: 177, height: 124 };

interface SettingsWallProps {
  readonly frame: WorkerFrame;
  readonly prescription: Prescription;
  readonly probes: readonly Probe[];
  readonly beneath: Prescription;
  readonly isHeld: boolean;
}

/** Several ways to clean the frame beside each other, all else on Automatic. */
export function SettingsWall({ frame, prescription, probes, beneath, isHeld }: SettingsWallProps) {
  const change = useFrameStore((state) => state.change);
  const { reading, cleaning } = prescription;
  const columns = useMemo(() => {
    const base = cleanedOnly(prescription);
    return CLEANING_SETTINGS.flatMap((setting) => {
      const one = cleaningAs(setting, reading);
      return one ? [{ setting, cleaning: one, column: { ...base, cleaning: one } }] : [];
    });
  }, [prescription, reading]);
  const original = useMemo(() => asTaken(prescription), [prescription]);
  const chosen = cleaning && contentKey(cleaning);
  return (
    <div className="wall" role="grid" aria-label="Settings of the cleaning">
      <div className="wall-row wall-heads" role="row">
        <div className="wall-side" role="columnheader" aria-label="Probe" />
        <div className="trial-head is-original" role="columnheader" style={{ width: CELL.width }}>
          <strong>Original</strong>
          <span className="figure">as taken</span>
        </div>
        {columns.map(({ setting, cleaning: one }) => {
          const isChosen = contentKey(one) === chosen;
          return (
            <div
              key={setting}
              className="trial-head setting-head-cell"
              role="columnheader"
              style={{ width: CELL.width }}
            >
              <strong title={CLEANING_HELP[setting]}>{CLEANING_NAMES[setting]}</strong>
              <Button
                size="sm"
                variant="outline-primary"
                disabled={isChosen}
                onClick={() => change((old) => withCleaning(old, one))}
              >
                {isChosen ? 'in use' : 'use this'}
              </Button>
              <span className="setting-help">{CLEANING_HELP[setting]}</span>
            </div>
          );
        })}
      </div>
      {probes.map((probe, row) => (
        <div key={probe.id} className="wall-row" role="row">
          <div className="wall-side" role="rowheader">
            <span className="probe-number">{row + 1}</span>
          </div>
          <div role="gridcell" className="is-pinned">
            <NoiseCell
              {...CELL}
              frame={frame}
              column={original}
              beneath={original}
              isHeld={false}
              probe={probe}
              rank={row}
              label={`Original at probe ${row + 1}`}
              drawsPlaces={false}
              foot="magnification"
            />
          </div>
          {columns.map(({ setting, column, cleaning: one }, i) => (
            <div key={setting} role="gridcell" className={contentKey(one) === chosen ? 'is-selected' : ''}>
              <NoiseCell
                {...CELL}
                frame={frame}
                column={column}
                beneath={beneath}
                isHeld={isHeld}
                probe={probe}
                rank={20 + row * 10 + i}
                label={`${CLEANING_NAMES[setting]} at probe ${row + 1}`}
                drawsPlaces={false}
                foot="check"
              />
            </div>
          ))}
        </div>
      ))}
    </div>
  );
}
