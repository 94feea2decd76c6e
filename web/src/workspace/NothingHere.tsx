import { isRouteErrorResponse, Link, useRouteError } from 'react-router';
import { useFrameStore } from '../stores/frameStore';

/** What is true of the work in this page, and what to do. */
export function savedSentence(unsaved: readonly { readonly name: string }[]): string {
  if (unsaved.length === 0) return 'All of your work is saved; reload to go on.';
  const names = unsaved.map(({ name }) => name).join(', ');
  return `The last changes to ${names} are not saved yet. This browser keeps them and offers them after a reload.`;
}

export function NothingHere() {
  const error = useRouteError();
  const isFailure = error && !isRouteErrorResponse(error);
  const unsaved = useFrameStore((state) => state.unsaved);
  return (
    <main className="page">
      <h1>{isFailure ? 'Something went wrong on this page' : 'There is nothing at this address'}</h1>
      {isFailure ? (
        <p className="text-soft">
          {String((error as Error).message ?? error)} {savedSentence(unsaved)}
        </p>
      ) : null}
      <p>
        <Link to="/">Back to the shoots</Link>
      </p>
    </main>
  );
}
