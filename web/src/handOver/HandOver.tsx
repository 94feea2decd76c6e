import { CoreError, sizeAfter, type Prescription, type Size } from '@vitrocept/core';
import { useRenders } from '../api/queries';
import { RenderCard } from '../parts/RenderCard';
import { useWorkspace } from '../parts/useWorkspace';
import { useCopyStore, wishesFor } from '../stores/copyStore';
import { BeforeAfter } from './BeforeAfter';
import { CopyCard } from './CopyCard';
import { FitForCard } from './FitForCard';
import { HandOverTray } from './HandOverTray';
import { WhatWillBeDone } from './WhatWillBeDone';
import './handOver.css';

/** The file for the next editor: rendered at full size by the server, kept in the outbox, downloaded here. */
export function HandOver() {
  const { frame, prescription } = useWorkspace();
  const { data: renders } = useRenders();
  const state = useCopyStore();
  const { format, wishes } = wishesFor(state, frame.format);
  const own = renders?.filter((job) => job.frameId === frame.id) ?? [];
  const shown = { frame, prescription, format };
  const size = sizeOrNothing(prescription, frame);
  return (
    <>
      <div className="stage hand-over">
        <div>
          {size && <BeforeAfter frame={frame} prescription={prescription} size={size} />}
          <WhatWillBeDone {...shown} colour={wishes.colour} />
          <FitForCard frame={frame} prescription={prescription} />
        </div>
        <div>
          {size && <CopyCard {...shown} wishes={wishes} size={size} />}
          <section className="render-list" aria-label="Renders of this frame">
            {own.map((job) => (
              <RenderCard key={job.id} job={job} />
            ))}
            {own.length === 0 && (
              <p className="stage-hint-text">
                Renders of this frame appear here and stay in the outbox of the data folder.
              </p>
            )}
          </section>
        </div>
      </div>
      <HandOverTray {...shown} wishes={wishes} />
    </>
  );
}

/** Of the copy; null where the prescription gives none, which is told beside what will be done. */
function sizeOrNothing(prescription: Prescription, frame: Size): Size | null {
  try {
    return sizeAfter(prescription, frame);
  } catch (error) {
    if (error instanceof CoreError) return null;
    throw error;
  }
}
