import type { ShootSummary } from '@vitrocept/server';
import { PILE_NAMES } from '../words';

const ORDER = ['good-as-is', 'grainy', 'soft', 'beyond-recovery', 'unread'] as const;
const NAMES = { ...PILE_NAMES, unread: 'not read yet' };

/** How many frames lie in each pile, as a bar and in words. */
export function PileBar({ piles }: { piles: ShootSummary['piles'] }) {
  const present = ORDER.filter((pile) => piles[pile] > 0);
  if (present.length === 0) return null;
  return (
    <div>
      <div className="pile-bar" aria-hidden>
        {present.map((pile) => (
          <span key={pile} className={`pile-${pile}`} style={{ flexGrow: piles[pile] }} />
        ))}
      </div>
      <div className="text-soft">{present.map((pile) => `${piles[pile]} ${NAMES[pile]}`).join(' · ')}</div>
    </div>
  );
}
