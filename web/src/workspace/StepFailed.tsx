import Button from 'react-bootstrap/Button';
import { useLocation, useRouteError } from 'react-router';
import { useFrameStore } from '../stores/frameStore';
import { savedSentence } from './NothingHere';

/** One step broke down: the frame, its other steps and the work stay as they are. */
export function StepFailed() {
  const error = useRouteError();
  const unsaved = useFrameStore((state) => state.unsaved);
  const step = useLocation().pathname.split('/').at(-1);
  return (
    <section className="stage step-failed" role="alert">
      <div className="card-plain">
        <h2>This step has broken down</h2>
        <p>
          {step}: {String((error as Error)?.message ?? error)}
        </p>
        <p className="text-soft">{savedSentence(unsaved)} The other steps still work.</p>
        <Button onClick={() => window.location.reload()}>Reload this page</Button>
      </div>
    </section>
  );
}
