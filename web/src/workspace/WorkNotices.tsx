import Button from 'react-bootstrap/Button';
import { useFrameStore } from '../stores/frameStore';

/** What the person has to decide about work on this frame that is not where they think it is. */
export function WorkNotices() {
  const { work, notice, dismissNotice } = useFrameStore();
  return (
    <>
      {work?.newer && <StaleNotice />}
      {work?.leftBehind && <LeftBehindNotice />}
      {notice && (
        <div className="stale-notice" role="alert">
          <span>{notice}</span>
          <Button size="sm" variant="outline-primary" onClick={dismissNotice}>
            Close
          </Button>
        </div>
      )}
    </>
  );
}

/** Changes that were not saved when the page was last left: nothing comes back without being asked for. */
function LeftBehindNotice() {
  const { takeLeftBehind, throwLeftBehind } = useFrameStore();
  return (
    <div className="stale-notice" role="alert">
      <span>Some changes to this frame were not saved when the page was left. They are still here.</span>
      <Button size="sm" variant="outline-primary" onClick={takeLeftBehind}>
        Bring them back
      </Button>
      <Button size="sm" variant="outline-primary" onClick={throwLeftBehind}>
        Throw them away
      </Button>
      <span className="text-soft">Undo goes back to what is shown now.</span>
    </div>
  );
}

/** Shown when another window saved this frame meanwhile: nothing is overwritten without being asked. */
function StaleNotice() {
  const { loadNewer, keepMine } = useFrameStore();
  return (
    <div className="stale-notice" role="alert">
      <span>This frame was changed in another window. What you did here is not saved yet.</span>
      <Button size="sm" variant="outline-primary" onClick={loadNewer}>
        Load the newer
      </Button>
      <Button size="sm" variant="outline-primary" onClick={keepMine}>
        Keep mine
      </Button>
      <span className="text-soft">Undo brings the other one back.</span>
    </div>
  );
}
