import { useState } from 'react';
import Form from 'react-bootstrap/Form';
import type { PotDrift } from '../../contract/drift.ts';
import { inSentence } from '../../core/quantity/index.ts';
import { POUR_PH, type PourAim } from '../../core/drift/index.ts';
import { phText } from '../shell/format.ts';
import type { PourAnswer } from './model.ts';
import { PathChart } from './path-chart.tsx';
import { PathTable } from './path-table.tsx';

type Props = {
  pot: PotDrift;
  answer: PourAnswer | undefined;
  aim: PourAim;
  setAim(aim: PourAim): void;
  ph: number;
  setPh(ph: number | undefined): void;
};

const AIM_WORDS: Record<PourAim, string> = {
  steady: 'Steady: as many days inside as can be, and no swing to stress fine roots.',
  swing: 'Swing: start low and let the clay walk it up through the range: every element has its day.',
};

/** What the filling that comes will do until the round after: held steady or let swing, poured at a pH of one's choice. */
export function PourCard({ pot, answer, aim, setAim, ph, setPh }: Props) {
  const [asTable, setAsTable] = useState(false);
  const { next, shares } = pot;
  const days = next.everyDays;
  return (
    <section className="sheet hero" aria-label="What the reservoir does until the next round">
      <div className="d-flex align-items-baseline gap-2 flex-wrap">
        <h2>What the next filling does</h2>
        <span className="small push">shade: how sure it is</span>
        <button
          type="button"
          className="btn btn-sm btn-outline-secondary"
          aria-pressed={asTable}
          onClick={() => setAsTable(!asTable)}
        >
          {asTable ? 'Chart' : 'Table'}
        </button>
      </div>
      <div className="ctl">
        <div className="seg" role="group" aria-label="What the pour is to do">
          {(['steady', 'swing'] as const).map((a) => (
            <button
              key={a}
              type="button"
              aria-pressed={a === aim}
              className={a === aim ? 'on' : ''}
              onClick={() => setAim(a)}
            >
              <svg viewBox="0 0 24 16" aria-hidden>
                {a === 'steady' ? <path d="M2 11q6-6 10-4t10-3" /> : <path d="M2 14L8 3v11l6-11v11l6-11v11" />}
              </svg>
              {a === 'steady' ? 'Hold it steady' : 'Let it swing'}
            </button>
          ))}
        </div>
        <label className="sl">
          Pour at pH
          <Form.Range
            min={POUR_PH.low}
            max={POUR_PH.high}
            step={0.1}
            value={ph}
            aria-valuetext={`pH ${phText(ph)}`}
            onChange={(e) => setPh(Number(e.target.value))}
          />
          <b className="num">{phText(ph)}</b>
        </label>
      </div>
      <p className="small mb-1">{AIM_WORDS[aim]}</p>
      {!answer ? (
        <p className="small m-auto">Working it out …</p>
      ) : asTable ? (
        <PathTable answer={answer} days={days} />
      ) : (
        <PathChart answer={answer} days={days} window={next.model.window} code={pot.pot.code} />
      )}
      <p className="small mb-0 shares">{shareWords(shares, days)}</p>
      <details className="small why-drifts">
        <summary>Why it drifts</summary>
        Soft water holds hardly any alkali, so a little of it, from clay or from roots that take nitrate, is a leap;
        ammonium taken up pulls the other way. Hard water brought down with acid is full of CO2 that leaves within a day
        or two, and the pH climbs back though no clay was near: to hold it down the whole alkalinity must be spent. A
        feed with phosphate swings least between 6 and 7. What a flush leaves in the pores counts too: a little hard tap
        water holds several times what the clay gives.
      </details>
    </section>
  );
}

/** Under this a difference is none. */
const SLIGHT = 0.1;

/** "Poured at 5.8 it goes to 6.3 as CO2 leaves; what the rain butt left in the pores makes it 6.4, and clay and roots 6.9." */
function shareWords(shares: PotDrift['shares'], days: number): string {
  const { poured, air, pores, clay, flushWater } = shares;
  const own = `Poured at ${phText(poured)}, it would come to ${phText(air)} in ${days} days by the air alone (CO2 ${air >= poured ? 'leaving' : 'taken up'})`;
  const left =
    Math.abs(pores - air) < SLIGHT
      ? ''
      : `; what ${flushWater ? `the ${inSentence(flushWater)}` : 'was'} left in the pores makes that ${phText(pores)}`;
  const rest =
    Math.abs(clay - pores) < SLIGHT
      ? ', and clay and roots hardly change it.'
      : `, and clay and roots ${phText(clay)}.`;
  return own + left + rest;
}
