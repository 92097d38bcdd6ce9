import { useIsFetching } from '@tanstack/react-query';
import { Icon } from '../drawing/icon.tsx';
import { Link } from 'react-router';
import type { ShellView } from '../../contract/shell.ts';
import { useActs } from './acts.tsx';
import { dayMonthYear } from './format.ts';
import { useLastKnown } from './last-known.ts';
import { useReckoning } from './use-shell.ts';

/** What the grower must know in every room: the file in trouble or a backup that failed, acts dated ahead, acts that wait, acts that were refused. */
export function Notices({
  trouble,
  ahead = null,
  zone,
}: {
  trouble: string | null;
  ahead?: ShellView['ahead'];
  zone?: string | undefined;
}) {
  const { outbox, dismissRefused, tryAgain } = useActs();
  const lastKnown = useLastKnown();
  const reckoning = useReckoning();
  // Shown already, and being fetched anew.
  const old = useIsFetching({
    predicate: ({ queryKey, state }) => queryKey[0] !== 'shell' && state.data !== undefined,
  });
  return (
    <>
      {trouble && (
        <div className="notice" role="status">
          <Icon name="hdd" /> {trouble}
        </div>
      )}
      {lastKnown && (
        <div className="notice" role="status">
          <Icon name="hourglass" /> The computer is out of reach. This is as last known,{' '}
          {dayMonthYear(lastKnown.slice(0, 10))}, {clockTime(lastKnown, zone)}. What you do is kept here and sent when
          it is back.
        </div>
      )}
      {reckoning && old > 0 && (
        <div className="notice" role="status">
          <Icon name="hourglass" /> Reckoning {reckoning.done} of {reckoning.of} pots. What shows is as it was before,
          until that is done.
        </div>
      )}
      {ahead && (
        <div className="notice" role="status">
          <Icon name="stopwatch" />
          {ahead.count === 1
            ? 'One act is dated ahead of now: '
            : `${ahead.count} acts are dated ahead of now, the first `}
          {dayMonthYear(ahead.firstAt.slice(0, 10))}, {clockTime(ahead.firstAt, zone)}. Until then{' '}
          {ahead.count === 1 ? 'it is' : 'they are'} left out of every reckoning. Is this computer’s clock right?{' '}
          <Link to="/book">Marked in the Book</Link>
        </div>
      )}
      {outbox.waiting.length > 0 && (
        <div className="notice" role="status">
          <Icon name="hourglass" />
          {outbox.waiting.length === 1
            ? `One act waits for the server: ${outbox.waiting[0]?.words}.`
            : `${outbox.waiting.length} acts wait for the server.`}{' '}
          {outbox.why && `${outbox.why} `}
          {outbox.fragile
            ? 'This browser cannot keep them through a reload: leave this page open until they are sent.'
            : !outbox.why && 'They are kept on this device and sent again by themselves.'}
        </div>
      )}
      {outbox.refused.map(({ act, reason }) => (
        <div key={act.id} className="notice refused" role="alert">
          {act.words}: {reason}
          <span className="push d-flex gap-2">
            <button type="button" className="btn btn-sm btn-outline-secondary" onClick={() => tryAgain(act.id)}>
              Send again
            </button>
            <button type="button" className="btn btn-sm btn-outline-secondary" onClick={() => dismissRefused(act.id)}>
              I have seen it
            </button>
          </span>
        </div>
      ))}
    </>
  );
}

const clockTime = (at: string, zone: string | undefined) =>
  new Date(at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit', ...(zone ? { timeZone: zone } : {}) });
