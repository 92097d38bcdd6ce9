import type { StartTrial, TrialChange, TrialMeasure } from '../../../contract/trials.ts';
import { TREATMENTS, type TreatmentKind } from '../../../contract/kinds.ts';
import { TRIAL_MEASURE } from './trial-words.ts';

/** A trial as it is typed. */
export type TrialTexts = {
  readonly question: string;
  readonly kind: TrialChange['kind'];
  /** Of each kind its own figure or choice, as typed. */
  readonly share: string;
  readonly times: string;
  readonly flush: string;
  readonly by: string;
  readonly with: 'still' | 'plentiful';
  readonly regimenId: string;
  readonly treatment: TreatmentKind;
  readonly words: string;
  readonly measure: TrialMeasure;
  readonly matters: string;
  readonly weeks: string;
  readonly alike: string;
  readonly potIds: readonly string[];
};

export const CHANGES: readonly (readonly [TrialChange['kind'], string])[] = [
  ['flushWith', 'Flushed with another water'],
  ['strength', 'Fed stronger or weaker'],
  ['days', 'Watered more or less often'],
  ['flush', 'Flushed with more or less'],
  ['pourPh', 'Poured at another pH'],
  ['regimen', 'Another regimen'],
  ['treatment', 'Something against a clay that pushes'],
  ['own', 'Something else, done by hand'],
];

export const EMPTY_TRIAL: TrialTexts = {
  question: '',
  kind: 'flushWith',
  share: '50',
  times: '2',
  flush: '6',
  by: '-0.8',
  with: 'still',
  regimenId: '',
  treatment: TREATMENTS[0],
  words: '',
  measure: 'strength',
  matters: TRIAL_MEASURE.strength.usual,
  weeks: '12',
  alike: '',
  potIds: [],
};

/** A figure as people type it; not a number where it is none. */
const number = (text: string) => (text.trim() === '' ? NaN : Number(text.trim().replace(',', '.').replace('−', '-')));

export function changeOf(t: TrialTexts): TrialChange {
  switch (t.kind) {
    case 'flushWith':
      return { kind: t.kind, with: t.with };
    case 'strength':
      return { kind: t.kind, share: number(t.share) / 100 };
    case 'days':
      return { kind: t.kind, times: number(t.times) };
    case 'flush':
      return { kind: t.kind, timesReservoir: number(t.flush) };
    case 'pourPh':
      return { kind: t.kind, by: number(t.by) };
    case 'regimen':
      return { kind: t.kind, regimenId: t.regimenId };
    case 'treatment':
      return { kind: t.kind, treatment: t.treatment };
    case 'own':
      return { kind: t.kind, words: t.words };
  }
}

/** What is asked of the server. A figure that is none goes as null, and comes back with what is wrong at its field. */
export function trialOf(t: TrialTexts): StartTrial {
  return {
    question: t.question.trim(),
    change: changeOf(t),
    measure: t.measure,
    matters: TRIAL_MEASURE[t.measure].read(number(t.matters)),
    weeks: number(t.weeks),
    alike: t.alike
      .split(',')
      .map((one) => one.trim())
      .filter(Boolean),
    potIds: [...t.potIds],
  };
}

/** Whether so much is typed that a plan can be made of it. */
export const canPlan = (t: TrialTexts): boolean => {
  const { matters, weeks, change } = trialOf(t);
  const figures = Object.values(change).filter((v): v is number => typeof v === 'number');
  return (
    t.potIds.length > 0 &&
    matters > 0 &&
    Number.isInteger(weeks) &&
    weeks >= 2 &&
    weeks <= 52 &&
    figures.every(Number.isFinite) &&
    (t.kind !== 'regimen' || t.regimenId !== '') &&
    (t.kind !== 'own' || t.words.trim() !== '')
  );
};
