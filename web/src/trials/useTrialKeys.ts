import { useEffect } from 'react';
import { addTrial, removeTrial, type Trial } from '@vitrocept/core';
import { isPressable, isTyping } from '../input/keys';
import { useFrameStore } from '../stores/frameStore';
import { MAGNIFICATIONS, useWallStore } from '../stores/wallStore';
import { newId } from '../input/newId';

interface TrialKeys {
  readonly trials: readonly Trial[];
  readonly selected: Trial | null;
  readonly firstProbeId: string | null;
  readonly hasColumns: boolean;
  onChoose(trial: Trial): void;
  onStrip(trial: Trial): void;
  onLikeness(): void;
}

/** The keys of the Wall. */
export function useTrialKeys(wall: TrialKeys): void {
  const { trials, selected, firstProbeId, hasColumns, onChoose, onStrip, onLikeness } = wall;
  const change = useFrameStore((state) => state.change);
  const { magnification, setMagnification, select, holdOne, room, enter } = useWallStore();

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event) || event.ctrlKey || event.metaKey || event.altKey) return;
      const key = event.key.toLowerCase();
      const letter = key.length === 1 ? key.charCodeAt(0) - 97 : -1;
      const level = MAGNIFICATIONS.indexOf(magnification);
      if (room.name !== 'wall') return;
      if (key === '1') holdOne(true);
      else if (key === 's' && selected) onStrip(selected);
      else if (key === 'w' && trials.length > 1 && firstProbeId) enter({ name: 'which' });
      else if (key === 'p' && hasColumns) onLikeness();
      else if (key === 'o' && selected && firstProbeId)
        enter({ name: 'close', trialId: selected.id, probeId: firstProbeId });
      else if (key === '+' || key === '=')
        setMagnification(MAGNIFICATIONS[Math.min(level + 1, MAGNIFICATIONS.length - 1)]);
      else if (key === '-') setMagnification(MAGNIFICATIONS[Math.max(level - 1, 0)]);
      else if (key === 'n') change((old) => addTrial(old, old.reading?.method ?? 'missed-focus', newId));
      else if (key === 'enter' && selected && !isOtherPressable(event)) {
        // On a trial's head Enter would press it once more.
        event.preventDefault();
        onChoose(selected);
      } else if (key === 'delete' && selected) change((old) => removeTrial(old, selected.id));
      else if (letter >= 0 && letter < trials.length) select(trials[letter].id);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });

  useEffect(() => {
    const letGo = () => holdOne(false);
    const onKeyUp = (event: KeyboardEvent) => {
      if (event.key === '1') letGo();
    };
    window.addEventListener('keyup', onKeyUp);
    window.addEventListener('blur', letGo);
    return () => {
      window.removeEventListener('keyup', onKeyUp);
      window.removeEventListener('blur', letGo);
      letGo();
    };
  }, [holdOne]);
}

/** A button or link with a meaning of its own for Enter. */
function isOtherPressable(event: KeyboardEvent): boolean {
  return isPressable(event) && !(event.target as Element).closest('button.trial-head');
}
