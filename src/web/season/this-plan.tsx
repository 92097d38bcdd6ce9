import type { PlanAim } from '../../core/plan/index.ts';
import { durationWords, litres } from '../shell/format.ts';
import { AIMS, type PlanOf, type Plans } from './make-plans.ts';

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

/** The plans side by side; a press takes what matters most. */
type ThisPlanProps = {
  plans: Plans;
  aim: PlanAim;
  /** Still water is counted. */
  tank: boolean;
  /** Mixes there are at least if nobody is late or dry and no soak missed; undefined where that is not proven. */
  fewest: number | undefined;
  onAim(next: PlanAim): void;
};

export function ThisPlan({ plans, aim, tank, fewest, onAim }: ThisPlanProps) {
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
      <p className="small mb-0">{howGood(plans[aim], fewest)}</p>
    </section>
  );
}

/** How good it is, as far as anything is proven. */
function howGood({ lived: { totals }, searched }: PlanOf, fewest: number | undefined): string {
  if (!searched) return 'Made at once, day by day; a better one is being sought.';
  const mixes =
    fewest === undefined
      ? 'How few mixes it could do with is not proven yet.'
      : totals.mixes === fewest
        ? `No plan in which nobody is late or dry and no soak missed has fewer than ${fewest} mixes.`
        : totals.latePotDays + totals.dryPotDays > 0
          ? `With nobody late or dry and no soak missed it would take at least ${fewest} mixes.`
          : `At least ${fewest} mixes if nobody is late or dry and no soak missed; this has ${totals.mixes}.`;
  if (totals.latePotDays === 0 && totals.dryPotDays === 0) return `Nobody late: that cannot be better. ${mixes}`;
  return `The best that was found by small moves; how far the best there is may lie is not proven. ${mixes}`;
}
