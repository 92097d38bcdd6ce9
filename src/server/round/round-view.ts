import type { RoundPot, RoundView } from '../../contract/round.ts';
import { ppmFromEc } from '../../core/quantity/index.ts';
import {
  dueWords,
  isDue,
  localTimeOf,
  mixKey,
  roundMinutes,
  SOAKS,
  weekdayDayMonth,
} from '../../core/regimen/index.ts';
import {
  flushByThumb,
  flushNow,
  flushWaters,
  growersScale,
  memo,
  penAtHand,
  potStates,
  trialWords,
  WHAT_WORDS,
  type Collection,
  type FlushNow,
  type PotState,
  type WaterAtHand,
} from '../collection/index.ts';
import { potSoak, roundMixes, soakName, type PotSoak } from './round-mixes.ts';
import { stillWater, waitsWords } from './still-water.ts';
import { roundReading } from './what-to-read.ts';

/** Wet leaves burn in the sun and rot in the cold (common practice). */
const OUTDOORS = 'outdoors: shade until it is dry, and dry by night';
/** What must stay dry where water is poured from the top (common practice). */
const KEEP_DRY: Readonly<Record<string, string>> = {
  crown: 'keep the crown dry',
  clump: 'keep sheaths and new growths dry',
  creeping: 'keep the rhizome’s base clear of the wet',
  cane: 'keep new growths dry',
};

/** Today's round: what is due, by mix, on the shelves. Figures on the grower's own pen. @param pot what a pot takes, and a mix, min */
export const roundViewOf = memo((collection: Collection, today: string, pot: number, mix: number): RoundView => {
  const { meters, settings } = collection;
  const { units, zone } = settings;
  const scale = growersScale(meters);
  const states = potStates(collection, today);
  const waters = flushWaters(collection.waters);
  const doneToday = new Map(states.map((s) => [s.pot.id, doneOn(s, today, zone)]));
  const onRound = states.filter((s) => isDue(s.due) || s.inSoak || doneToday.get(s.pot.id)?.kind === 'filled');
  // Only what is on the round is worked out: with 500 pots planning every flush took as long as all the rest.
  const flushes = new Map(onRound.map((s) => [s.pot.id, flushNow(s, waters)]));
  const soaks = new Map(
    onRound.flatMap((s): [string, PotSoak][] => {
      const soak = doneToday.get(s.pot.id) ? undefined : potSoak(s, today);
      return soak ? [[s.pot.id, soak]] : [];
    }),
  );
  const mixes = roundMixes(collection, onRound, soaks, flushes, today);
  const due = states.filter((s) => isDue(s.due));
  const doneNow = states.filter((s) => doneToday.get(s.pot.id)?.kind === 'filled');
  const reading = roundReading(collection, due, doneNow, { today, scale });
  const still = stillWater(collection, due, mixes, soaks, flushes, waters, today);
  const places = new Map<string, RoundView['places'][number]>();
  for (const s of states) {
    const place = places.get(s.place.id) ?? { id: s.place.id, name: s.place.name, note: s.place.note, pots: [] };
    places.set(s.place.id, place);
    const waits = still?.waits.has(s.pot.id) ? waitsWords(still, units) : null;
    place.pots.push(
      toRoundPot(
        s,
        doneToday.get(s.pot.id) ?? null,
        flushes.get(s.pot.id) ?? flushByThumb(s),
        soaks.get(s.pot.id),
        waits,
        waters,
        scale,
        trialWords(collection, s.pot.id),
        reading.asks.get(s.pot.id) ?? null,
      ),
    );
  }
  const later = states
    .filter((s) => !isDue(s.due))
    .map((s) => s.due.dueOn)
    .sort();
  return {
    today,
    weekday: new Date(`${today}T12:00:00Z`).toLocaleDateString('en-GB', { weekday: 'long', timeZone: 'UTC' }),
    due: due.length,
    done: [...doneToday.values()].filter(Boolean).length,
    late: due.filter((s) => s.due.status === 'late').length,
    morning: due.some((s) => s.regimen.params.morning),
    minutes: roundMinutes(
      due.length,
      mixes.filter((m) => m.litresToMix > 0).length,
      due.flatMap((s) => {
        const soak = soaks.get(s.pot.id);
        return soak && soak.way === 'soak' && !soak.given ? [soak.soak.holdMinutes] : [];
      }),
      { pot, mix },
    ),
    reading: reading.told,
    still: still && {
      litres: still.litres,
      needL: still.needL,
      waits: due.filter((s) => still.waits.has(s.pot.id)).map((s) => s.pot.code),
    },
    waters: waters.map(({ id, name, ecUsCm, scarce }) => ({ id, name, ppm: ppmFromEc(ecUsCm, scale), scarce })),
    nextDue: later[0] ? { on: later[0], pots: later.filter((d) => d === later[0]).length } : null,
    mixes,
    places: [...places.values()],
    ppmMeter: penAtHand(meters, 'ppm'),
    phMeter: penAtHand(meters, 'pH'),
  };
});

