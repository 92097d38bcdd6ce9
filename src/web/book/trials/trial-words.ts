import type { TrialMeasure, TrialView } from '../../../contract/trials.ts';
import { NBSP, phText } from '../../shell/format.ts';

type Shown = {
  readonly name: string;
  /** What its figures are less the pot's own past. */
  readonly of: string;
  /** A difference in the reader's terms, without its unit. */
  readonly text: (value: number) => string;
  readonly unit: string;
  /** A typed figure as the core has it. */
  readonly read: (typed: number) => number;
  readonly usual: string;
};
const percentOf = (ln: number) => 100 * (Math.exp(ln) - 1);
const plain = (value: number) => value;
/** A share, as a percentage. */
const SHARE = {
  text: (value: number) => String(Math.round(100 * value)),
  unit: '%',
  read: (percent: number) => percent / 100,
};

export const TRIAL_MEASURE: Readonly<Record<TrialMeasure, Shown>> = {
  strength: {
    name: 'Salt left in the reservoir',
    of: 'old reservoir over what was poured, less the pot’s own past',
    text: (v) => String(Math.round(percentOf(v))),
    unit: '%',
    read: (percent) => Math.log(1 + percent / 100),
    usual: '20',
  },
  ph: {
    name: 'pH at change',
    of: 'pH of the old reservoir, less the pot’s own past',
    text: (v) => (Math.abs(v) < 0.995 ? v.toFixed(2) : phText(v)),
    unit: '',
    read: plain,
    usual: '0.3',
  },
  left: {
    name: 'What is left at the change',
    of: 'share of the filling, less the pot’s own past',
    ...SHARE,
    usual: '15',
  },
  dry: {
    name: 'Found dry',
    of: 'share of visits, less the pot’s own past',
    ...SHARE,
    usual: '20',
  },
  growth: {
    name: 'Growth of the longest leaf',
    of: 'percent a month by its measures, less the pot’s own past: measure it at the start, and every few weeks',
    text: (v) => percentOf(v).toFixed(1),
    unit: '%',
    read: (percent) => Math.log(1 + percent / 100),
    usual: '5',
  },
};

/** "12 %", "0.20", "−3 %". */
export function figure(measure: TrialMeasure, value: number): string {
  const { text, unit } = TRIAL_MEASURE[measure];
  const shown = text(value).replace(/^-/, '−');
  const zero = /^−?0(\.0+)?$/.test(shown) ? shown.replace('−', '') : shown;
  return unit ? `${zero}${NBSP}${unit}` : zero;
}
/** A size, without its sign; of a share of strength what is less and what is more are not the same percentage. */
export const size = (measure: TrialMeasure, value: number): string => figure(measure, Math.abs(value));

const VERDICT_CHIP: Readonly<Record<TrialView['verdict'], { words: string; tone: string }>> = {
  real: { words: 'a real difference', tone: 'good' },
  small: { words: 'real, its size in doubt', tone: 'good' },
  none: { words: 'no difference that matters', tone: '' },
  open: { words: 'cannot say', tone: 'soon' },
  few: { words: 'too few to say', tone: 'soon' },
};

/** Whether all an interval holds is less than would matter. */
const isSlight = ({ low, high }: { low: number; high: number }, matters: number) =>
  Math.max(Math.abs(low), Math.abs(high)) < matters;

/** The verdict in a few words; one that is real and still less than would matter is no cause to change anything. */
export function chipOf({ verdict, difference, matters }: Pick<TrialView, 'verdict' | 'difference' | 'matters'>) {
  const real = verdict === 'real' || verdict === 'small';
  return real && difference && isSlight(difference, matters)
    ? { words: 'real, but less than would matter', tone: '' }
    : VERDICT_CHIP[verdict];
}

/** What the trial says so far, never more than its figures. */
export function verdictWords({
  verdict,
  measure,
  pairs,
  difference,
  smallest,
  state,
  weeksGone,
  weeks,
  matters,
}: TrialView): string {
  const early = state === 'running' || state === 'early';
  const when =
    state === 'running'
      ? `After ${weeksGone} of ${weeks} weeks`
      : state === 'early'
        ? `Ended after ${weeksGone} of ${weeks} weeks`
        : '';
  const said = wordsOf(verdict, measure, pairs, difference, smallest);
  const slight =
    (verdict === 'real' || verdict === 'small') && difference && isSlight(difference, matters)
      ? ` It is less than the ${size(measure, matters)} that would matter.`
      : '';
  const caution =
    early && verdict !== 'few'
      ? ' Looked at before its time, only what would come up by chance once in a thousand is called real: the range is that wide.'
      : '';
  return `${when ? `${when}: ${said.charAt(0).toLowerCase()}${said.slice(1)}` : said}${slight}${caution}`;
}

function wordsOf(
  verdict: TrialView['verdict'],
  measure: TrialMeasure,
  pairs: number,
  difference: TrialView['difference'],
  smallest: number | null,
): string {
  if (!difference || verdict === 'few')
    return `${pairs === 1 ? 'One pair is' : 'No pair is'} read on both sides of the start: nothing can be said before two are, and little before six.`;
  const range = `${figure(measure, difference.low)} to ${figure(measure, difference.high)}`;
  const shows = smallest === null ? '' : `${pairs} pairs can show a difference of ${size(measure, smallest)} or more; `;
  switch (verdict) {
    case 'real':
      return `${shows}this one is ${figure(measure, difference.mean)} (${range}).`;
    case 'small':
      return `${shows}this one is ${figure(measure, difference.mean)} (${range}): there is one, how large is in doubt.`;
    case 'none':
      return `Any difference is less than would matter: it lies between ${range.replace(' to ', ' and ')}.`;
    case 'open':
      return `${shows}this one lies anywhere from ${range}, and may be none.`;
  }
}

export const STATE_WORDS: Readonly<Record<TrialView['state'], string>> = {
  running: 'running',
  over: 'its time is over',
  early: 'ended before its time',
  ended: 'ended',
};
