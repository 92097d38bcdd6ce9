import Button from 'react-bootstrap/Button';
import { Link } from 'react-router';
import type { PenAct, PenAdvice } from '../../contract/advice.ts';
import { newId } from '../shell/api.ts';
import { dayMonth } from '../shell/format.ts';
import { useAct } from '../shell/use-act.ts';

/** A pen that reads off all its pots at once: round by round, to be checked or let be. */
export function PenCard({ pen }: { pen: PenAdvice }) {
  const { send, problems, busy } = useAct('/api/advice/pens');
  const answer = (kind: PenAct['kind']) => {
    const body: PenAct = { kind, meterId: pen.meterId, evidenceKey: pen.evidenceKey, answerId: newId(), planId: newId() };
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
      {problems[''] && (
        <p className="field-error mb-0" role="alert">
          {problems['']}
        </p>
      )}
      <div className="d-flex flex-wrap gap-2 align-items-center">
        <Button size="sm" disabled={busy} onClick={() => void answer('accept')}>
          Put it on the list
        </Button>
        <Button size="sm" variant="outline-secondary" disabled={busy} onClick={() => void answer('decline')}>
          Not now
        </Button>
        <Link className="small" to={`/shelf?meter=${pen.meterId}`}>
          To the pen
        </Link>
        <span className="small push">{pen.sureWords}</span>
      </div>
    </article>
  );
}

const offWords = ({ what }: PenAdvice, off: number) => {
  const sign = off < 0 ? '−' : '+';
  return what === 'ppm' ? `${sign}${Math.round(Math.abs(off))} %` : `${sign}${Math.abs(off).toFixed(2)} pH`;
};
