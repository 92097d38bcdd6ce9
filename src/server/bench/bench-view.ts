import { median } from 'simple-statistics';
import type { EntityManager } from 'typeorm';
import type { BatchPartView, BatchView } from '../../contract/bench.ts';
import type { CoachAdvice } from '../../contract/coach.ts';
import { MOST_CORRECTIONS, responseOf } from '../../core/correction/index.ts';
import { phSide, ppmFromEc } from '../../core/quantity/index.ts';
import { daysBetween, localTimeOf, plusDays } from '../../core/regimen/index.ts';
import {
  adviseBench,
  bottleStrength,
  coneOf,
  daysItKeeps,
  GRANULES,
  plannedNet,
  sessionStrength,
  shownAdvice,
  type Tool,
} from '../../core/strength/index.ts';
import type { Batch, ToolRow, Vessel, Water } from '../database/entities.ts';
import { aimWords, type KeptAim } from './aims.ts';
import type { ActAt } from './start-batch.ts';
import { isThought, phReadings, rowsOf } from './bench-rows.ts';
import { photosOf } from './photos.ts';
import { phChoices } from './ph-choices.ts';
import {
  ASSUMED_SCALE,
  basesOf,
  bringsOf,
  chemistryOf,
  growersScale,
  guessedStrength,
  isSolid,
  type KnownPart,
  leftOfBatch,
  metersOf,
  offWords,
  offZero,
  phOffset,
  expectedView,
  replayBatch,
  type ReplayedBatch,
  standsAtPh,
  toTool,
  toToolView,
  unitsForNet,
  rowsFor,
  type Meters,
  type KnownMeter,
} from '../collection/index.ts';

/** What the parts of the view go by. */
type Look = {
  readonly manager: EntityManager;
  readonly replayed: ReplayedBatch;
  readonly meters: Meters;
  readonly toolRows: ToolRow[];
  readonly zone: string;
  readonly when: ActAt;
  /** Figures are shown on the grower's own scale, whichever pen read them. */
  readonly scale: number;
  readonly ppm: (ecUsCm: number) => number;
  readonly phMeter: KnownMeter | undefined;
  readonly standsAt: number | undefined;
  readonly phInside: boolean;
  readonly chemistry: ReturnType<typeof chemistryOf>;
};

/** The whole state of a batch as the bench shows it, or undefined when there is none of that id. */
export function readBatchView(
  manager: EntityManager,
  batchId: string,
  zone: string,
  when: ActAt,
): BatchView | undefined {
  const meters = metersOf(manager);
  const replayed = replayBatch(manager, batchId, meters);
  if (!replayed) return undefined;
  const { batch, session, setup, events } = replayed;
  const look = lookAt(manager, replayed, meters, zone, when);
  const { ppm, toolRows, scale } = look;
  const vessel = rowsFor(manager)<Vessel>('SELECT * FROM "vessel" WHERE id = ?', batch.vesselId)[0]!;
  const advice = advise(replayed, toolRows, vessel, ppm);
  const last = events[events.length - 1];
  return {
    ...identity(look),
    ...potsOf(manager, batch),
    water: waterView(look),
    vessel: { id: vessel.id, name: vessel.name, capacityL: vessel.capacityL },
    parts: replayed.parts.map((part, i) => partView(replayed, part, i, ppm, scale)),
    at: session.at,
    byRecipe: batch.byRecipe,
    ...pensView(look),
    tools: toolRows.map(toToolView),
    volumeL: session.volumeL,
    leftMl: leftOfBatch(manager, batch),
    pouredPpm: batch.pouredEcUsCm === null ? null : ppm(batch.pouredEcUsCm),
    basePpm: session.baseEcUsCm === undefined ? null : ppm(session.baseEcUsCm),
    baseIsThought: events.some(isThought),
    aimPpm: ppm(batch.netEcUsCm),
    netPpm: ppm(setup.parts.length > 0 ? plannedNet(setup, session, setup.parts.length - 1) : 0),
    usualNetPpm: usualWherePast(look),
    phWindow: { low: batch.phLow, high: batch.phHigh },
    holdMinutes: batch.holdMinutes,
    advice,
    rows: rowsOf(replayed, toolRows, ppm, meters.get(batch.ppmMeterId ?? '')),
    cone: coneOf(setup, session, advice.kind === 'add' ? advice.doseMl : 0).map((c) => ({
      totalMl: c.totalMl,
      ppm: ppm(c.readingEcUsCm),
      lowPpm: ppm(c.lowEcUsCm),
      highPpm: ppm(c.highEcUsCm),
    })),
    ph: phView(look),
    expected: expectedView(look.chemistry, session.volumeL, ppm),
    lastEventId: !last || last.kind === 'batchStarted' ? null : last.id,
  };
}

