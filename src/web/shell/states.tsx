import Button from 'react-bootstrap/Button';
import Spinner from 'react-bootstrap/Spinner';
import type { ReactNode } from 'react';
import { Link, useLocation } from 'react-router';
import { OfflineError, ProblemError } from './api.ts';
import { useReckoning } from './use-shell.ts';

/** While the first figures of a room are on their way: how far the reckoning has come, where that is what takes long. */
export function Loading({ what }: { what: string }) {
  const reckoning = useReckoning();
  return (
    <div className="empty" role="status">
      <Spinner size="sm" aria-hidden />
      <span>{reckoning ? `Reckoning ${reckoning.done} of ${reckoning.of} pots …` : `Fetching ${what} …`}</span>
    </div>
  );
}

const ROUND = { to: '/round', words: 'To the round' };
/** The way on from a page of a thing that is not there. */
const ROOMS_BACK = [
  ROUND,
  { to: '/bench', words: 'To the bench' },
  { to: '/pots', words: 'To the pots' },
  { to: '/clay', words: 'To the clay' },
  { to: '/drift', words: 'To Drift' },
  { to: '/season', words: 'To the season' },
  { to: '/shelf', words: 'To the Shelf' },
  { to: '/book', words: 'To the Book' },
];

/** Why something could not be read. What the server says of itself (a full disk, a damaged file) is said; only where nobody answered are the words ours. */
export const wordsOf = (error: unknown): string =>
  error instanceof OfflineError
    ? error.answered
      ? error.message
      : 'The server does not answer. What you have logged is kept. Start it again with the same command, then try once more.'
    : error instanceof ProblemError
      ? error.problem.detail
      : 'Something on this page went wrong. Nothing was lost.';

/** When a room could not be read at all, or what it was to show is not there: why, in the server's own words, and a way on. */
export function Failed({ error, retry }: { error: unknown; retry: () => void }) {
  const { pathname } = useLocation();
  const room = ROOMS_BACK.find(({ to }) => pathname.startsWith(to) && pathname !== to) ?? ROUND;
  const gone = error instanceof ProblemError && error.problem.code === 'not-found';
  return (
    <div className="empty" role="alert">
      <h2>{gone ? 'That is not here' : 'That did not work'}</h2>
      <p className="mb-0">{wordsOf(error)}</p>
      <span className="d-flex gap-2">
        {!gone && <Button onClick={retry}>Try again</Button>}
        <Link className={`btn ${gone ? 'btn-primary' : 'btn-outline-secondary'}`} to={room.to}>
          {room.words}
        </Link>
      </span>
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
