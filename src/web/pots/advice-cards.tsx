import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import type { AdviceAct, AdviceView, PotAdvice } from '../../contract/advice.ts';
import { get, newId } from '../shell/api.ts';
import { dayMonth } from '../shell/format.ts';
import { useAct } from '../shell/use-act.ts';
import { AnswerRow } from './answer-row.tsx';

export const adviceQuery = (potId: string) => ({
  queryKey: ['advice', potId],
  queryFn: () => get<PotAdvice>(`/api/advice/pots/${potId}`),
});

/** What one would do next with a pot, and why: each with its evidence, taken up or declined. */
export function AdviceCards({ potId, advice }: { potId: string; advice: PotAdvice | undefined }) {
  if (!advice) return null;
  return (
    <section className="next-advice" aria-label="What I would do next, and why">
      <div className="d-flex align-items-baseline gap-2">
        <h2>What I would do next, and why</h2>
        <Link className="small push" to="/pots/rules">
          the rules
        </Link>
      </div>
      {advice.advices.length === 0 && (
        <p className="sheet p-2 small mb-0">Nothing asks for anything. Its round goes on as it is.</p>
      )}
      {advice.advices.map((a) => (
        <AdviceCard key={a.rule + a.evidenceKey} potId={potId} advice={a} />
      ))}
      <nav className="small checks" aria-label="Step by step">
        Step by step: <Link to={`/pots/${potId}/check?what=unsteady`}>why it swings</Link> ·{' '}
        <Link to={`/pots/${potId}/check?what=saltOrMould`}>salt or mould</Link> ·{' '}
        <Link to={`/pots/${potId}/check?what=scarOrHunger`}>sun scar or hunger</Link>
      </nav>
      {advice.answered.length > 0 && (
        <ul className="answered small" aria-label="Answered">
          {advice.answered.map((a) => (
            <li key={a.eventId}>
              {a.answer === 'accepted' ? 'Taken up' : 'Declined'} {dayMonth(a.on)}: {a.title}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

const DO_WORDS: Record<AdviceView['act'], string> = {
  plan: 'Do it',
  plainOnly: 'Plain only',
  backToFeed: 'Feed it again',
  hold: 'Hold it',
};

/** Advice that is best gone through at the pot, question by question. */
const CHECKED_BY: Readonly<Record<string, string>> = {
  unsteady: 'unsteady',
  mould: 'saltOrMould',
  crust: 'saltOrMould',
  sun: 'scarOrHunger',
  magnesium: 'scarOrHunger',
  hungry: 'scarOrHunger',
};

/** One advice; what it stands on is shown at once, reading by reading on request. */
export function AdviceCard({ potId, advice, code }: { potId: string; advice: AdviceView; code?: string }) {
  const [open, setOpen] = useState(false);
  const { send, problems, busy } = useAct('/api/advice/acts');
  const answer = (kind: AdviceAct['kind']) => {
    const body: AdviceAct = {
      kind,
      potId,
      rule: advice.rule,
      evidenceKey: advice.evidenceKey,
      answerId: newId(),
      planId: newId(),
    };
    return send(body, kind === 'accept' ? `On the list: ${advice.doWords}` : `Not now: ${advice.title}`);
  };
  return (
    <article
      className={`sheet next-card ${advice.matter}`}
      aria-label={code ? `${code}: ${advice.title}` : advice.title}
    >
      <h3>{advice.title}</h3>
      <p>
        <b>{advice.because}</b> {advice.then}
      </p>
      {advice.figures.length > 1 && <Bars figures={advice.figures} />}
      {open && (
        <ul className="evidence small">
          {advice.evidence.map((e, i) => (
            <li key={i}>
              {dayMonth(e.on)}: {e.words}
              {e.tainted && ' (its pen was later found off: it counts half)'}
            </li>
          ))}
          <li>
            Taken up: {advice.doWords}
            {advice.act === 'plan' && ', on its next round'}
          </li>
        </ul>
      )}
      <AnswerRow problem={problems['']} busy={busy} take={DO_WORDS[advice.act]} answer={(kind) => void answer(kind)}>
        {CHECKED_BY[advice.rule] && (
          <Link className="small" to={`/pots/${potId}/check?what=${CHECKED_BY[advice.rule]}`}>
            Step by step
          </Link>
        )}
        <button
          type="button"
          className="btn btn-link btn-sm p-0 push"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
        >
          {advice.sureWords}
        </button>
      </AnswerRow>
    </article>
  );
}

/** Its figures as small bars, the last one dark. */
function Bars({ figures }: { figures: AdviceView['figures'] }) {
  const most = Math.max(...figures.map((f) => Math.abs(f.value)), 1e-9);
  const shown = figures.slice(-4).map((f) => ({ ...f, value: Number(f.value.toFixed(1)) }));
  const places = shown.every((f) => Number.isInteger(f.value)) ? 0 : 1;
  const text = (label: string) =>
    /^\d{4}-\d{2}-\d{2}$/.test(label)
      ? dayMonth(label)
      : new Date(`${label}-15T12:00:00Z`).toLocaleDateString('en-GB', { month: 'short' });
  return (
    <div
      className="bars"
      role="img"
      aria-label={shown.map((f) => `${text(f.label)} ${f.value.toFixed(places)}`).join(', ')}
    >
      {shown.map((f) => (
        <div key={f.label} aria-hidden>
          <b className="num">{f.value.toFixed(places)}</b>
          <i style={{ height: `${4 + (28 * Math.abs(f.value)) / most}px` }} />
          <span>{text(f.label)}</span>
        </div>
      ))}
    </div>
  );
}

/** The advice of a pot's page; `settled` once it is there, or will not come. */
export function usePotAdvice(potId: string): { advice: PotAdvice | undefined; settled: boolean } {
  const query = useQuery(adviceQuery(potId));
  return { advice: query.data, settled: !query.isPending };
}
