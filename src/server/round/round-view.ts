import type { EntityManager } from 'typeorm';
import type { RoundMix, RoundPot, RoundView } from '../../contract/round.ts';
import { ppmFromEc } from '../../core/quantity/index.ts';
import { daysBetween, dueWords, gatherMixes, isDue, litresWithSpare, localTimeOf, mixKey, plusDays } from '../../core/regimen/index.ts';
import { feedAim, type Aim } from '../../core/strength/index.ts';
import { leftOfBatch, MIX_KEEPS_DAYS } from '../bench/batch-reader.ts';
import type { Batch } from '../database/entities.ts';
import { flushByThumb, flushNow, flushWaters, type FlushNow, type WaterAtHand } from '../drift/flush-now.ts';
import { readPotStates, type PotState } from '../pots/pot-states.ts';
import { growersScale, penAtHand, readMeters } from '../shelf/shelf-reader.ts';

/** Less than this is not worth carrying over. */
const LEAST_LEFT_ML = 100;
const LETTERS = 'ABCDEFGHJK';

/** Today's round: what is due, by mix, on the shelves. Figures on the grower's own pen. */
export async function readRound(manager: EntityManager, today: string, zone: string): Promise<RoundView> {
  const meters = await readMeters(manager);
  const scale = growersScale(meters);
  const states = await readPotStates(manager, meters, today);
  const waters = await flushWaters(manager, meters);
  const doneToday = new Map(states.map((s) => [s.pot.id, doneOn(s, today, zone)]));
  const onRound = states.filter((s) => isDue(s.due) || doneToday.get(s.pot.id)?.kind === 'filled');
  // Only what is on the round is worked out: with 500 pots planning every flush took as long as all the rest.
  const flushes = new Map(onRound.map((s) => [s.pot.id, flushNow(s, waters)]));
  const toFill = onRound.map((s) => ({ potId: s.pot.id, dueOn: s.due.dueOn, fillMl: s.pot.fillMl, reservoirMl: s.pot.reservoirMl, regimen: s.regimen.params }));
  const mixes: RoundMix[] = [];
  for (const [i, mix] of gatherMixes(toFill).entries()) {
    const left = onRound.filter((s) => mix.potIds.includes(s.pot.id) && isDue(s.due));
    const fillLeftMl = left.reduce((sum, s) => sum + s.pot.fillMl, 0);
    const batch = await batchForMix(manager, mix.key, today);
    const readyMl = batch?.status === 'poured' ? await leftOfBatch(manager, batch) : 0;
    const aim = feedAim(mix.netEcUsCm);
    const leftover = batch || left.length === 0 ? null : await leftoverFor(manager, aim, today, scale);
    mixes.push({
      leftover,
      key: mix.key,
      letter: LETTERS[i] ?? '?',
      name: `Feed, ${Math.round(ppmFromEc(mix.netEcUsCm, scale))} over base`,
      netPpm: ppmFromEc(mix.netEcUsCm, scale),
      phLow: mix.pourPhLow,
      phHigh: mix.pourPhHigh,
      pots: mix.potIds.length,
      potsLeft: left.length,
      litresToMix: readyMl >= fillLeftMl ? 0 : litresWithSpare(fillLeftMl - readyMl),
      flushL: left.reduce((sum, s) => sum + flushes.get(s.pot.id)!.totalMl, 0) / 1000,
      batch: batch
        ? {
            id: batch.id,
            status: batch.status === 'open' ? 'open' : 'poured',
            startedAt: batch.startedAt,
            time: localTimeOf(new Date(batch.pouredAt ?? batch.startedAt), zone),
            readsPpm: batch.pouredEcUsCm === null ? null : ppmFromEc(batch.pouredEcUsCm, scale),
            ph: batch.pouredPh,
            leftMl: readyMl,
            today: batch.startedOn === today,
          }
        : null,
    });
  }
  const places: RoundView['places'] = [];
  for (const s of states) {
    let place = places.find((p) => p.id === s.place.id);
    if (!place) places.push((place = { id: s.place.id, name: s.place.name, note: s.place.note, pots: [] }));
    place.pots.push(toRoundPot(s, doneToday.get(s.pot.id) ?? null, flushes.get(s.pot.id) ?? flushByThumb(s), waters, scale));
  }
  const due = states.filter((s) => isDue(s.due));
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
    nextDue: later[0] ? { on: later[0], pots: later.filter((d) => d === later[0]).length } : null,
    mixes,
    places,
    ppmMeter: penAtHand(meters, 'ppm'),
    phMeter: penAtHand(meters, 'pH'),
  };
}

