import { mean, median } from 'simple-statistics';
import {
  TURN_MEASURES,
  type Turn,
  type TurnCompared,
  type TurnFoundView,
  type TurnMeasure,
  type TurnsView,
} from '../../../contract/turns.ts';
import { daysBetween, plusDays } from '../../../core/regimen/index.ts';
import { seedOf } from '../../../core/statistics/index.ts';
import { compareAt, WEEK, type PotSeries } from '../../../core/turn/index.ts';
import {
  growersScale,
  versionAt,
  versionsOf,
  type Collection,
  NO_PAST,
  type Past,
  type PotPast,
  type Rows,
} from '../../collection/index.ts';
import type { TurnMark } from '../../database/entities.ts';
import { findTurns, firstDay, type FoundTurn } from './find-turns.ts';
import { figuresOf, MEASURES, since as visitsSince } from './measures.ts';

/** Weeks shown where nobody asked for others. */
const SHOWN_WEEKS = 52;
/** No longer than this is drawn at one go. */
const MOST_WEEKS = 260;

export type Which = { readonly pot?: string | undefined; readonly place?: string | undefined };

/** Every turn with what the grower said of it, oldest first; those joined to another stand with it. */
export function turnsOf(rows: Rows, collection: Collection, past: Past): Turn[] {
  const marks = new Map(rows<TurnMark>('SELECT * FROM turn_mark').map((mark) => [mark.id, mark]));
  const found = findTurns(rows, collection, past);
  const known = new Set(found.map(({ id }) => id));
  const into = (turn: FoundTurn) => {
    const to = marks.get(turn.id)?.joinedTo;
    return to !== undefined && to !== null && known.has(to) && to !== turn.id ? to : undefined;
  };
  return found
    .filter((turn) => into(turn) === undefined)
    .map((turn) => {
      const mark = marks.get(turn.id);
      const joined = found.filter((other) => into(other) === turn.id);
      const potIds = [turn, ...joined].map((one) => one.potIds);
      return {
        ...turn,
        title: mark?.name || turn.title,
        named: Boolean(mark?.name),
        what: [...turn.what, ...joined.flatMap(({ title, what }) => [title, ...what])],
        potIds: potIds.some((ids) => ids === null) ? null : [...new Set(potIds.flatMap((ids) => ids ?? []))],
        hidden: mark?.hidden === 1,
        joined: joined.map(({ id }) => id),
      };
    });
}

/** Pots that are asked for: one, those of a place, or all. */
function chosen(collection: Collection, { pot, place }: Which): string[] {
  return [...collection.pots.values()]
    .filter(
      ({ pot: { id, placeId } }) => (pot === undefined || id === pot) && (place === undefined || placeId === place),
    )
    .map(({ pot: { id } }) => id);
}

const concerns = ({ potIds }: Pick<Turn, 'potIds'>, pots: ReadonlySet<string>) =>
  potIds === null || potIds.some((id) => pots.has(id));

/** The turns, and the weeks of the pots asked for. */
export function turnsView(
  rows: Rows,
  collection: Collection,
  past: Past,
  asked: Which & { readonly from?: string | undefined },
  today: string,
): TurnsView {
  const ids = chosen(collection, asked);
  const pots = new Set(ids);
  const since = firstDay(past);
  const wanted = asked.from ?? plusDays(today, -WEEK * SHOWN_WEEKS);
  const earliest = plusDays(today, -WEEK * MOST_WEEKS);
  const from = mondayOf([wanted, earliest, since ?? wanted].sort().at(-1)!);
  return {
    today,
    from,
    since: since ?? null,
    pots: ids.length,
    turns: turnsOf(rows, collection, past).filter((turn) => concerns(turn, pots)),
    measures: TURN_MEASURES.map((key) => ({
      key,
      weeks: weeksOf(ids, past, key, from, today, shownIn(key, collection)),
    })),
  };
}

export const mondayOf = (day: string): string => plusDays(day, -((new Date(`${day}T12:00:00Z`).getUTCDay() + 6) % 7));

/** What a figure of the core is shown as: strength on the grower's pen. */
const shownIn = (key: TurnMeasure, { meters }: Collection) => (key === 'gap' ? growersScale(meters) : 1);

