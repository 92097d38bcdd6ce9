import { Link } from 'react-router';
import type { PenAct, PenAdvice } from '../../contract/advice.ts';
import { newId } from '../shell/api.ts';
import { dayMonth } from '../shell/format.ts';
import { useAct } from '../shell/use-act.ts';
import { AnswerRow } from './answer-row.tsx';

/** A pen that reads off all its pots at once: round by round, to be checked or let be. */
export function PenCard({ pen }: { pen: PenAdvice }) {
  const { send, problems, busy } = useAct('/api/advice/pens');
  const answer = (kind: PenAct['kind']) => {
    const body: PenAct = {
      kind,
      meterId: pen.meterId,
      evidenceKey: pen.evidenceKey,
      answerId: newId(),
      planId: newId(),
    };
    return send(body, kind === 'accept' ? `On the list: check the ${pen.name}` : `Not now: ${pen.title}`);
  };
  return (
    <article className="sheet next-card ph" aria-label={pen.title}>
      <h3>{pen.title}</h3>
      <p>
        <b>{pen.because}</b> {pen.then}
      </p>
      <ul className="evidence small">
        {pen.rounds.map((r) => (
          <li key={r.on}>
            {dayMonth(r.on)}: {offWords(pen, r.off)} on {r.readings} pots
          </li>
        ))}
      </ul>
      <AnswerRow problem={problems['']} busy={busy} take="Put it on the list" answer={(kind) => void answer(kind)}>
        <Link className="small" to={`/shelf?thing=meter:${pen.meterId}`}>
          To the pen
        </Link>
        <span className="small push">{pen.sureWords}</span>
      </AnswerRow>
    </article>
  );
}

const offWords = ({ what }: PenAdvice, off: number) => {
  const sign = off < 0 ? '−' : '+';
  return what === 'ppm' ? `${sign}${Math.round(Math.abs(off))} %` : `${sign}${Math.abs(off).toFixed(2)} pH`;
};
