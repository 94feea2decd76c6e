import Button from 'react-bootstrap/Button';
import { useNavigate } from 'react-router';
import { usePhotograph } from '../api/practiceQueries';
import { useTourStore } from '../stores/tourStore';
import './practice.css';

/** What to look at, step by step, on a case whose truth is known. */
const STEPS = [
  {
    path: 'measure',
    title: 'What is wrong',
    text: 'The Reading names the cause and draws how a point was smeared. Is it sure? The runner-up says what else it might be. Overrule it where you know better.',
  },
  {
    path: 'mask',
    title: 'Where',
    text: 'Only what the mask holds is recovered; all else keeps its pixels. Find subject proposes one, a dab repairs it.',
  },
  {
    path: 'trials',
    title: 'Several ways at once',
    text: 'The Wall shows trials at your probes, beside the original. Hold 0 for the original. The marks under each cell are the audit: open ring safe, half ring look closely, square damaged. Choose one.',
  },
  {
    path: 'trials',
    title: 'Were the marks right?',
    text: 'In the left column press Grade it: the practice camera knows the truth. Squares are alarms, circles silence; solid is damage. Put the truth on the Wall and compare.',
  },
  {
    path: 'hand-over',
    title: 'The file',
    text: 'Original and copy side by side, what will be done in words, and a proof sheet for whoever asks. Nothing ever writes over the original.',
  },
] as const;

/** The case of the tour: a shake that comes back well. */
const TOUR_CASE = 'steady-hand';

/** A card in the corner while the tour is under way. */
export function Tour() {
  const { frameId, step, go, close } = useTourStore();
  const navigate = useNavigate();
  if (frameId === null) return null;
  const { title, text } = STEPS[step];
  const show = (to: number) => {
    go(to);
    void navigate(`/frames/${frameId}/${STEPS[to].path}`);
  };
  return (
    <aside className="tour card-plain" aria-label="Tour">
      <p className="text-soft figure">
        {step + 1} of {STEPS.length}
      </p>
      <h2>{title}</h2>
      <p>{text}</p>
      <div className="tray-buttons">
        {step > 0 && (
          <Button size="sm" variant="outline-primary" onClick={() => show(step - 1)}>
            Back
          </Button>
        )}
        {step < STEPS.length - 1 ? (
          <Button size="sm" onClick={() => show(step + 1)}>
            Next
          </Button>
        ) : (
          <Button size="sm" onClick={close}>
            Done
          </Button>
        )}
        <button type="button" className="link-button" onClick={close}>
          close for good
        </button>
      </div>
    </aside>
  );
}

/** Begins it: a practice case is photographed first. */
export function BeginTour({ onBegun }: { onBegun?: () => void }) {
  const begin = useTourStore((state) => state.begin);
  const photograph = usePhotograph();
  const navigate = useNavigate();
  const start = async () => {
    const { frameId } = await photograph.mutateAsync({ challenge: TOUR_CASE });
    begin(frameId);
    onBegun?.();
    await navigate(`/frames/${frameId}/${STEPS[0].path}`);
  };
  return (
    <>
      <Button
        size="sm"
        variant="outline-primary"
        disabled={photograph.isPending}
        onClick={() => void start().catch(() => undefined)}
      >
        {photograph.isPending ? 'Photographing …' : 'Take the tour, five steps'}
      </Button>
      {photograph.error && <span className="text-damaged"> {photograph.error.message}</span>}
    </>
  );
}
