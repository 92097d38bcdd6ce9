import { Link, useRouteError } from 'react-router';

/** An address with nothing at it, or a page that broke. */
export function Lost() {
  const error = useRouteError();
  return (
    <div className="empty" role="alert">
      <h1>{error ? 'This page stumbled' : 'There is nothing here'}</h1>
      <p className="mb-0">
        {error ? 'Nothing you logged was lost. Go back to the round and try again.' : 'The address may be old.'}
      </p>
      <Link className="btn btn-primary" to="/round" reloadDocument={Boolean(error)}>
        To the round
      </Link>
    </div>
  );
}
