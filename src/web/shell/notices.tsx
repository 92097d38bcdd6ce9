import { Icon } from '../drawing/icon.tsx';
import { useActs } from './acts.tsx';

/** What the grower must know in every room: acts that wait, acts that were refused, a backup that failed. */
export function Notices({ trouble }: { trouble: string | null }) {
  const { outbox, dismissRefused, tryAgain } = useActs();
  return (
    <>
      {trouble && (
        <div className="notice" role="status">
          <Icon name="hdd" /> {trouble}
        </div>
      )}
      {outbox.waiting.length > 0 && (
        <div className="notice" role="status">
          <Icon name="hourglass" />
          {outbox.waiting.length === 1
            ? `One act waits for the server: ${outbox.waiting[0]?.words}.`
            : `${outbox.waiting.length} acts wait for the server.`}{' '}
          {outbox.fragile
            ? 'This browser cannot keep them through a reload: leave this page open until they are sent.'
            : 'They are kept on this device and sent again by themselves.'}
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
