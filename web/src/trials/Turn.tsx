import { withoutPlaces, type Recovery, type StoredPath } from '@vitrocept/core';

interface TurnProps {
  readonly trial: Recovery;
  /** The path of the Reading. */
  readonly read: StoredPath | undefined;
  set(part: Partial<Recovery>, merge: string): void;
}

/** Of a camera that turned as well as it moved: the path place by place, or one everywhere. */
export function Turn({ trial, read, set }: TurnProps) {
  const known = trial.path?.places ? trial.path : read;
  if (!trial.path || !known?.places) return null;
  return (
    <label
      className="setting turn-switch"
      title="The path was found place by place. Without this one holds everywhere: the one found where most edges are."
    >
      <input
        type="checkbox"
        checked={trial.path.places !== undefined}
        onChange={(event) => set({ path: event.target.checked ? known : withoutPlaces(trial.path!) }, '')}
      />{' '}
      follow the turn of the camera
    </label>
  );
}
