import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { AcidsFor, PotDrift } from '../../contract/drift.ts';
import type { PourAim } from '../../core/drift/index.ts';
import { litres, phText } from '../shell/format.ts';
import { acidsQuery, mixAdviceQuery } from './drift-query.ts';
import type { PourAnswer } from './model.ts';

/** The way to the bench with a pH aimed at, and the acid for it. */
const benchAt = ({ mixKey, litres: wanted, netPpm }: PotDrift['next'], ph: number) =>
  `/bench/new?mix=${encodeURIComponent(mixKey)}&ph=${ph.toFixed(1)}&litres=${wanted}&net=${Math.round(netPpm)}`;

/** The dark card: at what pH to pour, how long it then stays inside, and what brings the actual batch there. */
export function AdviceCard({ pot, answer, aim, now }: { pot: PotDrift; answer: PourAnswer | undefined; aim: PourAim; now: string }) {
  const { next } = pot;
  const ph = answer?.ph;
  const acids = useQuery({ ...acidsQuery(next.mixKey, ph ?? 0, next.litres), enabled: ph !== undefined, placeholderData: (old: AcidsFor | undefined) => old });
  const together = useQuery({ ...mixAdviceQuery(next.mixKey, pot.pot.dueOn > now ? pot.pot.dueOn : now), enabled: next.pots > 1 });
  if (!answer) return <section className="sheet now advice">Working it out …</section>;
  const { outcome, advice } = answer;
  const own = Math.abs(answer.ph - advice.pourPh) > 0.05;
  const inDays = daysTo(now, pot.pot.dueOn);
  const suffers = together.data?.suffer ?? [];
  return (
    <section className="sheet now advice" aria-label="Where to pour">
      <small>
        Next round {inDays <= 0 ? 'now' : inDays === 1 ? 'tomorrow' : `in ${inDays} days`} · {aim === 'steady' ? 'holding it steady' : 'letting it swing'}
      </small>
      <div className="say">
        {own ? 'Poured at' : 'Pour at'} {phText(answer.ph)} {own ? 'it would stay inside' : 'and it stays inside'} for {Math.round(outcome.inside)} of{' '}
        {next.everyDays} days
      </div>
      {Math.max(...advice.outcomes.map((o) => o.inside)) < HOPELESS * next.everyDays && (
        <small>No pour holds this one: change it sooner, try something against its clay, or repot it into leached clay.</small>
      )}
      {own && <small>I would pour at {phText(advice.pourPh)}.</small>}
      {acids.data && acids.data.choices.length > 0 ? (
        <>
          <small>
            To bring {next.pots > 1 ? `the ${litres(next.litres)} for ${next.pots} pots` : litres(next.litres)}{' '}
            {acids.data.fromPh > acids.data.toPh ? 'down' : 'up'} from {phText(acids.data.fromPh)}
            {acids.data.choices.length > 1 ? ', either' : ''}
          </small>
          {acids.data.choices.slice(0, 2).map((choice, i) => (
            <div key={choice.productId} className={`acid ${i === 0 ? 'first' : ''}`}>
              <div>
                <b>
                  {choice.words} of {nameInLine(choice.name)}
                </b>
                <div>
                  <small>{choice.brings ? `brings ${choice.brings}` : choice.lasts}</small>
                </div>
              </div>
              <Link className="use" to={benchAt(next, answer.ph)}>
                Use
              </Link>
            </div>
          ))}
          <small>Acid into water, never the reverse; gloves and eyes covered; the label leads.</small>
        </>
      ) : (
        <Link className="btn btn-clay" to={benchAt(next, answer.ph)}>
          {acids.data?.why === 'The mix stands there by itself.' ? 'Make it: it stands there by itself' : 'To the bench with it'}
        </Link>
      )}
      {acids.data?.why && acids.data.choices.length === 0 && <small>{acids.data.why}</small>}
      {next.batch?.status === 'open' && (
        <small>
          That mix is on the bench already, for pH {phText(next.pourPh.low)} to {phText(next.pourPh.high)}.{' '}
          <Link to={`/bench/${next.batch.id}`}>Go on with it</Link>
        </small>
      )}
      {together.data?.pourPh != null && (
        <small>
          One mix for {together.data.pots}: best at {phText(together.data.pourPh)}
          {suffers.length > 0 &&
            `; ${suffers
              .slice(0, 2)
              .map((s) => `${s.code} would have ${(s.best - s.inside).toFixed(1)} d more at ${phText(s.bestPh)}`)
              .join(', ')}`}
        </small>
      )}
    </section>
  );
}

/** Where the best pour is inside for less than so much of the days, pouring is no answer. House rule. */
const HOPELESS = 0.35;

/** A name within a sentence, its "pH" left as it is written. */
const nameInLine = (name: string) => name.charAt(0).toLowerCase() + name.slice(1);

function daysTo(from: string, to: string): number {
  return Math.round((Date.parse(to) - Date.parse(from)) / 86_400_000);
}
