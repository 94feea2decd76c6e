import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import { useChangeFrames, useChangeShoot, useEmptyTrash, useTrash } from '../api/queries';
import { bytesText } from '../words';
import './shoots.css';

/** What was removed: put back one by one, or thrown away for good. */
export function Trash() {
  const { data: trash, error, isPending } = useTrash();
  const changeShoot = useChangeShoot();
  const changeFrames = useChangeFrames();
  const empty = useEmptyTrash();
  const [asks, setAsks] = useState(false);
  if (error) return <main className="page text-damaged">{error.message}</main>;
  if (isPending) return <main className="page text-soft">Loading …</main>;
  const { shoots, frames } = trash;
  const count = frames.length + shoots.reduce((sum, shoot) => sum + shoot.frameCount, 0);
  const isEmpty = shoots.length === 0 && frames.length === 0;
  const failed = changeShoot.error ?? changeFrames.error ?? empty.error;
  return (
    <main className="page">
      <h1>Trash</h1>
      {failed && (
        <p className="text-damaged" role="alert">
          {failed.message}
        </p>
      )}
      {empty.data && (
        <p role="status">
          {empty.data.frames} {empty.data.frames === 1 ? 'frame is' : 'frames are'} gone for good,{' '}
          {bytesText(empty.data.bytes)} are free again.
        </p>
      )}
      {isEmpty && (
        <p className="text-soft">Nothing lies here. Frames and shoots that are removed can be put back here.</p>
      )}
      {!isEmpty && (
        <p>
          {asks ? (
            <>
              {count} {count === 1 ? 'frame' : 'frames'} and all work on them go for good, originals too.{' '}
              <Button
                size="sm"
                variant="danger"
                onClick={() => {
                  empty.mutate();
                  setAsks(false);
                }}
              >
                Throw away
              </Button>{' '}
              <Button size="sm" variant="outline-primary" onClick={() => setAsks(false)}>
                Keep
              </Button>
            </>
          ) : (
            <Button size="sm" variant="outline-primary" onClick={() => setAsks(true)}>
              Empty the trash …
            </Button>
          )}
        </p>
      )}
      <ul className="trash-list">
        {shoots.map((shoot) => (
          <li key={shoot.id} className="card-plain">
            <strong>{shoot.name}</strong>
            <span className="text-soft">
              a shoot of {shoot.frameCount} {shoot.frameCount === 1 ? 'frame' : 'frames'}
            </span>
            <button
              type="button"
              className="link-button"
              onClick={() => changeShoot.mutate({ id: shoot.id, isRemoved: false })}
            >
              put back
            </button>
          </li>
        ))}
        {frames.map((frame) => (
          <li key={frame.id} className="card-plain">
            <img src={`/api/frames/${frame.id}/view.jpg?side=160`} alt="" loading="lazy" />
            <strong>{frame.name}</strong>
            <span className="text-soft">of {frame.shootName}</span>
            <button
              type="button"
              className="link-button"
              onClick={() => changeFrames.mutate([{ id: frame.id, isRemoved: false }])}
            >
              put back
            </button>
          </li>
        ))}
      </ul>
    </main>
  );
}
