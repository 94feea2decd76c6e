import { useEffect } from 'react';
import type { Stage } from '@vitrocept/core';
import { isTyping } from '../input/keys';
import { useWallStore } from '../stores/wallStore';

const KEYS: Readonly<Record<string, Stage>> = { '0': 'original', '9': 'cleaned', '8': 'recovered', '7': 'finished' };

/**
 * While a key is held every cell shows that stage: 0 the original, 9 as cleaned, 8 with the chosen recovery, 7
 * finished.
 */
export function useHeldStage(): Stage | null {
  const { held, hold } = useWallStore();
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      const stage = KEYS[event.key];
      if (stage && !isTyping(event) && !event.ctrlKey && !event.metaKey && !event.altKey) hold(stage);
    };
    const onKeyUp = (event: KeyboardEvent) => {
      if (KEYS[event.key]) hold(null);
    };
    const letGo = () => hold(null);
    window.addEventListener('keydown', onKeyDown);
    window.addEventListener('keyup', onKeyUp);
    window.addEventListener('blur', letGo);
    return () => {
      window.removeEventListener('keydown', onKeyDown);
      window.removeEventListener('keyup', onKeyUp);
      window.removeEventListener('blur', letGo);
      letGo();
    };
  }, [hold]);
  return held;
}