/** What the season's plan says of a pot that it moved: what it makes of the day, and its own. */
function byPlanWords({ planned, own, due }: PotState): string | null {
  if (!planned || own.dueOn === due.dueOn) return null;
  const onDay = due.daysLate >= 0 ? 'now' : `on ${weekdayDayMonth(due.dueOn)}`;
  const isPast = own.daysLate > 0;
  return own.dueOn > due.dueOn
    ? `By the season’s plan it is done ${onDay}; by its own days it would be due on ${weekdayDayMonth(own.dueOn)}.`
    : `The season’s plan puts it off to ${weekdayDayMonth(due.dueOn)}; by its own days it ${isPast ? 'was' : 'would be'} due on ${weekdayDayMonth(own.dueOn)}.`;
}

/** The act that settled this pot today: a fill, or a skip since the last fill. */
function doneOn(state: PotState, today: string, zone: string): RoundPot['done'] {
  const skip = state.openSkip?.on === today ? state.openSkip : undefined;
  if (skip && !isDue(state.due))
    return {
      eventId: skip.eventId,
      kind: 'skipped',
      at: skip.at,
      words: `skipped ${localTimeOf(new Date(skip.at), zone)}: ${skip.payload.reason}`,
    };
  const fill = state.lastFill?.on === today ? state.lastFill : undefined;
  return fill
    ? { eventId: fill.eventId, kind: 'filled', at: fill.at, words: `done ${localTimeOf(new Date(fill.at), zone)}` }
    : null;
}

const toRoundPot = memo(
  (
    s: PotState,
    done: RoundPot['done'],
    flush: FlushNow,
    soak: PotSoak | undefined,
    waits: string | null,
    waters: readonly WaterAtHand[],
    scale: number,
    trial: string | null,
    read: RoundPot['read'],
  ): RoundPot => {
    return {
      id: s.pot.id,
      code: s.pot.code,
      name: s.pot.name || s.pot.plant,
      place: s.place.name,
      clay: s.pot.clay,
      reservoirMl: s.pot.reservoirMl,
      fillMl: s.pot.fillMl,
      flushMl: flush.totalMl,
      flush: flushView(flush, waters, scale),
      due: { ...s.due, words: dueWords(s.due) },
      done,
      mixKey: isDue(s.due) || done?.kind === 'filled' ? mixKey(s.watering) : null,
      watering: wateringView(s, waters),
      soak: soak ? soakView(s, soak, scale) : null,
      inSoak: s.inSoak ? inSoakView(s.inSoak) : null,
      keepDry:
        [KEEP_DRY[s.pot.habit ?? ''], s.place.light === 'outdoors' ? OUTDOORS : ''].filter(Boolean).join('; ') || null,
      waits,
      byPlan: byPlanWords(s),
      trial,
      drawing: s.drawing,
      expected: expectedView(s, scale),
      note: noteOf(s, flush, scale),
      lastPouredPpm: onPen(s.lastFill?.pouredEcUsCm, scale) ?? null,
      read,
    };
  },
);

const onPen = (ec: number | undefined, scale: number) =>
  ec === undefined ? undefined : Math.round(ppmFromEc(ec, scale));

