import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { AcidsFor, PotDrift, MixAdvice } from '../../contract/drift.ts';
import { daysBetween } from '../../core/regimen/index.ts';
import type { PourAim } from '../../core/drift/index.ts';
import { litres, lowerFirst, phText } from '../shell/format.ts';
import { acidsQuery, mixAdviceQuery } from './drift-query.ts';
import type { PourAnswer } from './model.ts';

/** The way to the bench with a pH aimed at, and the acid for it. */
const benchAt = ({ mixKey, litres: wanted, aim }: PotDrift['next'], ph: number, acid?: string) =>
  `/bench/new?mix=${encodeURIComponent(mixKey)}&ph=${ph.toFixed(1)}&litres=${wanted}&${aimAt(aim)}${acid ? `&acid=${acid}` : ''}`;

function aimAt(aim: PotDrift['next']['aim']): string {
  if (aim.kind === 'perL') return `perL=${aim.units}`;
  if (aim.kind === 'label') return `label=${aim.share}`;
  return aim.kind === 'net' ? `net=${Math.round(aim.ppm)}` : '';
}

/** The dark card: at what pH to pour, how long it then stays inside, and what brings the actual batch there. */
export function AdviceCard({
  pot,
  answer,
  aim,
  now,
}: {
  pot: PotDrift;
  answer: PourAnswer | undefined;
  aim: PourAim;
  now: string;
}) {
  const { next } = pot;
  const ph = answer?.ph;
  const acids = useQuery({
    ...acidsQuery(next.mixKey, ph ?? 0, next.litres),
    enabled: ph !== undefined,
    placeholderData: (old: AcidsFor | undefined) => old,
  });
  const together = useQuery({
    ...mixAdviceQuery(next.mixKey, pot.pot.dueOn > now ? pot.pot.dueOn : now),
    enabled: next.pots > 1,
  });
  if (!answer) return <section className="sheet now advice">Working it out …</section>;
  const { outcome, advice } = answer;
  const own = Math.abs(answer.ph - advice.pourPh) > 0.05;
  const inDays = daysBetween(now, pot.pot.dueOn);
  return (
    <section className="sheet now advice" aria-label="Where to pour">
      <small>
        Next round {inDays <= 0 ? 'now' : inDays === 1 ? 'tomorrow' : `in ${inDays} days`} ·{' '}
        {aim === 'steady' ? 'holding it steady' : 'letting it swing'}
      </small>
      <Headline
        pot={pot}
        ph={answer.ph}
        own={own}
        inside={outcome.inside}
        atBest={Math.max(...advice.outcomes.map((o) => o.inside))}
      />
      <small>{evidence(pot)}</small>
      {own && <small>I would pour at {phText(advice.pourPh)}.</small>}
      <WhatBringsIt next={next} ph={answer.ph} acids={acids.data} />
      {next.batch?.status === 'open' && (
        <small>
          That mix is on the bench already, for pH {phText(next.pourPh.low)} to {phText(next.pourPh.high)}.{' '}
          <Link to={`/bench/${next.batch.id}`}>Go on with it</Link>
        </small>
      )}
      {together.data && toldBy(pot) > 0 && <Together together={together.data} />}
    </section>
  );
}

/** The acids (or alkalis) that bring the mix there, with the way to the bench. */
function WhatBringsIt({ next, ph, acids }: { next: PotDrift['next']; ph: number; acids: AcidsFor | undefined }) {
  return (
    <>
      {acids && acids.choices.length > 0 ? (
        <>
          <small>
            To bring {next.pots > 1 ? `the ${litres(next.litres)} for ${next.pots} pots` : litres(next.litres)}{' '}
            {acids.fromPh > acids.toPh ? 'down' : 'up'} from {phText(acids.fromPh)}
            {acids.choices.length > 1 ? ', either' : ''}
          </small>
          {acids.choices.slice(0, 2).map((choice, i) => (
            <div key={choice.productId} className={`acid ${i === 0 ? 'first' : ''}`}>
              <div>
                <b>
                  {choice.words} of {lowerFirst(choice.name)}
                </b>
                <div>
                  <small>{choice.brings ? `brings ${choice.brings}` : choice.lasts}</small>
                </div>
              </div>
              <Link className="use" to={benchAt(next, ph, choice.productId)}>
                Use
              </Link>
            </div>
          ))}
          <small>Acid into water, never the reverse; gloves and eyes covered; the label leads.</small>
        </>
      ) : (
        <Link className="btn btn-clay" to={benchAt(next, ph)}>
          {acids?.why === 'The mix stands there by itself.'
            ? 'Make it: it stands there by itself'
            : 'To the bench with it'}
        </Link>
      )}
      {acids?.why && acids.choices.length === 0 && <small>{acids.why}</small>}
    </>
  );
}

/** What the whole mix is best poured at, and who would have it otherwise. */
function Together({ together }: { together: MixAdvice }) {
  const { suffer } = together;
  if (together.pourPh === null) return null;
  return (
    <small>
      One mix for {together.pots}: best at {phText(together.pourPh)}
      {suffer.length > 0 &&
        `; ${suffer
          .slice(0, 2)
          .map((s) => `${s.code} would have ${(s.best - s.inside).toFixed(1)} d more at ${phText(s.bestPh)}`)
          .join(', ')}`}
    </small>
  );
}

/** Visits whose pH was read, and soak tests that told something. */
const toldBy = ({ pot, soaks }: PotDrift) => pot.rounds + soaks.filter((s) => s.result.ok).length;

/** At what pH to pour; quietly where nothing was read of the pot, with the one reading that would help. */
function Headline({
  pot,
  ph,
  own,
  inside,
  atBest,
}: {
  pot: PotDrift;
  ph: number;
  own: boolean;
  inside: number;
  atBest: number;
}) {
  const { everyDays } = pot.next;
  if (toldBy(pot) === 0 && !own)
    return (
      <>
        <div className="say">Begin at {phText(ph)}</div>
        <small>
          Nothing was read of this pot yet: that is what others would ask for. One pH of its old reservoir, at the next
          round, would tell more than anything here.
        </small>
      </>
    );
  if (!own && atBest < HOPELESS * everyDays)
    return (
      <>
        <div className="say">No pour holds this one</div>
        <small>
          At {phText(ph)} it is inside for {inside < 1 ? 'less than a day' : `about ${Math.round(inside)} days`} of{' '}
          {everyDays}: change it sooner, try something against its clay, or repot it into leached clay.
        </small>
      </>
    );
  return (
    <div className="say">
      {own ? 'Poured at' : 'Pour at'} {phText(ph)} {own ? 'it would stay inside' : 'and it stays inside'} for about{' '}
      {Math.round(inside)} of {everyDays} days
    </div>
  );
}

/** Where the best pour is inside for less than so much of the days, pouring is no answer. House rule. */
const HOPELESS = 0.35;

/** What the advice stands on, in a line. */
function evidence({ pot, soaks }: PotDrift): string {
  const told = soaks.filter((s) => s.result.ok).length;
  const tests = told === 0 ? '' : ` and ${told} soak test${told === 1 ? '' : 's'}`;
  if (pot.rounds === 0)
    return `Not read since it was potted: by ${pot.clay ? 'the pots in its clay' : 'what most pots do'}${tests}`;
  return `By ${pot.rounds} visit${pot.rounds === 1 ? '' : 's'} whose pH was read${tests}`;
}
