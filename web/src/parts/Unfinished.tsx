import { tileEngine } from '../surfaces/tileEngine';

/** What is still being computed, or why it cannot be and a way to try again. */
export function Unfinished({ failure, text }: { failure: string | null; text: string }) {
  if (!failure) return <span className="text-soft">{text}</span>;
  return (
    <span className="text-damaged" role="alert">
      {failure}{' '}
      <button type="button" className="link-button" onClick={() => tileEngine.retry()}>
        Try again
      </button>
    </span>
  );
}
