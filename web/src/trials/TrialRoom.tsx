import { useState } from 'react';
import type { Prescription, Trial } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';
import { useWallStore, type Magnification, type WallRoom } from '../stores/wallStore';
import { CloseLook } from './CloseLook';
import { Likeness } from './Likeness';
import type { Columns } from './useColumns';
import { WhichIsBetter } from './WhichIsBetter';

interface TrialRoomProps {
  readonly frame: FrameDetail;
  readonly prescription: Prescription;
  readonly columns: Columns;
  readonly selected: Trial | null;
  onChoose(trial: Trial): void;
}

/** Whether there is anything to see in the room that was entered. */
export function hasRoom(room: WallRoom, { probes, trials }: Prescription, { all, versions }: Columns): boolean {
  switch (room.name) {
    case 'close': {
      const isThere = [...trials, ...versions].some(({ id }) => id === room.trialId);
      return isThere && probes.some(({ id }) => id === room.probeId);
    }
    case 'which':
      return trials.length > 1 && probes.length > 0;
    case 'likeness':
      return all.length > 0;
    default:
      return false;
  }
}

/** A room off the Wall: one cell large, two unnamed, the face. */
export function TrialRoom(props: TrialRoomProps) {
  const { enter, room, magnification } = useWallStore();
  return <div className="stage room">{roomOf(props, room, magnification, () => enter({ name: 'wall' }))}</div>;
}

function roomOf(
  { frame, prescription, columns, selected, onChoose }: TrialRoomProps,
  room: WallRoom,
  magnification: Magnification,
  toWall: () => void,
) {
  const { probes, trials } = prescription;
  const { original, all, versions, titles } = columns;
  if (room.name === 'close') {
    const at = [...trials, ...versions].findIndex(({ id }) => id === room.trialId);
    const row = probes.findIndex(({ id }) => id === room.probeId);
    return (
      <CloseLook
        frame={frame}
        original={original}
        trial={all[at]}
        title={titles[at]}
        probe={probes[row]}
        probeName={probes[row].name || `probe ${row + 1}`}
        onClose={toWall}
      />
    );
  }
  if (room.name === 'which') {
    return (
      <WhichIsBetter
        frame={frame}
        original={original}
        trials={trials}
        tried={columns.trials}
        probes={probes}
        magnification={magnification}
        onChoose={(id) => onChoose(trials.find((trial) => trial.id === id)!)}
        onClose={toWall}
      />
    );
  }
  const first = Math.max(0, selected ? trials.indexOf(selected) : 0);
  return <LikenessRoom frame={frame} columns={columns} trials={trials} first={first} onClose={toWall} />;
}

interface LikenessRoomProps {
  readonly frame: FrameDetail;
  readonly columns: Columns;
  readonly trials: readonly Trial[];
  readonly first: number;
  onClose(): void;
}

function LikenessRoom({ frame, columns, trials, first, onClose }: LikenessRoomProps) {
  const select = useWallStore((state) => state.select);
  /** The column whose likeness is looked at, where it is not the selected trial's: an outside version. */
  const [column, setColumn] = useState<number | null>(null);
  return (
    <Likeness
      frame={frame}
      original={columns.original}
      columns={columns.all}
      titles={columns.titles}
      selected={Math.min(column ?? first, columns.all.length - 1)}
      onSelect={(next) => {
        setColumn(next);
        if (trials[next]) select(trials[next].id);
      }}
      onClose={onClose}
    />
  );
}
