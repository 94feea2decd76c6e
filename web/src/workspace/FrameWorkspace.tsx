import { useEffect, useState } from 'react';
import { Outlet, useLocation, useParams } from 'react-router';
import type { Workspace } from '../parts/useWorkspace';
import { useFrame, useRenders } from '../api/queries';
import { isTyping } from '../input/keys';
import { GradeCard } from '../practice/GradeCard';
import { MeasureCharts } from '../measure/MeasureCharts';
import { Overview } from './Overview';
import { ReadingCard } from '../measure/ReadingCard';
import { StepRule } from '../parts/StepRule';
import { useFirstLook } from './useFirstLook';
import { WorkNotices } from './WorkNotices';
import { useFrameStore } from '../stores/frameStore';
import { UnsureNotice } from '../trials/UnsureNotice';

/** The room of one frame: step rule, Overview and Reading at the left, the step in the middle. */
export function FrameWorkspace() {
  const { frameId = '' } = useParams();
  const { data, error } = useFrame(frameId);
  const { data: renders } = useRenders();
  const { pathname } = useLocation();
  const [leftFoot, setLeftFoot] = useState<HTMLElement | null>(null);
  const { frame, prescription, open, undo, redo } = useFrameStore();

  useEffect(() => {
    if (data) open(data);
  }, [data, open]);

  useFirstLook(data?.id === frameId ? data : null);

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (isTyping(event) || !(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return;
      event.preventDefault();
      if (event.shiftKey) redo();
      else undo();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [undo, redo]);

  const isOpen = frame?.id === frameId && prescription !== null;
  // A frame that is open stays open while the server cannot be asked: the work goes on.
  if (error && !isOpen) return <main className="page text-damaged">{error.message}</main>;
  if (!isOpen) return <main className="page text-soft">Loading …</main>;
  const isRendered = renders?.some((job) => job.frameId === frame.id && job.state === 'done') ?? false;
  return (
    // A key of its own: nothing that belongs to one frame is shown with another.
    <main className="workspace" key={frame.id}>
      <StepRule prescription={prescription} isRendered={isRendered} />
      <WorkNotices />
      <aside className="left">
        <Overview frame={frame} prescription={prescription} placesProbes={/\/(noise|trials)$/.test(pathname)} />
        <ReadingCard frame={frame} prescription={prescription}>
          <UnsureNotice frame={frame} prescription={prescription} />
        </ReadingCard>
        {pathname.endsWith('/measure') && <MeasureCharts frame={frame} prescription={prescription} />}
        <GradeCard frame={frame} />
        <div ref={setLeftFoot} className="left-foot" />
      </aside>
      <Outlet context={{ frame, prescription, leftFoot } satisfies Workspace} />
    </main>
  );
}
