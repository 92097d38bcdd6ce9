import { median } from 'simple-statistics';
import { fitClay, type ClayFit } from './fit.ts';
import { forecastLeach, type LeachForecast } from './forecast.ts';
import { playLeach, type LeachHistory } from './history.ts';
import { carefulClay, chanceReady, leachStanding, type LeachStanding } from './leach-standing.ts';
import { planLeach, planOwnWay, type LeachLimits, type LeachPlan } from './plan.ts';
import type { ClayPrior } from './prior.ts';
import { changeWater, hoursToFlat } from './stores.ts';

/* Ways to leach a batch to its gate, from where it stands. */

/** What is told of a batch: its leach so far, and how its grower goes about it. Strengths on the pen's scale. */
export type LeachedBatch = {
  readonly prior: ClayPrior;
  readonly values: {
    readonly volumeL: number;
    readonly coverL: number | null;
    readonly lookEveryHours: number;
    readonly gatePpm: number;
    readonly way: LeachWay;
  };
  readonly leach: {
    readonly startedAt: string;
    readonly drainedAt: string | null;
    readonly history: LeachHistory;
  } | null;
  readonly state: string;
  readonly ready: boolean;
  readonly retiredOn: string | null;
};
export type LeachWay = 'litres' | 'days' | 'own';

/** States in which a way to the gate can still be chosen. */
const WAYS_OPEN: ReadonlySet<string> = new Set(['soaking', 'rinsed', 'bag']);

/** What is wished for of a batch as it stands. @param scale of the pen at hand @param still what there is to change with; null where that is no bound */
export function leachWish(batch: LeachedBatch, nowMs: number, scale: number, still: LeachQuestion['still']): LeachWish {
  return {
    asked: leachQuestion(batch, nowMs, scale, still),
    way: batch.values.way,
    open: batch.retiredOn === null && WAYS_OPEN.has(batch.state),
    atRest: batch.leach?.drainedAt != null || batch.ready,
    stands: batch.leach !== null && batch.leach.drainedAt === null,
  };
}

/** Rule of thumb: water that covers a litre of clay once it is wet, L. House rule. */
export const COVER_PER_CLAY = 0.6;
/** The aim is this share of the gate: 30 where 40 is good enough. House rule. */
export const AIM_SHARE = 0.75;
const HOUR_MS = 3_600_000;
const MOST_DAYS = 28;

/** What the model needs to know of a batch to say where it stands and how it may go on; all at the half scale, net of the base. */
export type LeachQuestion = {
  readonly prior: ClayPrior;
  readonly history: LeachHistory;
  /** Since the first water; 0 before it. */
  readonly nowHours: number;
  /** It has had its first water. */
  readonly begun: boolean;
  readonly coverL: number;
  readonly lookEveryHours: number;
  readonly gatePpm: number;
  readonly still: { readonly nowL: number; readonly perDayL: number } | null;
};

export type WayForecast = { readonly way: LeachWay; readonly plan: LeachPlan; readonly forecast: LeachForecast };
export type LeachModel = {
  readonly fit: ClayFit;
  readonly standing: LeachStanding;
  readonly own: OwnWay;
  readonly asked: LeachQuestion;
};
export type OwnWay = { readonly everyHours: number; readonly freshL: number; readonly nextInHours: number };

const WAYS: readonly LeachWay[] = ['litres', 'days', 'own'];

/** What to ask the model of a batch. @param scale of the pen at hand */
function leachQuestion(
  batch: LeachedBatch,
  nowMs: number,
  scale: number,
  still: LeachQuestion['still'],
): LeachQuestion {
  const { values, leach } = batch;
  const coverL = values.coverL ?? (leach ? leastWater(leach.history) : values.volumeL * COVER_PER_CLAY);
  const until = leach?.drainedAt ? Date.parse(leach.drainedAt) : nowMs;
  return {
    prior: batch.prior,
    history: leach?.history ?? { clayL: values.volumeL, firstL: coverL, acts: [] },
    nowHours: leach
      ? Math.max(0, (until - Date.parse(leach.startedAt)) / HOUR_MS, leach.history.acts.at(-1)?.atHours ?? 0)
      : 0,
    begun: leach !== null,
    coverL,
    lookEveryHours: values.lookEveryHours,
    gatePpm: (values.gatePpm * 0.5) / scale,
    still,
  };
}

/** A finger's breadth less than it stood in covers it too: jugs are not read finer. House rule. */
const STILL_COVERS = 0.97;

/** The least it ever stood in: that covered it. */
function leastWater({ firstL, acts }: LeachHistory): number {
  let waterL = firstL;
  let least = firstL;
  for (const act of acts) {
    if (act.kind !== 'change' || act.pouredOffL === undefined) continue;
    waterL += act.freshL - act.pouredOffL;
    least = Math.min(least, waterL);
  }
  return Math.max(0.1, STILL_COVERS * least);
}