function lookAt(manager: EntityManager, replayed: ReplayedBatch, meters: Meters, zone: string, when: ActAt): Look {
  const { batch } = replayed;
  const scale = growersScale(meters);
  const toolIds = JSON.parse(batch.toolIds) as string[];
  const phMeter = batch.phMeterId ? meters.get(batch.phMeterId) : undefined;
  const standsAt = standsAtPh(replayed, phMeter);
  return {
    manager,
    replayed,
    meters,
    zone,
    when,
    scale,
    // What a portion brought is a difference: below zero where the pen showed less after it than before.
    ppm: (ecUsCm) => (ecUsCm < 0 ? -ppmFromEc(-ecUsCm, scale) : ppmFromEc(ecUsCm, scale)),
    toolRows: rowsFor(manager)<ToolRow>('SELECT * FROM tool ORDER BY position').filter((t) => toolIds.includes(t.id)),
    phMeter,
    standsAt,
    phInside: standsAt !== undefined && phSide(standsAt, { low: batch.phLow, high: batch.phHigh }) === 'inside',
    chemistry: chemistryOf(manager, replayed, meters),
  };
}

function identity({ replayed, zone, when: { localDate: today }, phInside }: Look) {
  const { batch, parts } = replayed;
  const { id, name, use, recipeId, status, mixKey, startedAt, startedOn } = batch;
  const living = parts.some((p) => p.product.kind === 'living');
  return {
    id,
    name,
    use,
    recipeId,
    status,
    stage: stageOf(replayed, phInside),
    mixKey,
    startedAt,
    startedOn,
    time: localTimeOf(new Date(startedAt), zone),
    openDays: status === 'open' ? daysBetween(startedOn, today) : 0,
    keepsUntil: status === 'poured' ? keepsUntil(startedOn, living) : null,
  };
}

/** The pots it filled, and those it was made for. */
const potsOf = (manager: EntityManager, batch: Batch): Pick<BatchView, 'potCodes' | 'forPots'> => ({
  potCodes: rowsFor(manager)<{ code: string }>(
    `SELECT DISTINCT p.code FROM care_event e JOIN pot p ON p.id = e.potId WHERE e.batchId = ? AND e.kind = 'potFilled' AND e.voidedBy IS NULL ORDER BY e.seq`,
    batch.id,
  ).map((p) => p.code),
  forPots: rowsFor(manager)<{ id: string; code: string }>(
    `SELECT p.id, p.code FROM json_each(?) j JOIN pot p ON p.id = j.value ORDER BY j.key`,
    batch.forPots,
  ),
});

function waterView({ manager, replayed: { batch }, meters, ppm }: Look): BatchView['water'] {
  const { id, name } = rowsFor(manager)<Water>('SELECT * FROM "water" WHERE id = ?', batch.waterId)[0]!;
  const expected = basesOf(manager, meters).get(id);
  return { id, name, expectedPpm: expected === undefined ? null : Math.round(ppm(expected)) };
}

function pensView({
  replayed: { batch },
  meters,
  scale,
  phMeter,
  zone,
}: Look): Pick<BatchView, 'scale' | 'ppmMeter' | 'phMeter'> {
  const ppmMeter = batch.ppmMeterId === null ? undefined : meters.get(batch.ppmMeterId);
  return {
    scale,
    ppmMeter: ppmMeter
      ? {
          id: ppmMeter.id,
          name: ppmMeter.name,
          simulated: ppmMeter.device === 'simulated',
          sends: ppmMeter.sends,
          off: offWords(ppmMeter, zone),
          zeroBy: offZero(ppmMeter)?.shown ?? 0,
        }
      : null,
    phMeter: phMeter
      ? {
          id: phMeter.id,
          name: phMeter.name,
          kind: phMeter.kind,
          simulated: phMeter.device === 'simulated',
          sends: phMeter.sends,
          off: offWords(phMeter, zone),
        }
      : null,
  };
}

function phView(look: Look): BatchView['ph'] {
  const { manager, replayed, toolRows, phMeter, zone, standsAt, phInside, chemistry, ppm, when } = look;
  const { batch, session } = replayed;
  const answered = chemistry.known && chemistry.stirred.length > 0 && chemistry.seen.length > 1;
  const open = batch.status === 'open' && session.corrections < MOST_CORRECTIONS;
  return {
    readings: phReadings(replayed, toolRows, phMeter, photosOf(manager, batch.id, zone)),
    corrections: session.corrections,
    latest: standsAt ?? null,
    penOffBy: phOffset(phMeter, when.at.toISOString()),
    inside: phInside,
    movedPerStep: session.phPerStep ?? null,
    response: answered ? responseOf({ ...chemistry, total: chemistry.before.total }) : null,
    choices: open ? phChoices(manager, replayed, standsAt, chemistry, toolRows.map(toTool), ppm) : [],
  };
}

/** Batches of one recipe that make its usual figure, and how far past it one may be. House rules. */
const USUAL_OF = 3;
const PAST_USUAL = 1.2;

