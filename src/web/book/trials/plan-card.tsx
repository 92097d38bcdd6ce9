import type { TrialPlan } from '../../../contract/trials.ts';
import { Failed } from '../../shell/states.tsx';
import type { TrialTexts } from './trial-form-values.ts';
import { size, TRIAL_MEASURE, figure } from './trial-words.ts';

/** What so many pots can show, before it is begun. */
export function PlanCard({ texts, plan, error }: { texts: TrialTexts; plan: TrialPlan | undefined; error: unknown }) {
  if (error && !plan) return <Failed error={error} retry={() => location.reload()} />;
  if (!plan)
    return (
      <section className="sheet trial-plan" aria-label="What it can show">
        <h2>What it can show</h2>
        <p className="small mb-0">
          Choose some pots, and here stands how large a difference they could show, how many it would take, and what
          they cannot answer. Eight is a beginning, twelve to twenty-four are better.
        </p>
      </section>
    );
  const main = plan.measures.find(({ measure }) => measure === texts.measure)!;
  const others = plan.measures.filter(({ measure }) => measure !== texts.measure);
  return (
    <section className="sheet trial-plan" aria-label="What it can show" aria-live="polite">
      <h2>What it can show</h2>
      {plan.problems.length === 0 && (
        <p className="verdict">
          <b>{showsWords(texts, plan, main)}</b>
        </p>
      )}
      <p className="small">
        {main.from === 'own'
          ? 'From how far these pots came apart by themselves in the weeks before.'
          : 'These pots were not read for long enough to tell: taken from what such pots do in simulated collections.'}{' '}
        Found four times in five, and called real where there is nothing at most once in twenty.
      </p>
      {main.usual !== null && (
        <p className="small">
          Such a change makes about {size(texts.measure, main.usual)}, as far as simulated collections tell
          {main.smallest !== null && main.usual < main.smallest ? ': these pots are too few for it.' : '.'}
        </p>
      )}
      {plan.differs.length > 0 && <p className="small">With the change: {plan.differs.join('; ')}.</p>}
      <h3>The same pots, asked otherwise</h3>
      <ul className="small">
        {others.map(({ measure, smallest }) => (
          <li key={measure}>
            {TRIAL_MEASURE[measure].name}: {smallest === null ? 'nothing' : `${size(measure, smallest)} or more`}
          </li>
        ))}
      </ul>
      {plan.pairs.length > 0 && (
        <>
          <h3>Pairs, the likest first</h3>
          <ul className="pairs">
            {plan.pairs.map(([a, b]) => (
              <li key={a.id}>
                {a.code} · {b.code}{' '}
                <span className="small">
                  {a.name === b.name ? `both ${a.name}` : `${a.name}, ${b.name}`}
                  {a.place === b.place ? '' : `; ${a.place} and ${b.place}`}
                </span>
              </li>
            ))}
          </ul>
        </>
      )}
      {plan.left.length > 0 && (
        <p className="small mb-0">{plan.left.map(({ code }) => code).join(', ')} is like none, and is left out.</p>
      )}
    </section>
  );
}

function showsWords(
  texts: TrialTexts,
  { pairs }: TrialPlan,
  { smallest, needed, measure }: TrialPlan['measures'][number],
): string {
  const n = `${pairs.length} ${pairs.length === 1 ? 'pair' : 'pairs'}`;
  if (smallest === null) return `${n} can show nothing: a difference could be any pot’s own.`;
  const shows = `${n} can show a difference of ${size(measure, smallest)} or more`;
  const matters = figure(measure, TRIAL_MEASURE[measure].read(Number(texts.matters.replace(',', '.'))));
  if (needed === null)
    return `${shows}. For ${matters} not even two thousand pairs would do: this cannot be asked here.`;
  return needed <= pairs.length
    ? `${shows}: enough for ${matters}, for which ${needed} would do.`
    : `${shows}; for ${matters} it takes ${needed} pairs.`;
}