/** Fits a batch and says how it stands, and how its grower has gone about it so far. */
function leachOf(asked: LeachQuestion, known: ClayFit | undefined): LeachModel {
  const fit = known ?? fitClay(asked.prior, asked.history);
  const standing = leachStanding(fit, asked.history, asked.nowHours);
  return { fit, standing, own: ownWay(fit, standing, asked), asked };
}

/** The wait and the volume of the changes so far; before the first, as long as a bath takes to level off and as much as covers it. */
function ownWay(
  fit: ClayFit,
  standing: LeachStanding,
  { history, coverL, lookEveryHours, nowHours }: LeachQuestion,
): OwnWay {
  const changes = history.acts.filter((act) => act.kind === 'change');
  const { leach } = playLeach(fit.clay, history, nowHours);
  const freshL = changes.at(-1)?.freshL ?? Math.max(0.1, coverL - fit.clay.retained * leach.waterL);
  const waits = changes.map((act, i) => act.atHours - (changes[i - 1]?.atHours ?? 0));
  const levels = hoursToFlat(fit.clay, history.clayL, changeWater(fit.clay, leach, freshL).leach);
  const everyHours = Math.max(
    lookEveryHours / 2,
    waits.length > 0 ? median(waits) : Math.ceil(levels / lookEveryHours) * lookEveryHours,
  );
  const due = standing.levelledOff ? 0 : Math.min(Math.max(0, everyHours - standing.hours), standing.levelsInHours);
  return { everyHours, freshL, nextInHours: changes.length === 0 && standing.hours === 0 ? everyHours : due };
}

/** What is wished for of a batch. */
export type LeachWish = {
  readonly asked: LeachQuestion;
  /** The way that is followed. */
  readonly way: LeachWay;
  /** Ways can still be chosen. */
  readonly open: boolean;
  /** Ready or drained: nothing more is planned. */
  readonly atRest: boolean;
  readonly stands: boolean;
};
export type LeachAnswer = {
  readonly model: LeachModel;
  /** None where none can be chosen any more. */
  readonly ways: readonly WayForecast[];
  readonly forecast: LeachForecast;
  /** Hours until the way that is followed changes the water; undefined where it does not. */
  readonly nextInHours: number | undefined;
};
/** Water at rest is looked ahead for so long. */
const AT_REST_H = 12;

/** How a batch stands, what comes, and the ways to the gate. @param known the fit, where the same was fitted before */
export function answerLeach({ asked, way, open, atRest, stands }: LeachWish, known?: ClayFit): LeachAnswer {
  const model = leachOf(asked, known);
  const ways = open ? WAYS.map((one) => wayForecast(model, one)) : [];
  if (atRest) {
    const { gatePpm, history, nowHours } = asked;
    const forecast = forecastLeach(model.fit, history, nowHours, [], gatePpm, stands ? AT_REST_H : 0);
    return { model, ways, forecast, nextInHours: undefined };
  }
  const followed = ways.find((one) => one.way === way) ?? wayForecast(model, way);
  return { model, ways, forecast: followed.forecast, nextInHours: followed.plan.changes[0]?.inHours };
}

/** One way to the gate from here on, with what it would look like. Plans aim under the gate, so that good enough comes on the way. */
function wayForecast({ fit, own, asked }: LeachModel, way: LeachWay): WayForecast {
  const { history, nowHours } = asked;
  const clay = carefulClay(fit, history, nowHours);
  const { leach } = playLeach(clay, history, nowHours);
  const limits: LeachLimits = {
    coverL: asked.coverL,
    still: asked.still,
    lookEveryHours: asked.lookEveryHours,
    // Whoever reads this stands over it; before the first water there is nothing to change yet.
    firstLookInHours: asked.begun ? 0 : asked.lookEveryHours,
    mostDays: MOST_DAYS,
    gatePpm: asked.gatePpm * AIM_SHARE,
  };
  // Once it is low enough, nineteen times in twenty, water is never changed again: it only stands.
  const enough = asked.begun && chanceReady(fit, history, nowHours, asked.gatePpm, false).lowEnough;
  const plan = enough
    ? NOTHING_MORE
    : way === 'own'
      ? planOwnWay(clay, history.clayL, leach, limits, own)
      : planLeach(clay, history.clayL, leach, limits, way);
  return { way, plan, forecast: forecastLeach(fit, history, nowHours, plan.changes, asked.gatePpm) };
}

/** No change is asked for. */
const NOTHING_MORE: LeachPlan = { changes: [], litres: 0, hours: 0, standardPpm: 0, reached: true };

/** How much of the flat reading a change leaves, by the flats so far and to come. */
export function shareLeft({ past, coming }: LeachForecast): number | undefined {
  const flats = [...past, ...coming].map((leach) => leach.flat.mean);
  if (flats.length < 2 || flats[0]! <= 0) return undefined;
  return (flats.at(-1)! / flats[0]!) ** (1 / (flats.length - 1));
}
