import { isRouteErrorResponse, Link, useRouteError } from 'react-router';

export function NothingHere() {
  const error = useRouteError();
  const isFailure = error && !isRouteErrorResponse(error);
  return (
    <main className="page">
      <h1>{isFailure ? 'Something went wrong on this page' : 'There is nothing at this address'}</h1>
      {isFailure ? (
        <p className="text-soft">{String((error as Error).message ?? error)} Your work is saved; reload to go on.</p>
      ) : null}
      <p>
        <Link to="/">Back to the shoots</Link>
      </p>
    </main>
  );
}
