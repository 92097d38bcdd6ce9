import { SEEN, type Seen } from '../../contract/seen.ts';
import type { Draft } from './read-draft.ts';

/** What was seen, as toggles; "all fine" is a look that found nothing, which is not the same as no look. */
export function LookOver({ draft, change }: { draft: Draft; change(part: Partial<Draft>): void }) {
  const toggle = (what: Seen) => change({ seen: draft.seen.includes(what) ? draft.seen.filter((s) => s !== what) : [...draft.seen, what], looked: true });
  return (
    <div className="look" role="group" aria-label="What was seen">
      <button
        type="button"
        aria-pressed={draft.looked && draft.seen.length === 0}
        onClick={() => change({ looked: !(draft.looked && draft.seen.length === 0), seen: [] })}
      >
        all fine
      </button>
      {SEEN.map((what) => (
        <button key={what} type="button" aria-pressed={draft.seen.includes(what)} onClick={() => toggle(what)}>
          {what}
        </button>
      ))}
    </div>
  );
}
