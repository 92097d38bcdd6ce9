import type { RoundPot, RoundView } from '../../contract/round.ts';
import { ppmFromEc } from '../../core/quantity/index.ts';
import { dueWords, isDue, localTimeOf, mixKey, roundMinutes, SOAKS } from '../../core/regimen/index.ts';
import {
  flushByThumb,
  flushNow,
  flushWaters,
  growersScale,
  memo,
  penAtHand,
  potStates,
  WHAT_WORDS,
  type Collection,
  type FlushNow,
  type PotState,
  type WaterAtHand,
} from '../collection/index.ts';
import { potSoak, roundMixes, soakName, type PotSoak } from './round-mixes.ts';
import { stillWater, waitsWords } from './still-water.ts';

/** Wet leaves burn in the sun and rot in the cold (common practice). */
const OUTDOORS = 'outdoors: shade until it is dry, and dry by night';
/** What must stay dry where water is poured from the top (common practice). */
const KEEP_DRY: Readonly<Record<string, string>> = {
  crown: 'keep the crown dry',
  clump: 'keep sheaths and new growths dry',
  creeping: 'keep the rhizome’s base clear of the wet',
  cane: 'keep new growths dry',
};

/** Today's round: what is due, by mix, on the shelves. Figures on the grower's own pen. */
export const roundViewOf = memo((collection: Collection, today: string): RoundView => {
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
    ),
    still: still && {
      litres: still.litres,
      needL: still.needL,
      waits: due.filter((s) => still.waits.has(s.pot.id)).map((s) => s.pot.code),
    },
    waters: waters.map(({ id, name }) => ({ id, name })),
    nextDue: later[0] ? { on: later[0], pots: later.filter((d) => d === later[0]).length } : null,
    mixes,
    places: [...places.values()],
    ppmMeter: penAtHand(meters, 'ppm'),
    phMeter: penAtHand(meters, 'pH'),
  };
});

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
  ): RoundPot => {
    const plainWater =
      s.watering.what === 'plain'
        ? (waters.find((w) => w.scarce === (s.watering.fillWith !== 'tap')) ?? waters[0])
        : undefined;
    const ppm = (ec: number | undefined) => (ec === undefined ? undefined : Math.round(ppmFromEc(ec, scale)));
    return {
      id: s.pot.id,
      code: s.pot.code,
      name: s.pot.name || s.pot.plant,
      place: s.place.name,
      clay: s.pot.clay,
      reservoirMl: s.pot.reservoirMl,
      fillMl: s.pot.fillMl,
      flushMl: flush.totalMl,
      flush: {
        stages: flush.stages.map(({ waterId, ml }) => ({
          waterId,
          ml,
          water: waters.find((w) => w.id === waterId)?.name ?? '',
        })),
        runOffPpm: ppm(flush.runOffEcUsCm) ?? null,
        afterPpm: ppm(flush.afterFillEcUsCm) ?? null,
        habitMl: flush.habitMl,
        why: flush.why,
      },
      due: { ...s.due, words: dueWords(s.due) },
      done,
      mixKey: isDue(s.due) || done?.kind === 'filled' ? mixKey(s.watering) : null,
      watering: {
        what: s.watering.what,
        words: WHAT_WORDS[s.watering.what],
        because: [...s.watering.because],
        turn: s.watering.turn,
        wash: s.regimen.params.wash && s.watering.turn === 0,
        waterId: plainWater?.id ?? null,
        waterName: plainWater?.name ?? null,
      },
      soak: soak
        ? {
            mixKey: soak.key,
            what: soak.soak.what,
            way: soak.way,
            words: soakName(soak.soak, soak.way, (ec) => ppmFromEc(ec, scale)),
            holdMinutes: soak.soak.holdMinutes,
            pouredMl: soak.pouredMl,
            given: soak.given,
            dryFirst: s.regimen.params.dryBeforeSoak,
          }
        : null,
      inSoak: s.inSoak
        ? {
            id: s.inSoak.eventId,
            words: SOAKS[s.inSoak.payload.what].name,
            startedAt: s.inSoak.at,
            endsAt:
              s.inSoak.payload.holdMinutes === null
                ? null
                : new Date(Date.parse(s.inSoak.at) + s.inSoak.payload.holdMinutes * 60_000).toISOString(),
          }
        : null,
      keepDry:
        [KEEP_DRY[s.pot.habit ?? ''], s.place.light === 'outdoors' ? OUTDOORS : ''].filter(Boolean).join('; ') || null,
      waits,
      drawing: s.drawing,
      expected: {
        ppm: ppm(s.expected.ecUsCm),
        ph: s.expected.ph === undefined ? undefined : Number(s.expected.ph.toFixed(1)),
        leftMl: s.expected.leftMl === undefined ? undefined : Math.round(s.expected.leftMl / 5) * 5,
        atLarge: s.known === undefined || s.known.belief.seen.salts.intervals === 0,
      },
      note: noteOf(s, flush, scale),
      lastPouredPpm: ppm(s.lastFill?.pouredEcUsCm) ?? null,
    };
  },
);

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
