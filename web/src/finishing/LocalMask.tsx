import { useEffect, useMemo } from 'react';
import { Link, Navigate, useParams } from 'react-router';
import { MaskRoom } from '../mask/MaskStep';
import { useWorkspace } from '../parts/useWorkspace';
import { useLightStore } from '../stores/lightStore';

/** Where a local change acts: the tools of the mask, on the mask of that change. */
export function LocalMask() {
  const { frame, prescription } = useWorkspace();
  const { changeId = '' } = useParams();
  const { localId, set } = useLightStore();
  const change = prescription.finishing?.localChanges.find(({ mask }) => mask.id === changeId);
  useEffect(() => {
    set({ localId: changeId });
    return () => set({ localId: null });
  }, [changeId, set]);
  const own = useMemo(() => (change ? { ...prescription, mask: change.mask } : null), [prescription, change]);
  if (!own) return <Navigate to="../finishing" replace />;
  // The tools may only be used once they know whose mask they work on.
  if (localId !== changeId) return null;
  return (
    <MaskRoom frame={frame} prescription={own}>
      <section className="card-plain" aria-label="Local change">
        <div className="card-head">
          <strong>{own.mask.name}</strong>
          <Link to="../finishing" onClick={() => set({ finishing: 'eye' })}>
            back to Finishing
          </Link>
        </div>
        <p className="text-soft">Where this local change acts.</p>
      </section>
    </MaskRoom>
  );
}
