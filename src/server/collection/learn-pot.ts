import { isDeepStrictEqual } from 'node:util';
import {
  countsFrom,
  knowAlone,
  type Alone,
  type FillSeen,
  type Followed,
  type PotLog,
} from '../../core/drift/index.ts';
import { byOutcome, FORECAST_OF, READABLES } from '../../core/what-to-read/index.ts';
import { PORES_PER_RESERVOIR, type ToldDay } from '../../core/reservoir/index.ts';
import type { Pot } from '../database/entities.ts';
import { memo } from './memo.ts';
import { mixOf, waterMix } from './mixes.ts';
import { driedAfter, fittedSoak, type FittedSoak } from './soak-found.ts';
import type { SoakLogged } from './soak-tests.ts';
import { pouredOnBetween, type Fill, type Visits } from './visits.ts';
import { plainWater } from './waters.ts';

/** Everything that what is learned of a pot depends on, as plain data: a thread may be given it. */
export type LogOfPot = {
  readonly visits: Pick<Visits, 'fills' | 'topUps'>;
  readonly soakTests: readonly SoakLogged[];
  readonly dried: readonly string[];
  readonly thirst: readonly number[];
  readonly told: readonly ToldDay[];
  readonly medium: Pot['medium'];
  readonly reservoirMl: number;
  readonly repottedOn: string | null;
};
/** What its own log tells of a pot: undefined where that is nothing; its soak tests worked out, in their order. `trouble`: why it cannot be reckoned. */
export type Learned = {
  readonly alone: Alone | undefined;
  readonly soaks: readonly FittedSoak[];
  readonly trouble?: string;
};

/** Water that stays in a drained pot by what it grows in, mL for each mL of its reservoir. */
const PORES: Readonly<Record<string, number>> = {
  clay: PORES_PER_RESERVOIR,
  bark: 0.15,
  water: 0.02,
  basket: PORES_PER_RESERVOIR,
};
export const poresOf = (pot: Pick<Pot, 'medium' | 'reservoirMl'>) =>
  Math.max(1, (PORES[pot.medium] ?? PORES_PER_RESERVOIR) * pot.reservoirMl);

/** A pot as its own log tells of it. @param before what was followed of it, where the log only goes on from there: see {@link goesOnFrom} */
export function learnPot(log: LogOfPot, before?: Followed): Learned {
  let soaks: readonly FittedSoak[] = [];
  try {
    soaks = log.soakTests.map(fittedSoak);
    return { alone: knowAlone(potLog(log, soaks), before), soaks };
  } catch (error) {
    // Nothing is foretold of it; of the others everything is.
    return { alone: undefined, soaks, trouble: String(error) };
  }
}

/** The log in the terms of the chemistry. */
export function potLog(
  { visits, soakTests, dried, thirst, told, medium, reservoirMl, repottedOn }: LogOfPot,
  soaks: readonly FittedSoak[],
): PotLog {
  // Another clay is another nature: what was read before a repotting says nothing of it.
  const counts = (on: string) => repottedOn === null || on >= repottedOn;
  const fills = visits.fills.filter((f) => counts(f.on));
  const from = countsFrom(fills.length);
  return {
    poreMl: poresOf({ medium, reservoirMl }),
    thirst,
    told,
    fresh: repottedOn !== null,
    fills: fills.map((fill, i) =>
      i < from ? NOT_COUNTED : fillSeen(fill, i > 0 && pouredOnBetween(visits.topUps, fills[i - 1]!, fill)),
    ),
    soaks: soaks.flatMap(({ result }, i) => {
      const { on, at } = soakTests[i]!;
      return result.ok && counts(on)
        ? [{ ueq: result.firstHourUeq.middle, sdUeq: result.firstHourUeq.sd, driedSince: driedAfter(at, dried) }]
        : [];
    }),
  };
}

/** A filling too long ago to count: its chemistry need not be worked out. */
const NOT_COUNTED: FillSeen = Object.freeze({
  on: '',
  pouredMl: 0,
  mix: undefined,
  flushed: [],
  toppedUp: false,
  leftMl: undefined,
  cameOutEcUsCm: undefined,
  cameOutPh: undefined,
  phSd: 0,
  runOffEcUsCm: undefined,
  ppmMeterId: null,
  phMeterId: null,
});

const isKnown = <T extends { readonly water: unknown }>(
  stage: T,
): stage is T & { readonly water: NonNullable<T['water']> } => stage.water !== undefined;

function fillSeen(fill: Fill, toppedUp: boolean): FillSeen {
  const { batch, water, payload, tainted, phOffset } = fill;
  const flushed = fill.flushed.map((stage) => ({ water: plainWater(stage.water)?.curve, ml: stage.ml }));
  const mix = batch ? mixOf(batch) : water && waterMix(water);
  // A pen known to be off by so much is put right by it; off by nobody knows how much, it teaches nothing.
  const ph =
    fill.cameOutPh === undefined || (tainted.includes('cameOutPh') && phOffset === 0)
      ? undefined
      : fill.cameOutPh - phOffset;
  return {
    on: fill.on,
    pouredMl: payload.pouredMl,
    // Flushed with what nobody knows, nobody knows what it was filled with either: that stays in its pores.
    mix: flushed.every(isKnown) ? mix : undefined,
    flushed: flushed.filter(isKnown),
    toppedUp,
    leftMl: payload.oldReservoir.leftMl ?? undefined,
    cameOutEcUsCm: tainted.includes('cameOutPpm') ? undefined : fill.cameOutEcUsCm,
    cameOutPh: ph,
    phSd: fill.cameOutPhSd,
    runOffEcUsCm: fill.runOffEcUsCm,
    ppmMeterId: payload.ppmMeterId,
    phMeterId: payload.phMeterId,
    byOutcome: outcomesOf(payload.askedFor),
  };
}

/** Readings that were asked for because of how others came out. */
function outcomesOf(askedFor: Fill['payload']['askedFor']): FillSeen['byOutcome'] {
  if (!askedFor) return undefined;
  return READABLES.flatMap((what) => (byOutcome(askedFor[what]) ? [FORECAST_OF[what]] : []));
}

/**
 * What was followed of a pot before, where its log only goes on from there: then it need not be followed again from its beginning. Line by line, so that
 * it can change no answer.
 */
export function goesOnFrom(log: LogOfPot, before: LogOfPot, followed: Followed): Followed | undefined {
  const [now, then] = [seenOf(log), seenOf(before)];
  const same =
    followed.until <= now.fills.length &&
    followed.until === then.fills.length &&
    now.poreMl === then.poreMl &&
    now.fresh === then.fresh &&
    now.thirst === then.thirst &&
    now.told === then.told &&
    then.fills.every((fill, i) => fill === now.fills[i] || sameFill(fill, now.fills[i]!));
  return same ? followed : undefined;
}

const seenOf = memo((log: LogOfPot): PotLog => potLog(log, []));

function sameFill({ mix: mixA, flushed: flushedA, ...a }: FillSeen, { mix: mixB, flushed: flushedB, ...b }: FillSeen) {
  return (
    isDeepStrictEqual(a, b) &&
    mixA?.curve === mixB?.curve &&
    mixA?.phKnown === mixB?.phKnown &&
    isDeepStrictEqual(mixA?.standing, mixB?.standing) &&
    flushedA.length === flushedB.length &&
    flushedA.every((stage, i) => stage.water === flushedB[i]!.water && stage.ml === flushedB[i]!.ml)
  );
}
