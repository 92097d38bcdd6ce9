import { mean } from 'simple-statistics';
import type { RegimenCompared, RegimensCompared } from '../../../contract/regimens-compared.ts';
import { TURN_MEASURES, type TurnMeasure } from '../../../contract/turns.ts';
import { daysBetween, localDateOf, plusDays } from '../../../core/regimen/index.ts';
import {
  matchedDifference,
  regimenDifferences,
  unlikeNumber,
  unlikeShares,
  WEEK,
  type Matched,
  type MatchedPot,
} from '../../../core/turn/index.ts';
import {
  growersScale,
  NO_PAST,
  readParams,
  versionsOf,
  type Collection,
  type Past,
  type PotEntry,
  type Rows,
} from '../../collection/index.ts';
import { followsOn } from '../trials/trial-figures.ts';
import { figuresOf } from '../turns/measures.ts';

/** Of one pot so many figures are needed: one reading is a day, not a pot. House rule. */
const FEWEST_FIGURES = 2;
const DAYS_A_MONTH = 30.44;
/** So many differences of a kind are told, the largest first. */
const TOLD_OF_A_KIND = 2;

/** A pot with the day from which on it is looked at. */
type Followed = { readonly entry: PotEntry; readonly since: string };
type Group = {
  readonly id: string;
  readonly followed: readonly Followed[];
  readonly left: number;
  readonly inTrial: number;
};

/**
 * What the pots of each regimen were like over the last weeks, each pot from the day it follows it where it stands, and what differs between pots of the same plant and place.
 * Pots that were in a trial are left out: they did not get what their regimen says.
 * @param asked `against`: the regimen the others are set against; the one most pots follow where it is not said, or has no pots
 */
export function comparedRegimens(
  rows: Rows,
  collection: Collection,
  past: Past,
  asked: { readonly weeks: number; readonly against?: string | undefined },
  today: string,
): RegimensCompared {
  const from = plusDays(today, -WEEK * asked.weeks);
  const groups = groupsOf(collection, from, today, stoodSince(rows, collection));
  const here = groups.filter(({ followed }) => followed.length > 0);
  const against = groups.length < 2 ? undefined : (here.find(({ id }) => id === asked.against) ?? here[0]);
  return {
    today,
    from,
    weeks: asked.weeks,
    against: against?.id ?? null,
    regimens: groups.map((group) => regimenOf(collection, group, against, today)),
    measures: TURN_MEASURES.map((key) => measureOf(collection, past, key, groups, against)),
  };
}

/** From which day each pot that was moved stands where it stands: it is matched by that place. */
function stoodSince(rows: Rows, { pots, settings }: Collection): ReadonlyMap<string, string> {
  return new Map(
    [...versionsOf(rows, 'pot', [...pots.keys()], 'placeId')].flatMap(([id, versions]) => {
      const last = versions.findLastIndex(({ value }, i) => i > 0 && value !== versions[i - 1]!.value);
      return last < 1 ? [] : [[id, localDateOf(new Date(versions[last]!.from), settings.zone)] as const];
    }),
  );
}

/** The regimens that pots follow, or followed till they left, the one of most pots first. */
function groupsOf(collection: Collection, from: string, today: string, stood: ReadonlyMap<string, string>): Group[] {
  const tried = triedSince(collection, from);
  const groups = new Map<string, { followed: Followed[]; left: number; inTrial: number }>();
  for (const entry of collection.pots.values()) {
    const { retiredOn } = entry.pot;
    const spell = followsOn(entry, retiredOn ?? today);
    if (!spell || (retiredOn !== null && retiredOn < from)) continue;
    const group = groups.get(spell.regimenId) ?? { followed: [], left: 0, inTrial: 0 };
    groups.set(spell.regimenId, group);
    if (retiredOn !== null) group.left++;
    else if (tried.has(entry.pot.id)) group.inTrial++;
    else group.followed.push({ entry, since: [spell.fromDate, stood.get(entry.pot.id) ?? from, from].sort().at(-1)! });
  }
  return (
    [...groups]
      .map(([id, group]) => ({ id, ...group }))
      // One whose every pot left is told of: who left is part of what it came to.
      .filter(({ followed, left }) => followed.length + left > 0)
      .sort((a, b) => b.followed.length - a.followed.length || (a.id < b.id ? -1 : 1))
  );
}

