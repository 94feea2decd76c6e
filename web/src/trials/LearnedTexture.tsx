import type { Recovery, Trial } from '@vitrocept/core';

interface LearnedTextureProps {
  readonly trial: Trial;
  set(part: Partial<Recovery>, merge: string): void;
}

const HELP =
  'A small network, trained on sharp photographs, adds the texture that the recovery smoothed away. The audit judges it ' +
  'like everything else.';

/** Whether what a trained network finds missing is added. */
export function LearnedTexture({ trial, set }: LearnedTextureProps) {
  return (
    <label className="setting" title={HELP}>
      <span className="setting-head">
        <span>Learned texture</span>
        <input
          type="checkbox"
          checked={trial.learnedTexture === true}
          onChange={(event) => set({ learnedTexture: event.target.checked }, '')}
        />
      </span>
      <small className="text-muted">{trial.learnedTexture ? 'added to the recovery' : 'left out'}</small>
    </label>
  );
}
