import { useState } from 'react';
import ToggleButton from 'react-bootstrap/ToggleButton';
import ToggleButtonGroup from 'react-bootstrap/ToggleButtonGroup';
import { Link } from 'react-router';
import type { ReadChoiceView, RoundView } from '../../contract/round.ts';
import { someOf } from '../../core/quantity/index.ts';
import { DIP_SECONDS, TRIED } from '../../core/what-to-read/index.ts';
import { useAct } from '../shell/use-act.ts';

const WAYS = [
  ['everything', 'Everything'],
  ['asked', 'What is asked'],
  ['little', 'Only little'],
] as const;
const MOST_NAMED = 6;
const dips = (n: number) => `${n} dip${n === 1 ? '' : 's'}`;

/** How much is read of this round: each way with its dips and minutes, one tap each. */
export function ReadingChoice({ reading }: { reading: RoundView['reading'] }) {
  const { send, busy } = useAct('/api/round/reading');
  const count = { everything: reading.all, asked: reading.asked, little: reading.little };
  const choose = (how: (typeof WAYS)[number][0]) => {
    if (!busy) void send({ kind: 'howMuch', choice: { how } }, `Reading: ${WAYS.find(([way]) => way === how)![1]}`);
  };
  // Without a pen there is nothing to choose.
  if (reading.all === 0) return null;
  return (
    <ToggleButtonGroup
      type="radio"
      name="how-much"
      className="how-much"
      aria-label="How much to read"
      value={reading.choice.how}
      onChange={choose}
    >
      {WAYS.map(([how, words]) => (
        <ToggleButton key={how} id={`how-much-${how}`} value={how} variant="light">
          <b>{words}</b>
          <small>
            {dips(count[how])}, {reading.minutes[how]} min
          </small>
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}

/** The same in a line, where there is room for no more. */
export function ReadWords({ reading: { choice, made, pots }, due }: { reading: RoundView['reading']; due: number }) {
  if (choice.how === 'everything') return null;
  return (
    <div className="small">
      Read <b className="ink">{`${pots} pot${pots === 1 ? '' : 's'}, ${dips(made)}`}</b>
      {due > pots && `; ${due - pots} may be left`}
    </div>
  );
}

/** Where not everything is read: what is, what is left, what that costs, and a budget. */
export function ReadStrip({ reading, due }: { reading: RoundView['reading']; due: number }) {
  const { choice, made, missed, all, asked, pots, minutes, never, pens } = reading;
  if (choice.how === 'everything' || due === 0 || all === 0) return null;
  const left = due - pots;
  return (
    <section className="sheet read-strip" aria-label="What to read">
      <div>
        <h2>
          Read {pots} pot{pots === 1 ? '' : 's'}, {dips(made)}
          {left > 0 && `, leave ${left}`}
        </h2>
        <div className="read-said">
          <p className="small mb-0">
            {minutes.made} min instead of {minutes.everything}.{' '}
            {asked === all && 'So far everything is asked: a pot’s first readings teach what may be left. '}
            {missed > 0 && (
              <b className="late-ink">
                {missed} of {asked} asked {missed === 1 ? 'is' : 'are'} left out: the most telling come first.{' '}
              </b>
            )}
            {missed > 0 && made < all / 3 && 'Of under a third of all readings nothing is promised. '}
            {never.length > 0 && `Never asked: ${someOf(never, MOST_NAMED)}. `}
            {pens.map((pen) => (
              <span key={pen.meterId}>
                <Link to="/shelf">{pen.words}</Link>: pots hardly show a pen that drifts.{' '}
              </span>
            ))}
          </p>
          <details className="small what-misses">
            <summary>What this can miss</summary>
            Lived through with {TRIED.collections} simulated collections of five kinds, troubles planted in each, what
            is asked took {TRIED.dips} % of the dips and found {TRIED.inTime} of 100 troubles no more than a round later
            than reading everything; {TRIED.missed} of 100 it did not find. It finds least where a pot turns acid and
            where a flush runs past the clay. What grows on the leaves no dip shows.
          </details>
        </div>
      </div>
      <Budget key={JSON.stringify(choice)} reading={reading} />
    </section>
  );
}

/** So many dips or minutes at the most. */
function Budget({ reading: { choice, made, done } }: { reading: RoundView['reading'] }) {
  const set = choice.how === 'atMost' ? choice : undefined;
  const [of, setOf] = useState<'dips' | 'minutes'>(set?.of ?? 'dips');
  const { send, busy } = useAct('/api/round/reading');
  const whole = done + made;
  const now = set?.of === of ? set.most : of === 'dips' ? whole : Math.ceil((whole * DIP_SECONDS) / 60);
  const put = (most: number) => {
    const next: ReadChoiceView = { how: 'atMost', most, of };
    if (!busy) void send({ kind: 'howMuch', choice: next }, `Reading: at most ${most} ${of === 'dips' ? of : 'min'}`);
  };
  return (
    <div className={set ? 'budget on' : 'budget'} role="group" aria-label="A budget">
      <span className="small">{set ? 'at most' : 'or at most'}</span>
      <button
        type="button"
        className="btn btn-outline-secondary"
        aria-label="Fewer"
        disabled={now === 0}
        onClick={() => put(now - 1)}
      >
        −
      </button>
      <b className="num">{now}</b>
      <button type="button" className="btn btn-outline-secondary" aria-label="More" onClick={() => put(now + 1)}>
        +
      </button>
      <select
        className="form-select form-select-sm"
        aria-label="Counted in"
        value={of}
        onChange={(e) => setOf(e.target.value as typeof of)}
      >
        <option value="dips">dips</option>
        <option value="minutes">min</option>
      </select>
      {done > 0 && <span className="small">{done} made</span>}
    </div>
  );
}
