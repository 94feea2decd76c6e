import Button from 'react-bootstrap/Button';
import { useFrameStore } from '../stores/frameStore';

/** Shown when another window saved this frame meanwhile: nothing is overwritten without being asked. */
export function StaleNotice() {
  const { newer, loadNewer, keepMine } = useFrameStore();
  if (!newer) return null;
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
