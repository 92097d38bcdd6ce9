import Button from 'react-bootstrap/Button';
import Spinner from 'react-bootstrap/Spinner';
import type { ReactNode } from 'react';
import { OfflineError, ProblemError } from './api.ts';

/** While the first figures of a room are on their way. */
export function Loading({ what }: { what: string }) {
  return (
    <div className="empty" role="status">
      <Spinner size="sm" aria-hidden />
      <span>Fetching {what} …</span>
    </div>
  );
}

/** When a room could not be read at all. */
export function Failed({ error, retry }: { error: unknown; retry: () => void }) {
  const words =
    error instanceof OfflineError
      ? 'The server does not answer. What you have logged is kept. Start it again with the same command, then try once more.'
      : error instanceof ProblemError
        ? error.problem.detail
        : 'Something on this page went wrong. Nothing was lost.';
  return (
    <div className="empty" role="alert">
      <h2>That did not work</h2>
      <p className="mb-0">{words}</p>
      <Button onClick={retry}>Try again</Button>
    </div>
  );
}

/** A room with nothing in it yet. */
export function Empty({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="empty">
      <h2>{title}</h2>
      {children}
    </div>
  );
}
