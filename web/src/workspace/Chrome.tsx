import { BookmarkCheck, Camera, CircleHelp, Images, ListChecks, LoaderCircle } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Link, Outlet, ScrollRestoration, useMatch } from 'react-router';
import { isUnderway, useRenders } from '../api/queries';
import { useRounds } from '../api/roundQueries';
import { useFrameStore } from '../stores/frameStore';
import { framesLeftUnsaved } from '../stores/keptWork';
import { Tour } from '../practice/Tour';
import { KeysHelp } from './KeysHelp';
import { isTyping } from '../input/keys';
import { useChanges } from './useChanges';
import './workspace.css';

/** The bar at the top of every page, and what lies under it. */
export function Chrome() {
  useChanges();
  const [isHelpShown, setHelpShown] = useState(false);
  const { data: renders } = useRenders();
  const underway = renders?.filter(isUnderway).length ?? 0;
  const { data: rounds } = useRounds();
  const going = rounds?.filter(({ state }) => state === 'going').length ?? 0;
  const inFrame = useMatch('/frames/:frameId/*');
  const frame = useFrameStore((state) => state.frame);

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === '?' && !isTyping(event)) setHelpShown((shown) => !shown);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);

  return (
    <>
      <header className="top-bar">
        <Link to="/" className="brand">
          <img src="/mark.svg" alt="" width={16} height={16} /> Vitrocept
        </Link>
        <nav aria-label="Where you are" className="place">
          {frame && frame.id === inFrame?.params.frameId ? (
            <>
              <Link to={`/shoots/${frame.shootId}`}>{frame.shootName}</Link> <span aria-hidden>›</span>{' '}
              <span>{frame.name}</span>
            </>
          ) : (
            <Link to="/">Shoots</Link>
          )}
        </nav>
        {inFrame && <SaveMark />}
        <UnsavedElsewhere here={inFrame?.params.frameId ?? null} />
        <Link to="/prescriptions" className="top-link">
          <BookmarkCheck size={15} aria-hidden /> prescriptions
        </Link>
        <Link to="/practice" className="top-link">
          <Camera size={15} aria-hidden /> practice
        </Link>
        <Link to="/rounds" className="top-link">
          <ListChecks size={15} aria-hidden /> rounds {going > 0 ? going : ''}
        </Link>
        <Link to="/renders" className="top-link">
          {underway > 0 ? <LoaderCircle size={15} className="turning" aria-hidden /> : <Images size={15} aria-hidden />}{' '}
          renders {underway > 0 ? underway : ''}
        </Link>
        <button type="button" className="top-link" onClick={() => setHelpShown(true)} aria-label="Keys and help">
          <CircleHelp size={15} aria-hidden />
        </button>
      </header>
      <Outlet />
      <Tour />
      <KeysHelp show={isHelpShown} onHide={() => setHelpShown(false)} />
      <ScrollRestoration />
    </>
  );
}

function SaveMark() {
  const { work, undo, redo } = useFrameStore();
  if (!work) return null;
  const { saveState, saveError, past, future } = work;
  const text = { saved: 'saved', saving: 'saving', failed: `not saved: ${saveError}`, stale: 'changed elsewhere' }[
    saveState
  ];
  return (
    <span className="save-mark">
      <button type="button" className="top-link" onClick={undo} disabled={past.length === 0}>
        undo
      </button>
      <button type="button" className="top-link" onClick={redo} disabled={future.length === 0}>
        redo
      </button>
      <span role="status" className={saveState === 'failed' ? 'text-damaged' : 'text-soft'}>
        {text}
      </span>
    </span>
  );
}

/** Frames that are not on screen and whose changes are not saved, of this visit or of one before. */
function UnsavedElsewhere({ here }: { here: string | null }) {
  const unsaved = useFrameStore((state) => state.unsaved);
  const [left, setLeft] = useState<readonly { frameId: string; name: string }[]>([]);
  useEffect(() => void framesLeftUnsaved().then(setLeft), [here]);
  const failed = unsaved.filter(({ saveState }) => saveState === 'failed' || saveState === 'stale');
  const all = [...failed, ...left].filter(
    ({ frameId }, i, list) => frameId !== here && list.findIndex((other) => other.frameId === frameId) === i,
  );
  if (all.length === 0) return null;
  return (
    <span className="save-mark text-damaged" role="status">
      not saved:{' '}
      {all.slice(0, 3).map(({ frameId, name }) => (
        <Link key={frameId} to={`/frames/${frameId}`}>
          {name}
        </Link>
      ))}
      {all.length > 3 && ` and ${all.length - 3} more`}
    </span>
  );
}