/** The act that settled this pot today: a fill, or a skip since the last fill. */
function doneOn(state: PotState, today: string, zone: string): RoundPot['done'] {
  const skip = state.openSkip?.on === today ? state.openSkip : undefined;
  if (skip && !isDue(state.due))
    return { eventId: skip.eventId, kind: 'skipped', at: skip.at, words: `skipped ${localTimeOf(new Date(skip.at), zone)}: ${skip.payload.reason}` };
  const fill = state.lastFill?.on === today ? state.lastFill : undefined;
  return fill ? { eventId: fill.eventId, kind: 'filled', at: fill.at, words: `done ${localTimeOf(new Date(fill.at), zone)}` } : null;
}

function toRoundPot(s: PotState, done: RoundPot['done'], flush: FlushNow, waters: readonly WaterAtHand[], scale: number): RoundPot {
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
      stages: flush.stages.map(({ waterId, ml }) => ({ waterId, ml, water: waters.find((w) => w.id === waterId)?.name ?? '' })),
      runOffPpm: ppm(flush.runOffEcUsCm) ?? null,
      afterPpm: ppm(flush.afterFillEcUsCm) ?? null,
      habitMl: flush.habitMl,
      why: flush.why,
    },
    due: { ...s.due, words: dueWords(s.due) },
    done,
    mixKey: isDue(s.due) || done?.kind === 'filled' ? mixKey(s.regimen.params) : null,
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
}

/** Old reservoir this much above what was poured is worth a word before the pot is done. House rule. */
const WORTH_A_WORD = 1.6;

/** The last old reservoir beside what had been poured then, when it came out well above it, and what the flush is to do about it. */
function noteOf(s: PotState, flush: FlushNow, scale: number): RoundPot['note'] {
  const read = [...s.intervals].reverse().find((i) => i.cameOutEcUsCm !== undefined && i.pouredEcUsCm !== undefined);
  if (!read?.cameOutEcUsCm || !read.pouredEcUsCm || read.cameOutEcUsCm / read.pouredEcUsCm < WORTH_A_WORD) return null;
  const ppm = (ec: number) => Math.round(ppmFromEc(ec, scale));
  const ratio = read.cameOutEcUsCm / read.pouredEcUsCm;
  return {
    fact: `The old reservoir last read ${ppm(read.cameOutEcUsCm)} against a ${ppm(read.pouredEcUsCm)} feed.`,
    evidence: `That is ${ratio.toFixed(1)} times what was poured: salts are gathering.${flush.afterFillEcUsCm === undefined ? ' Look at the top for a crust.' : ` Expected after filling: ${ppm(flush.afterFillEcUsCm)}.`}`,
  };
}

/** The newest feed left over that reads in the mix's band over its water and is still good; null where there is none. */
async function leftoverFor(manager: EntityManager, aim: Aim, today: string, scale: number): Promise<RoundMix['leftover']> {
  const batches = await manager.query<(Batch & { baseEcUsCm: number | null })[]>(
    `SELECT b.*, (SELECT json_extract(e.payload, '$.reading.value') / m.scale FROM care_event e JOIN meter m ON m.id = b.ppmMeterId
       WHERE e.batchId = b.id AND e.kind = 'batchBase' AND e.voidedBy IS NULL ORDER BY e.seq DESC LIMIT 1) AS baseEcUsCm
     FROM batch b WHERE b.status = 'poured' AND b."use" = 'feed' AND b.emptied = 0 AND b.pouredEcUsCm IS NOT NULL AND b.startedOn >= ? ORDER BY b.startedAt DESC LIMIT 8`,
    [plusDays(today, -MIX_KEEPS_DAYS)],
  );
  for (const batch of batches) {
    const net = batch.pouredEcUsCm! - (batch.baseEcUsCm ?? 0);
    const leftMl = net >= aim.lowEcUsCm && net <= aim.highEcUsCm ? await leftOfBatch(manager, batch) : 0;
    if (leftMl >= LEAST_LEFT_ML) return { id: batch.id, name: batch.name, leftMl, readsPpm: ppmFromEc(batch.pouredEcUsCm!, scale) };
  }
  return null;
}

/** The batch that serves a mix: the newest one that is being made, or poured with something left. */
async function batchForMix(manager: EntityManager, key: string, today: string): Promise<Batch | undefined> {
  const batches = await manager.query<Batch[]>(
    `SELECT * FROM batch WHERE mixKey = ? AND status <> 'abandoned' AND emptied = 0 ORDER BY startedAt DESC LIMIT 4`,
    [key],
  );
  const fresh = batches.filter((b) => daysBetween(b.startedOn, today) <= MIX_KEEPS_DAYS);
  const newest = fresh[0];
  if (newest?.status === 'open') return newest;
  for (const batch of fresh) if (batch.status === 'poured' && (batch.startedOn === today || (await leftOfBatch(manager, batch)) >= 50)) return batch;
  return undefined;
}