function weeksOf(
  ids: readonly string[],
  past: Past,
  key: TurnMeasure,
  from: string,
  today: string,
  scale: number,
): TurnsView['measures'][number]['weeks'] {
  const weeks = Array.from({ length: Math.floor(daysBetween(from, today) / WEEK) + 1 }, () => ({
    values: [] as number[],
    off: 0,
  }));
  const of = key === 'growth' ? 'mean' : MEASURES[key].of;
  for (const id of ids) {
    const own = past.get(id) ?? NO_PAST;
    if (key === 'growth') putGrowth(weeks, own, from);
    else putVisits(weeks, own, MEASURES[key], from, scale);
  }
  return weeks.map(({ values, off }, i) => ({
    on: plusDays(from, WEEK * i),
    value: values.length === 0 ? null : of === 'median' ? median(values) : mean(values),
    n: values.length,
    tainted: off > 0,
  }));
}

type Week = { readonly values: number[]; off: number };

function putVisits(
  weeks: Week[],
  { visits }: PotPast,
  { value, tainted }: (typeof MEASURES)[keyof typeof MEASURES],
  from: string,
  scale: number,
): void {
  for (const visit of visitsSince(visits, from)) {
    const week = weeks[Math.floor(daysBetween(from, visit.on) / WEEK)];
    if (!week) continue;
    const figure = value(visit);
    if (figure !== undefined) week.values.push(figure * scale);
    if (tainted && visit.tainted) week.off++;
  }
}

/** From one measure to the next it grew in every week that begins between. */
function putGrowth(weeks: Week[], { grown }: PotPast, from: string): void {
  for (const { since, on, value } of visitsSince(grown, from)) {
    const [first, end] = [since, on].map((day) => Math.max(0, Math.ceil(daysBetween(from, day) / WEEK)));
    for (let i = first!; i < end!; i++) weeks[i]?.values.push(value);
  }
}

/** What the weeks before and after a turn were like. @returns undefined where there is no such turn */
export function comparedAt(
  rows: Rows,
  collection: Collection,
  past: Past,
  { id, weeks, ...which }: Which & { readonly id: string; readonly weeks: number },
  today: string,
): TurnCompared | undefined {
  const all = turnsOf(rows, collection, past);
  const turn = all.find((one) => one.id === id);
  if (!turn) return undefined;
  const asked = chosen(collection, which);
  const mine = new Set(turn.potIds ?? asked);
  const changed = asked.filter((potId) => mine.has(potId));
  const others = [...collection.pots.keys()].filter((potId) => !mine.has(potId));
  const placeOf = placesOn(rows, collection, [...changed, ...others], turn.on);
  // Pots that turned otherwise in these weeks are no comparison.
  const [first, last] = [plusDays(turn.on, -WEEK * weeks), plusDays(turn.on, WEEK * weeks)];
  const near = all.filter((one) => one.id !== id && one.on >= first && one.on <= last && one.kind !== 'penOff');
  const turned = new Set(near.flatMap(({ potIds }) => potIds ?? []));
  const still = others.filter((potId) => !turned.has(potId));
  const series = (ids: readonly string[], key: TurnMeasure): PotSeries[] =>
    ids.map((potId) => ({
      id: potId,
      place: placeOf(potId),
      figures: figuresOf(past.get(potId) ?? NO_PAST, key, plusDays(first, -370), last),
    }));
  const found = TURN_MEASURES.flatMap((key): TurnFoundView[] => {
    const scale = shownIn(key, collection);
    const one = compareAt(series(changed, key), series(still, key), turn.on, weeks, seedOf(id));
    if (!one) return [];
    const { before, after, difference, ...rest } = one;
    const shown = difference && {
      mean: difference.mean * scale,
      low: difference.low * scale,
      high: difference.high * scale,
    };
    return [{ key, before: before * scale, after: after * scale, difference: shown, ...rest }];
  });
  const pots = new Set(changed);
  return {
    turn,
    weeks,
    weeksSince: Math.floor(daysBetween(turn.on, today) / WEEK),
    found,
    alsoMoved: near.filter((one) => concerns(one, pots)).map(({ id: other, on, title }) => ({ id: other, on, title })),
  };
}

/** Where pots stood on a day. */
function placesOn(rows: Rows, { pots }: Collection, ids: readonly string[], on: string): (potId: string) => string {
  const versions = versionsOf(rows, 'pot', ids, 'placeId');
  return (potId) => versionAt(versions.get(potId) ?? [], `${on}T12`) ?? pots.get(potId)!.pot.placeId;
}
