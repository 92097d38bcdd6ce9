import { Liver, PLAN_AIMS, type PlanAim, type PlanProblem } from '../../core/plan/index.ts';
import { durationWords, litres } from '../shell/format.ts';
import { AIMS, type PlanOf, type Plans } from './make-plans.ts';
import type { Proven } from './use-proven.ts';

const AIM_WORDS: Record<PlanAim, string> = {
  fewestMixes: 'Fewest mixes',
  nobodyLate: 'Nobody late',
  leastWater: 'Least water',
};

type Totals = PlanOf['lived']['totals'];
const ROWS: readonly {
  readonly words: string;
  readonly ofTank?: true;
  of(totals: Totals): string;
  shown?(totals: Totals): boolean;
}[] = [
  { words: 'Still water needed', ofTank: true, of: (t) => litres(t.usedL) },
  { words: 'Made', ofTank: true, of: (t) => litres(t.madeL) },
  { words: 'Over the top', ofTank: true, of: (t) => litres(t.overL) },
  { words: 'To carry in', of: (t) => litres(t.carriedL), shown: (t) => t.carriedL >= 0.05 },
  { words: 'Late at worst', of: lateWords },
  {
    words: 'Dry before it is filled',
    of: (t) => (t.dryPotDays === 0 ? 'none' : `${t.dryPotDays} pot-days`),
    shown: (t) => t.dryPotDays > 0,
  },
  {
    words: 'Soaks missed',
    of: (t) => (t.missedSoakPots === 0 ? 'none' : pots(t.missedSoakPots)),
    shown: (t) => t.missedSoakPots > 0,
  },
  {
    words: 'New clay’s changes late',
    of: (t) => (t.leachLateDays === 0 ? 'none' : `${t.leachLateDays} days in all`),
    shown: (t) => t.leachLateDays > 0,
  },
  {
    words: 'Over the minutes',
    of: (t) => (t.overMinutes < 1 ? 'none' : durationWords(t.overMinutes)),
    shown: (t) => t.overMinutes >= 1,
  },
  { words: 'Mixes to make', of: (t) => String(t.mixes) },
  { words: 'Days with work', of: (t) => String(t.trips) },
];

const pots = (n: number) => `${n} pot${n === 1 ? '' : 's'}`;
function lateWords({ lateAtWorst: { days, pots: n } }: Totals): string {
  return days === 0 ? 'none' : `${pots(n)}, ${days} day${days === 1 ? '' : 's'}`;
}

type ThisPlanProps = {
  plans: Plans;
  aim: PlanAim;
  /** Still water is counted. */
  tank: boolean;
  problem: PlanProblem;
  proven: Proven;
  onAim(next: PlanAim): void;
};

/** The plans side by side; a press takes what matters most. */
export function ThisPlan({ plans, aim, tank, problem, proven, onAim }: ThisPlanProps) {
  const shown = ROWS.filter(
    ({ shown: isShown, ofTank }) =>
      (tank || !ofTank) && (!isShown || AIMS.some((one) => isShown(plans[one].lived.totals))),
  );
  return (
    <section className="sheet this-plan" aria-label="This plan">
      <h2>
        This plan <small>pick what matters most</small>
      </h2>
      <table>
        <thead>
          <tr>
            <td />
            {AIMS.map((one) => (
              <th key={one} scope="col">
                <button
                  type="button"
                  className={one === aim ? 'on' : ''}
                  aria-pressed={one === aim}
                  onClick={() => onAim(one)}
                >
                  {AIM_WORDS[one]}
                </button>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {shown.map(({ words, of }) => (
            <tr key={words}>
              <th scope="row">{words}</th>
              {AIMS.map((one) => (
                <td key={one} className={one === aim ? 'on num' : 'num'}>
                  {of(plans[one].lived.totals)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="small mb-0">{howGood(problem, aim, plans[aim], proven)}</p>
    </section>
  );
}

/** How good it is, as far as anything is proven. */
function howGood(
  problem: PlanProblem,
  aim: PlanAim,
  { plan, lived: { totals }, searched }: PlanOf,
  proven: Proven,
): string {
  if (!searched) return 'Made at once, day by day; a better one is being sought.';
  const late = totals.latePotDays + totals.dryPotDays > 0;
  return [
    late ? '' : 'Nobody late: that cannot be better.',
    mixesWords(totals.mixes, late, proven),
    costWords(new Liver(problem).cost(plan, PLAN_AIMS[aim]), proven),
  ]
    .filter(Boolean)
    .join(' ');
}

function mixesWords(mixes: number, late: boolean, { mixes: fewest }: Proven): string {
  if (fewest === undefined) return 'How few mixes it could do with is not proven yet.';
  if (mixes === fewest)
    return `No plan in which nobody is late or dry and no soak missed has fewer than ${fewest} mixes.`;
  return late
    ? `With nobody late or dry and no soak missed it would take at least ${fewest} mixes.`
    : `At least ${fewest} mixes if nobody is late or dry and no soak missed; this has ${mixes}.`;
}

/** Closer than this to what is proven is as good as there. */
const AS_GOOD = 0.01;
/** All together, by what each thing counts for this aim. */
function costWords(cost: number, { cost: bound }: Proven): string {
  if (bound === undefined || !(cost > 0)) return '';
  const share = 1 - bound / cost;
  return share <= AS_GOOD
    ? 'All things together no plan is better by more than one in a hundred.'
    : `All things together no plan is better by more than ${Math.ceil(100 * share)} %; how much of that can be had is not known.`;
}
