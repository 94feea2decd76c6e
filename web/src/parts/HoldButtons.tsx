import { stagesOf, type Prescription, type Stage } from '@vitrocept/core';
import { useWallStore } from '../stores/wallStore';

const KEYS: Record<Stage, string> = { original: '0', cleaned: '9', recovered: '8', finished: '7' };

/** While one is pressed, or its key held, every cell shows that stage of the frame. */
export function HoldButtons({ prescription }: { prescription: Prescription }) {
  const hold = useWallStore((state) => state.hold);
  return (
    <>
      <span>hold for</span>
      {stagesOf(prescription).map((stage) => (
        <button
          key={stage}
          type="button"
          className="hold-button"
          aria-label={`Hold for the ${stage} frame`}
          onPointerDown={() => hold(stage)}
          onPointerUp={() => hold(null)}
          onPointerLeave={() => hold(null)}
        >
          {stage} <kbd>{KEYS[stage]}</kbd>
        </button>
      ))}
    </>
  );
}
