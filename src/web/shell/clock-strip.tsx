import { useEffect, useRef } from 'react';
import { Link } from 'react-router';
import type { ClockView, PlanAct } from '../../contract/shell.ts';
import { Icon } from '../drawing/icon.tsx';
import { useActs } from './acts.tsx';
import { newId } from './api.ts';
import { notify, ring } from './ring.ts';
import { useServerNow } from './use-server-now.ts';
import { waitWords } from './wait-words.ts';

/** Every running clock, in every room: how long still, what it is about; and when it has rung, that it did. */
export function ClockStrip({ clocks }: { clocks: readonly ClockView[] }) {
  const now = useServerNow(clocks.length > 0);
  const { put } = useActs();
  useRinging(clocks, now);
  if (clocks.length === 0) return null;
  const act = (body: PlanAct, words: string) => {
    const id = newId();
    void put({ id, url: `/api/shell/plans/acts/${id}`, body, words }, { toast: words });
  };
  return (
    <section className="clocks" aria-label="Clocks">
      {clocks.map((clock) => {
        const left = Date.parse(clock.endsAt) - now;
        const share = Math.min(
          1,
          Math.max(0, 1 - left / Math.max(1, Date.parse(clock.endsAt) - Date.parse(clock.startedAt))),
        );
        const named = clock.about ? `${clock.words}, ${clock.about}` : clock.words;
        const where =
          clock.subjectKind === 'pot'
            ? `/pots/${clock.subjectId}`
            : clock.subjectKind === 'batch'
              ? `/bench/${clock.subjectId}`
              : undefined;
        return (
          <div key={clock.id} className={`clock ${left <= 0 ? 'rung' : ''}`} role="group" aria-label={named}>
            <Ring share={share} />
            <div className="min-0">
              <b className="num">{left <= 0 ? 'Done' : waitWords(left)}</b>
              <div className="small what">
                {clock.about && <>{where ? <Link to={where}>{clock.about}</Link> : clock.about}: </>}
                {clock.words}
                {left <= -60_000 && ` · ${waitWords(-left)} ago`}
              </div>
            </div>
            <span className="push d-flex gap-1">
              <button
                type="button"
                className="btn btn-sm btn-outline-secondary"
                aria-label={`5 minutes more: ${named}`}
                onClick={() => act({ kind: 'extendClock', clockId: clock.id, minutes: 5 }, '5 minutes more')}
              >
                +5
              </button>
              <button
                type="button"
                className="btn btn-sm btn-outline-secondary"
                aria-label={`Stop the clock: ${named}`}
                onClick={() => act({ kind: 'stopClock', clockId: clock.id }, `Stopped: ${named}`)}
              >
                <Icon name="x" />
              </button>
            </span>
          </div>
        );
      })}
    </section>
  );
}

function Ring({ share }: { share: number }) {
  const round = 2 * Math.PI * 14;
  return (
    <svg width="34" height="34" viewBox="0 0 34 34" aria-hidden className="ring">
      <circle cx="17" cy="17" r="14" className="track" />
      <circle
        cx="17"
        cy="17"
        r="14"
        className="gone"
        strokeDasharray={`${share * round} ${round}`}
        transform="rotate(-90 17 17)"
      />
    </svg>
  );
}

/** Says so once, by title, sound and notice, when a clock runs out while this page is open. */
function useRinging(clocks: readonly ClockView[], now: number): void {
  const told = useRef(new Map<string, string>());
  const rung = clocks.filter((clock) => Date.parse(clock.endsAt) <= now);
  const waits = rung.map((c) => c.words).join(', ');
  useEffect(() => {
    const first = told.current.size === 0;
    for (const clock of clocks) {
      const over = rung.includes(clock);
      if (over && told.current.get(clock.id) !== clock.endsAt) {
        // One that had rung before this page was opened is shown, not sounded.
        if (!first || now - Date.parse(clock.endsAt) < 5000) {
          ring();
          notify(`${clock.words}${clock.about ? `, ${clock.about}` : ''}: done`, clock.id);
        }
        told.current.set(clock.id, clock.endsAt);
      } else if (!over && !told.current.has(clock.id)) told.current.set(clock.id, '');
    }
  });
  useEffect(() => {
    document.title = waits ? `Done: ${waits} · Frugal Sip` : 'Frugal Sip';
  }, [waits]);
}