/** Pots that were in a trial at some time since. */
function triedSince({ trials, trialPots }: Collection, from: string): ReadonlySet<string> {
  const until = new Map(trials.map(({ id, endedOn }) => [id, endedOn]));
  return new Set(
    trialPots
      .filter(({ trialId, leftOn }) => {
        const last = leftOn ?? until.get(trialId);
        return until.has(trialId) && (last == null || last > from);
      })
      .map(({ potId }) => potId),
  );
}

function measureOf(
  collection: Collection,
  past: Past,
  key: TurnMeasure,
  groups: readonly Group[],
  against: Group | undefined,
): RegimensCompared['measures'][number] {
  const scale = key === 'gap' ? growersScale(collection.meters) : 1;
  const read = new Map(groups.map((group) => [group.id, potsOf(past, key, group, scale)]));
  return {
    key,
    arms: groups.map(({ id }) => {
      const mine = read.get(id)!;
      return {
        regimenId: id,
        mean: mine.length === 0 ? null : mean(mine.map(({ value }) => value)),
        pots: mine.map(({ id: potId, value }) => ({
          id: potId,
          code: collection.pots.get(potId)!.pot.code,
          value,
        })),
        against:
          against === undefined || id === against.id ? null : viewOf(matchedDifference(mine, read.get(against.id)!)),
      };
    }),
  };
}

const viewOf = (found: Matched | 'nothing' | 'same') =>
  typeof found === 'string' ? found : { ...found, pots: [...found.pots] as [number, number] };

/** Each pot's own mean of what tells of its weeks under the regimen. */
function potsOf(past: Past, key: TurnMeasure, { followed }: Group, scale: number): MatchedPot[] {
  return followed.flatMap(({ entry: { pot, place }, since }) => {
    const values = figuresOf(past.get(pot.id) ?? NO_PAST, key)
      .filter((figure) => figure.since >= since)
      .map(({ value }) => value * scale);
    return values.length < FEWEST_FIGURES
      ? []
      : [{ id: pot.id, place: place.id, plant: pot.plant, value: mean(values) }];
  });
}

function regimenOf(collection: Collection, group: Group, against: Group | undefined, today: string): RegimenCompared {
  const row = collection.regimens.get(group.id)!;
  const other = against === undefined || against.id === group.id ? undefined : against;
  return {
    id: row.id,
    name: row.name,
    school: row.kind,
    pots: group.followed.length,
    left: group.left,
    inTrial: group.inTrial,
    differs: other
      ? regimenDifferences(
          readParams(collection.regimens.get(other.id)!),
          readParams(row),
          growersScale(collection.meters),
        ).map(({ words }) => words)
      : null,
    unlike: other ? unlikeOf(group, other, today) : [],
  };
}

function unlikeOf(some: Group, others: Group, today: string): RegimenCompared['unlike'] {
  const of = <T>({ followed }: Group, value: (entry: PotEntry) => T | null) =>
    followed.flatMap(({ entry }) => value(entry) ?? []) as T[];
  const numbers = (name: 'reservoirMl' | 'monthsInClay', value: (entry: PotEntry) => number | null) => {
    const found = unlikeNumber(name, of(some, value), of(others, value));
    return found ? [{ of: found.of, values: [found.some, found.others] as [number, number] }] : [];
  };
  const shares = <Of extends 'place' | 'plant' | 'clay' | 'light', T extends string>(
    name: Of,
    value: (entry: PotEntry) => T | null,
  ) =>
    unlikeShares(name, of(some, value), of(others, value))
      .slice(0, TOLD_OF_A_KIND)
      .map((found) => ({
        of: name,
        what: found.what as T,
        some: [...found.some] as [number, number],
        others: [...found.others] as [number, number],
      }));
  return [
    ...shares('place', ({ place }) => place.name),
    ...shares('light', ({ place }) => place.light),
    ...shares('plant', ({ pot }) => pot.plant),
    ...numbers('reservoirMl', ({ pot }) => pot.reservoirMl),
    ...shares('clay', ({ pot }) => pot.clay),
    ...numbers('monthsInClay', ({ pot: { repottedOn } }) =>
      repottedOn === null ? null : daysBetween(repottedOn, today) / DAYS_A_MONTH,
    ),
  ];
}