/** The net a recipe's batches usually come to, on the grower's scale, where this one reads a fifth more; null where it does not, or nobody can tell. */
function usualWherePast({ manager, replayed: { batch, session }, ppm }: Look): number | null {
  const { lastReadingEcUsCm: reads, baseEcUsCm: base, at, parts } = session;
  if (batch.recipeId === null || reads === undefined || base === undefined || at < parts.length - 1) return null;
  const nets = rowsFor(manager)<{ net: number }>(
    `SELECT b.pouredEcUsCm - json_extract(e.payload, '$.reading.value') / coalesce(m.scale, ${ASSUMED_SCALE}) AS net FROM batch b
       JOIN care_event e ON e.batchId = b.id AND e.kind = 'batchBase' AND e.voidedBy IS NULL LEFT JOIN meter m ON m.id = b.ppmMeterId
     WHERE b.recipeId = ? AND b.status = 'poured' AND b.startedAt < ? AND b.pouredEcUsCm IS NOT NULL AND json_extract(e.payload, '$.reading.kind') = 'value'
     ORDER BY b.startedAt DESC LIMIT 7`,
    batch.recipeId,
    batch.startedAt,
  ).map((row) => row.net);
  if (nets.length < USUAL_OF) return null;
  const usual = median(nets);
  return reads - base > PAST_USUAL * usual ? ppm(usual) : null;
}

/** Last day on which what is left of a mix may be used. */
export function keepsUntil(startedOn: string, withLiving: boolean): string {
  return plusDays(startedOn, daysItKeeps(withLiving));
}

function partView(
  replayed: ReplayedBatch,
  part: KnownPart,
  i: number,
  ppm: (ec: number) => number,
  scale: number,
): BatchPartView {
  const { row, product, before } = part;
  const { session } = replayed;
  const standing = session.parts[i]!;
  const known = sessionStrength(session, i) ?? divide(bottleStrength(before.belief), row.mlPerUnit);
  const unitsPerL = row.unitsPerL ?? unitsForNet(product, row.netEcUsCm ?? 0);
  const stock = row.stock === null ? null : (JSON.parse(row.stock) as BatchPartView['stock']);
  return {
    productId: product.id,
    name: product.name,
    short: product.shortName || product.name,
    label: product.label,
    kind: product.kind,
    caution: product.caution,
    unit: isSolid(product) ? 'g' : 'mL',
    method: row.method,
    mlPerUnit: row.mlPerUnit,
    stock,
    aimWords: aimWords(JSON.parse(row.asked) as KeptAim, scale, product),
    aim:
      row.netEcUsCm === null
        ? null
        : {
            netPpm: ppm(row.netEcUsCm),
            lowPpm: ppm(row.lowEcUsCm!),
            highPpm: ppm(row.highEcUsCm!),
            hardPpm: ppm(row.hardEcUsCm!),
          },
    doseUnits: row.unitsPerL === null ? null : row.unitsPerL * session.volumeL,
    reason: row.reason,
    risk: row.risk,
    riskWords: row.riskWords,
    state: standing.state,
    portions: standing.portionsUsed,
    totalMl: standing.totalMl,
    overPpm: standing.overEcUsCm === undefined ? null : ppm(standing.overEcUsCm),
    netPpm: standing.netEcUsCm === undefined ? null : ppm(standing.netEcUsCm),
    strength: {
      ppmPerMlL: ppm(known.ecPerMlL * row.mlPerUnit),
      sd: ppm(known.sd * row.mlPerUnit),
      batches: before.batches,
      guessPpmPerMlL: ppm(guessedStrength(product)),
    },
    brings: unitsPerL === undefined ? null : bringsOf(product, unitsPerL),
  };
}

function stageOf({ batch, session }: ReplayedBatch, phInside: boolean): BatchView['stage'] {
  if (batch.status !== 'open') return 'closed';
  if (!session.batch) return 'water';
  if (!session.strengthReached) return 'strength';
  return batch.phMeterId && !phInside ? 'ph' : 'pour';
}

/** Tools of a part: granules are counted by hand, everything else is measured with what was chosen. */
function toolsOf({ parts }: ReplayedBatch, tools: readonly Tool[], part: number): readonly Tool[] {
  return parts[part]?.row.method === 'granules' ? [GRANULES] : tools;
}

function advise(
  replayed: ReplayedBatch,
  toolRows: ToolRow[],
  vessel: Vessel,
  ppm: (ec: number) => number,
): CoachAdvice {
  const { batch, session, setup, events } = replayed;
  const tools = toolRows.map(toTool);
  const toolsFor = (part: number) => toolsOf(replayed, tools, part);
  const advice = adviseBench(setup, session, toolsFor, vessel.capacityL, batch.byRecipe);
  if (advice.kind === 'readAgain' && lastReadingKind(events) === 'overRange')
    return { kind: 'overRange', part: advice.part };
  return shownAdvice(advice, setup, session, toolsFor, vessel.name, ppm);
}

function lastReadingKind(events: ReplayedBatch['events']): string | undefined {
  const last = events[events.length - 1];
  return last && 'reading' in last.payload ? last.payload.reading?.kind : undefined;
}

function divide(strength: { ecPerMlL: number; sd: number }, by: number): { ecPerMlL: number; sd: number } {
  return { ecPerMlL: strength.ecPerMlL / by, sd: strength.sd / by };
}
