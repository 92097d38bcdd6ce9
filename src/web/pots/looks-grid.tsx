import { useState } from 'react';
import type { PotView } from '../../contract/pots.ts';
import { CUE_NAMES, CUES, FIRST_CUES, gradeIn, toneOf, type Cue } from '../../contract/seen.ts';
import { dayMonth } from '../shell/format.ts';

/** How many looks stand beside each other. */
const SHOWN = 5;

/** What was seen, look beside look: the cues that are always asked for, and those that ever differed. */
export function LooksGrid({ view }: { view: PotView }) {
  const [back, setBack] = useState(0);
  const { looks } = view;
  const end = looks.length - back;
  const shown = looks.slice(Math.max(0, end - SHOWN), end);
  const ever = new Set<Cue>([
    ...FIRST_CUES,
    ...CUE_NAMES.filter((cue) => looks.some((l) => l.look.cues[cue] !== undefined)),
  ]);
  const cues = CUE_NAMES.filter((cue) => ever.has(cue));
  const measured = shown.some((l) => l.look.growths !== null || l.look.leafMm !== null);
  return (
    <section className="sheet looks" aria-label="Looked over">
      <div className="d-flex align-items-baseline gap-2">
        <h2>Looked over</h2>
        <span className="small">
          {looks.length === 0 ? 'never yet: tap cues at its next round' : `${looks.length} looks`}
        </span>
        {looks.length > SHOWN && (
          <span className="push d-flex gap-1">
            <button
              type="button"
              className="btn btn-sm btn-outline-secondary"
              disabled={end <= SHOWN}
              onClick={() => setBack(back + SHOWN)}
              aria-label="Earlier looks"
            >
              ←
            </button>
            <button
              type="button"
              className="btn btn-sm btn-outline-secondary"
              disabled={back === 0}
              onClick={() => setBack(Math.max(0, back - SHOWN))}
              aria-label="Later looks"
            >
              →
            </button>
          </span>
        )}
      </div>
      {shown.length > 0 && (
        <div className="table-scroll">
          <table>
            <thead>
              <tr>
                <th>
                  <span className="visually-hidden">Cue</span>
                </th>
                {shown.map((l) => (
                  <th key={l.eventId} scope="col">
                    {dayMonth(l.on)}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {cues.map((cue) => (
                <tr key={cue}>
                  <th scope="row">{CUES[cue].label}</th>
                  {shown.map((l) => {
                    const grade = gradeIn(l.look, cue);
                    return (
                      <td key={l.eventId}>
                        <span
                          className={`grade ${toneOf(cue, grade)} ${l.look.cues[cue] === undefined ? 'quiet' : ''}`}
                        >
                          {grade}
                        </span>
                      </td>
                    );
                  })}
                </tr>
              ))}
              {measured && (
                <tr>
                  <th scope="row">counted</th>
                  {shown.map((l) => (
                    <td key={l.eventId} className="small">
                      {[
                        l.look.growths === null ? '' : `${l.look.growths} growths`,
                        l.look.leafMm === null ? '' : `leaf ${l.look.leafMm} mm`,
                      ]
                        .filter(Boolean)
                        .join(', ') || '—'}
                    </td>
                  ))}
                </tr>
              )}
            </tbody>
          </table>
        </div>
      )}
      {shown
        .filter((l) => l.look.note)
        .map((l) => (
          <p key={l.eventId} className="small mb-0">
            {dayMonth(l.on)}: {l.look.note}
          </p>
        ))}
    </section>
  );
}