const flushView = (flush: FlushNow, waters: readonly WaterAtHand[], scale: number): RoundPot['flush'] => ({
  stages: flush.stages.map(({ waterId, ml }) => ({
    waterId,
    ml,
    water: waters.find((w) => w.id === waterId)?.name ?? '',
  })),
  runOffPpm: onPen(flush.runOffEcUsCm, scale) ?? null,
  afterPpm: onPen(flush.afterFillEcUsCm, scale) ?? null,
  habitMl: flush.habitMl,
  why: flush.why,
  by: flush.by
    ? {
        poresPpm: ppmFromEc(flush.by.poresEcUsCm, scale),
        poreMl: flush.by.poreMl,
        efficiency: flush.by.efficiency,
        mixPpm: ppmFromEc(flush.by.mixEcUsCm, scale),
        habitTimes: flush.by.habitTimes,
        compareMl: flush.by.compareMl,
        waterIds: (flush.waters ?? []).map((w) => w.id),
      }
    : null,
});

/** What it is filled with; plain, with which water. */
function wateringView({ watering, regimen }: PotState, waters: readonly WaterAtHand[]): RoundPot['watering'] {
  const plain =
    watering.what === 'plain'
      ? (waters.find((w) => w.scarce === (watering.fillWith !== 'tap')) ?? waters[0])
      : undefined;
  return {
    what: watering.what,
    words: WHAT_WORDS[watering.what],
    because: [...watering.because],
    turn: watering.turn,
    wash: regimen.params.wash && watering.turn === 0,
    waterId: plain?.id ?? null,
    waterName: plain?.name ?? null,
  };
}

const soakView = (
  { regimen }: PotState,
  { key, soak, way, pouredMl, given }: PotSoak,
  scale: number,
): RoundPot['soak'] => ({
  mixKey: key,
  what: soak.what,
  way,
  words: soakName(soak, way, (ec) => ppmFromEc(ec, scale)),
  holdMinutes: soak.holdMinutes,
  pouredMl,
  given,
  dryFirst: regimen.params.dryBeforeSoak,
});

function inSoakView({
  eventId,
  at,
  payload: { what, holdMinutes },
}: NonNullable<PotState['inSoak']>): RoundPot['inSoak'] {
  return {
    id: eventId,
    words: SOAKS[what].name,
    startedAt: at,
    endsAt: holdMinutes === null ? null : new Date(Date.parse(at) + holdMinutes * 60_000).toISOString(),
  };
}

const expectedView = ({ expected: { ecUsCm, ph, leftMl }, known }: PotState, scale: number): RoundPot['expected'] => ({
  ppm: onPen(ecUsCm, scale),
  ph: ph === undefined ? undefined : Number(ph.toFixed(1)),
  leftMl: leftMl === undefined ? undefined : Math.round(leftMl / 5) * 5,
  atLarge: known === undefined || known.belief.seen.salts === 0,
});

/** Old reservoir this much above what was poured is worth a word before the pot is done. House rule. */
const WORTH_A_WORD = 1.6;

/** The last old reservoir beside what had been poured then, when it came out well above it, and what the flush is to do about it. */
function noteOf(s: PotState, flush: FlushNow, scale: number): RoundPot['note'] {
  if (s.oddLines > 0)
    return {
      fact: 'This pot cannot be reckoned whole.',
      evidence: `${s.oddLines === 1 ? 'A line of its log cannot be understood and is' : `${s.oddLines} lines of its log cannot be understood and are`} left out. They are marked in the Book; read this pot before you trust a figure of it.`,
    };
  const read = s.intervals.findLast((i) => i.cameOutEcUsCm !== undefined && i.pouredEcUsCm !== undefined);
  if (!read?.cameOutEcUsCm || !read.pouredEcUsCm || read.cameOutEcUsCm / read.pouredEcUsCm < WORTH_A_WORD) return null;
  const ppm = (ec: number) => Math.round(ppmFromEc(ec, scale));
  const ratio = read.cameOutEcUsCm / read.pouredEcUsCm;
  return {
    fact: `The old reservoir last read ${ppm(read.cameOutEcUsCm)} against a ${ppm(read.pouredEcUsCm)} feed.`,
    evidence: `That is ${ratio.toFixed(1)} times what was poured: salts are gathering.${flush.afterFillEcUsCm === undefined ? ' Look at the top for a crust.' : ` Expected after filling: ${ppm(flush.afterFillEcUsCm)}.`}`,
  };
}
