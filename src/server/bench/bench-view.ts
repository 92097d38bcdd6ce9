import type { EntityManager } from 'typeorm';
import type { BatchListItem, BatchPartView, BatchView, CoachAdvice } from '../../contract/bench.ts';
import { MOST_CORRECTIONS, responseOf } from '../../core/correction/index.ts';
import { ppmFromEc } from '../../core/quantity/index.ts';
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
import { phReadings, rowsOf } from './bench-rows.ts';
import { photosOf } from './photos.ts';
import { phChoices } from './ph-choices.ts';
import {
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
  phOffset,
  expectedView,
  replayBatch,
  type ReplayedBatch,
  standsAtPh,
  toTool,
  toToolView,
  unitsForNet,
  rowsFor,
} from '../collection/index.ts';

/** The whole state of a batch as the bench shows it, or undefined when there is none of that id. */
export function readBatchView(
  manager: EntityManager,
  batchId: string,
  zone: string,
  { at, localDate: today }: ActAt,
): BatchView | undefined {
  const meters = metersOf(manager);
  const replayed = replayBatch(manager, batchId, meters);
  if (!replayed) return undefined;
  const { batch, session, setup, events } = replayed;
  // Figures are shown on the grower's own scale, whichever pen read them.
  const scale = growersScale(meters);
  // What a portion brought is a difference: below zero where the pen showed less after it than before.
  const ppm = (ecUsCm: number) => (ecUsCm < 0 ? -ppmFromEc(-ecUsCm, scale) : ppmFromEc(ecUsCm, scale));
  const bases = basesOf(manager, meters);
  const water = rowsFor(manager)<Water>('SELECT * FROM "water" WHERE id = ?', batch.waterId)[0]!;
  const vessel = rowsFor(manager)<Vessel>('SELECT * FROM "vessel" WHERE id = ?', batch.vesselId)[0]!;
  const tools = rowsFor(manager)<ToolRow>('SELECT * FROM tool ORDER BY position');
  const pots = rowsFor(manager)<{ code: string }>(
    `SELECT DISTINCT p.code FROM care_event e JOIN pot p ON p.id = e.potId WHERE e.batchId = ? AND e.kind = 'potFilled' AND e.voidedBy IS NULL ORDER BY e.seq`,
    batch.id,
  );
  const forPots = rowsFor(manager)<{ id: string; code: string }>(
    `SELECT p.id, p.code FROM json_each(?) j JOIN pot p ON p.id = j.value ORDER BY j.key`,
    batch.forPots,
  );
  const toolIds = JSON.parse(batch.toolIds) as string[];
  const toolRows = tools.filter((t) => toolIds.includes(t.id));
  const ppmMeter = meters.get(batch.ppmMeterId);
  const phMeter = batch.phMeterId ? meters.get(batch.phMeterId) : undefined;
  const expectedBase = bases.get(water.id);
  const advice = advise(replayed, toolRows, vessel, ppm);
  const standsAt = standsAtPh(replayed, phMeter);
  const phInside = standsAt !== undefined && standsAt >= batch.phLow && standsAt <= batch.phHigh;
  const chemistry = chemistryOf(manager, replayed, meters);
  const stage = stageOf(replayed, phInside);
  const leftMl = leftOfBatch(manager, batch);
  return {
    id: batch.id,
    name: batch.name,
    use: batch.use,
    recipeId: batch.recipeId,
    status: batch.status,
    stage,
    mixKey: batch.mixKey,
    potCodes: pots.map((p) => p.code),
    forPots,
    startedAt: batch.startedAt,
    startedOn: batch.startedOn,
    time: localTimeOf(new Date(batch.startedAt), zone),
    openDays: batch.status === 'open' ? daysBetween(batch.startedOn, today) : 0,
    water: {
      id: water.id,
      name: water.name,
      expectedPpm: expectedBase === undefined ? null : Math.round(ppm(expectedBase)),
    },
    vessel: { id: vessel.id, name: vessel.name, capacityL: vessel.capacityL },
    parts: replayed.parts.map((part, i) => partView(replayed, part, i, ppm, scale)),
    at: session.at,
    byRecipe: batch.byRecipe,
    ppmMeter: {
      id: batch.ppmMeterId,
      name: ppmMeter?.name ?? '',
      scale,
      simulated: ppmMeter?.device === 'simulated',
      off: offWords(ppmMeter, zone),
    },
    phMeter: phMeter
      ? {
          id: phMeter.id,
          name: phMeter.name,
          kind: phMeter.kind,
          simulated: phMeter.device === 'simulated',
          off: offWords(phMeter, zone),
        }
      : null,
    tools: toolRows.map(toToolView),
    volumeL: session.volumeL,
    leftMl,
    pouredPpm: batch.pouredEcUsCm === null ? null : ppm(batch.pouredEcUsCm),
    keepsUntil:
      batch.status === 'poured'
        ? keepsUntil(
            batch.startedOn,
            replayed.parts.some((p) => p.product.kind === 'living'),
          )
        : null,
    basePpm: session.baseEcUsCm === undefined ? null : ppm(session.baseEcUsCm),
    aimPpm: ppm(batch.netEcUsCm),
    netPpm: ppm(setup.parts.length > 0 ? plannedNet(setup, session, setup.parts.length - 1) : 0),
    phWindow: { low: batch.phLow, high: batch.phHigh },
    holdMinutes: batch.holdMinutes,
    advice,
    rows: rowsOf(replayed, toolRows, ppm, ppmMeter),
    cone: coneOf(setup, session, advice.kind === 'add' ? advice.doseMl : 0).map((c) => ({
      totalMl: c.totalMl,
      ppm: ppm(c.readingEcUsCm),
      lowPpm: ppm(c.lowEcUsCm),
      highPpm: ppm(c.highEcUsCm),
    })),
    ph: {
      readings: phReadings(replayed, toolRows, phMeter, photosOf(manager, batch.id, zone)),
      corrections: session.corrections,
      latest: standsAt ?? null,
      penOffBy: phOffset(phMeter, at.toISOString()),
      inside: phInside,
      movedPerStep: session.phPerStep ?? null,
      response:
        chemistry.known && chemistry.stirred.length > 0 && chemistry.seen.length > 1
          ? responseOf({ ...chemistry, total: chemistry.before.total })
          : null,
      choices:
        batch.status === 'open' && session.corrections < MOST_CORRECTIONS
          ? phChoices(manager, replayed, standsAt, chemistry, toolRows.map(toTool), ppm)
          : [],
    },
    expected: expectedView(chemistry, ppm),
    lastEventId: events[events.length - 1]?.kind === 'batchStarted' ? null : (events[events.length - 1]?.id ?? null),
  };
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

/** Recent batches, newest first. */
export function readBatchList(manager: EntityManager, zone: string, today: string): BatchListItem[] {
  const batches = rowsFor(manager)<Batch>(
    `SELECT * FROM batch ORDER BY CASE status WHEN 'open' THEN 0 ELSE 1 END, startedAt DESC LIMIT 30`,
  );
  const meters = metersOf(manager);
  const scale = growersScale(meters);
  const items: BatchListItem[] = [];
  for (const b of batches) {
    const [living] = rowsFor(manager)<{ n: number }>(
      `SELECT count(*) AS n FROM batch_part p JOIN bottle o ON o.id = p.bottleId JOIN product r ON r.id = o.productId WHERE p.batchId = ? AND r.kind = 'living'`,
      b.id,
    );
    items.push({
      id: b.id,
      name: b.name,
      use: b.use,
      status: b.status,
      startedOn: b.startedOn,
      time: localTimeOf(new Date(b.startedAt), zone),
      openDays: b.status === 'open' ? daysBetween(b.startedOn, today) : 0,
      keepsUntil: b.status === 'poured' ? keepsUntil(b.startedOn, (living?.n ?? 0) > 0) : null,
      volumeL: b.pouredVolumeL ?? b.volumeL,
      leftMl: leftOfBatch(manager, b),
      readsPpm: b.pouredEcUsCm === null ? null : ppmFromEc(b.pouredEcUsCm, scale),
      ph: b.pouredPh,
      mixKey: b.mixKey,
    });
  }
  return items;
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
