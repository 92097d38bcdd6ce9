import type { EntityManager } from 'typeorm';
import { isTainted, offWords, type KnownMeter } from '../shelf/meter-states.ts';
import type { BatchListItem, BatchView, BenchRow, CoachAdvice } from '../../contract/bench.ts';
import { ppmFromEc, volumeWords } from '../../core/quantity/index.ts';
import { localTimeOf } from '../../core/regimen/index.ts';
import { bottleStrength, decidePortion, expectReading, sessionStrength, type Tool } from '../../core/strength/index.ts';
import type { Batch, Product, ToolRow, Vessel, Water } from '../database/entities.ts';
import { growersScale, lastBases, readMeters, toTool, toToolView } from '../shelf/shelf-reader.ts';
import { aimBringsOf, predictedView } from './predicted.ts';
import { leftOfBatch, replayBatch, type ReplayedBatch } from './batch-reader.ts';

const ORDINALS = ['first', 'second', 'third', 'fourth', 'fifth', 'sixth', 'seventh', 'eighth'];

/** The whole state of a batch as the bench shows it, or undefined when there is none of that id. */
export async function readBatchView(manager: EntityManager, batchId: string, zone: string): Promise<BatchView | undefined> {
  const meters = await readMeters(manager);
  const replayed = await replayBatch(manager, batchId, meters);
  if (!replayed) return undefined;
  const { batch, session, aim, events, product } = replayed;
  // Figures are shown on the grower's own scale, whichever pen read them.
  const scale = growersScale(meters);
  const ppm = (ecUsCm: number) => ppmFromEc(ecUsCm, scale);
  const [water, vessel, tools, acids, bases, pots] = await Promise.all([
    manager.getRepository<Water>('water').findOneByOrFail({ id: batch.waterId }),
    manager.getRepository<Vessel>('vessel').findOneByOrFail({ id: batch.vesselId }),
    manager.query<ToolRow[]>('SELECT * FROM tool ORDER BY position'),
    manager.query<Product[]>(`SELECT * FROM product WHERE kind IN ('acid', 'base') AND retiredOn IS NULL ORDER BY position`),
    lastBases(manager, meters),
    manager.query<{ code: string }[]>(
      `SELECT DISTINCT p.code FROM care_event e JOIN pot p ON p.id = e.potId WHERE e.batchId = ? AND e.kind = 'potFilled' AND e.voidedBy IS NULL ORDER BY e.seq`,
      [batch.id],
    ),
  ]);
  const toolIds = JSON.parse(batch.toolIds) as string[];
  const toolRows = tools.filter((t) => toolIds.includes(t.id));
  const ppmMeter = meters.get(batch.ppmMeterId);
  const phMeter = batch.phMeterId ? meters.get(batch.phMeterId) : undefined;
  const known = sessionStrength(session) ?? divide(bottleStrength(replayed.before), batch.thinRatio);
  const expectedBase = bases.get(water.id);
  const advice = advise(replayed, toolRows, vessel, ppm);
  const phInside = session.latestPh !== undefined && session.latestPh >= batch.phLow && session.latestPh <= batch.phHigh;
  return {
    id: batch.id,
    name: batch.name,
    status: batch.status,
    stage: stageOf(replayed, phInside),
    mixKey: batch.mixKey,
    potCodes: pots.map((p) => p.code),
    startedAt: batch.startedAt,
    startedOn: batch.startedOn,
    time: localTimeOf(new Date(batch.startedAt), zone),
    water: { id: water.id, name: water.name, expectedPpm: expectedBase === undefined ? null : Math.round(ppm(expectedBase)) },
    vessel: { id: vessel.id, name: vessel.name, capacityL: vessel.capacityL },
    product: { id: product.id, name: product.name, short: product.shortName, label: product.label },
    ppmMeter: { id: batch.ppmMeterId, name: ppmMeter?.name ?? '', scale, simulated: ppmMeter?.device === 'simulated', off: offWords(ppmMeter, zone) },
    phMeter: phMeter ? { id: phMeter.id, name: phMeter.name, simulated: phMeter.device === 'simulated', off: offWords(phMeter, zone) } : null,
    acids: acids.map((a) => ({ id: a.id, name: a.name, direction: a.kind === 'acid' ? ('down' as const) : ('up' as const), caution: a.caution })),
    tools: toolRows.map(toToolView),
    volumeL: session.volumeL,
    leftMl: await leftOfBatch(manager, batch),
    thinRatio: batch.thinRatio,
    basePpm: session.baseEcUsCm === undefined ? null : ppm(session.baseEcUsCm),
    aim: { netPpm: ppm(aim.netEcUsCm), lowPpm: ppm(aim.lowEcUsCm), highPpm: ppm(aim.highEcUsCm), hardPpm: ppm(aim.hardEcUsCm) },
    phWindow: { low: batch.phLow, high: batch.phHigh },
    advice,
    rows: rowsOf(replayed, toolRows, ppm, ppmMeter),
    cone: coneOf(replayed, advice, ppm),
    strength: {
      ppmPerMlL: ppm(known.ecPerMlL * batch.thinRatio),
      sd: ppm(known.sd * batch.thinRatio),
      batches: replayed.batchesBefore,
      guessPpmPerMlL: ppm(product.guessEcPerMlL ?? 0),
    },
    ph: {
      readings: phReadings(replayed, phMeter),
      corrections: session.corrections,
      latest: session.latestPh ?? null,
      inside: phInside,
      movedPerDrop: session.phPerDrop ?? null,
    },
    aimBrings: aimBringsOf(product, aim.netEcUsCm),
    predicted: await predictedView(manager, replayed, meters, ppm),
    lastEventId: events[events.length - 1]?.kind === 'batchStarted' ? null : (events[events.length - 1]?.id ?? null),
  };
}

/** Recent batches, newest first. */
export async function readBatchList(manager: EntityManager, zone: string): Promise<BatchListItem[]> {
  const batches = await manager.query<Batch[]>(`SELECT * FROM batch ORDER BY CASE status WHEN 'open' THEN 0 ELSE 1 END, startedAt DESC LIMIT 30`);
  const meters = await readMeters(manager);
  const scale = growersScale(meters);
  const items: BatchListItem[] = [];
  for (const b of batches) {
    items.push({
      id: b.id,
      name: b.name,
      status: b.status,
      startedOn: b.startedOn,
      time: localTimeOf(new Date(b.startedAt), zone),
      volumeL: b.pouredVolumeL ?? b.volumeL,
      leftMl: await leftOfBatch(manager, b),
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

function advise({ batch, session, aim, pen, events }: ReplayedBatch, toolRows: ToolRow[], vessel: Vessel, ppm: (ec: number) => number): CoachAdvice {
  if (!session.batch || session.lastReadingEcUsCm === undefined) return { kind: 'readBase' };
  const asRange = (e: { readingEcUsCm: number; lowEcUsCm: number; highEcUsCm: number }) => ({
    ppm: ppm(e.readingEcUsCm),
    lowPpm: ppm(e.lowEcUsCm),
    highPpm: ppm(e.highEcUsCm),
  });
  if (session.awaitingReading && lastReadingKind(events) === 'overRange') return { kind: 'overRange' };
  if (session.awaitingReading) return { kind: 'readAgain', expected: asRange(expectReading(session.batch, 0, 0, pen)) };
  const tools = toolRows.map(toTool);
  const decision = decidePortion({
    batch: session.batch,
    aim,
    pen,
    tools,
    portionsUsed: session.portionsUsed,
    lastReadingEcUsCm: session.lastReadingEcUsCm,
    capacityL: vessel.capacityL,
  });
  switch (decision.kind) {
    case 'add': {
      const tool = tools.find((t) => t.id === decision.dose.toolId) as Tool;
      return {
        kind: 'add',
        portion: session.portionsUsed + 1,
        portionsLikely: decision.portionsLikely,
        doseMl: decision.dose.doseMl,
        steps: decision.dose.steps,
        toolId: tool.id,
        toolName: tool.name,
        toolKind: tool.kind,
        dropsPerMl: tool.kind === 'dropper' ? tool.dropsPerMl : null,
        dropSizeIsGuess: tool.kind === 'dropper' && tool.dropsPerMl === null,
        relativeSd: decision.dose.relativeSd,
        expected: asRange(decision.expected),
        hardPpm: ppm(aim.hardEcUsCm + (session.baseEcUsCm ?? 0)),
        pastHard: decision.pastHard,
      };
    }
    case 'thin': {
      const plan = decision.plan;
      return {
        kind: 'thin',
        pastHard: decision.pastHard,
        plan: plan.kind,
        addL: plan.addL,
        pourOffL: plan.kind === 'pourOffAndReplace' ? plan.pourOffL : 0,
        vesselName: vessel.name,
        expectedPpm: ppm((session.baseEcUsCm ?? 0) + batch.netEcUsCm),
      };
    }
    case 'tooCoarse':
      return { kind: 'tooCoarse', stepMl: decision.stepMl };
    case 'inside':
      return { kind: 'inside' };
  }
}

function lastReadingKind(events: ReplayedBatch['events']): string | undefined {
  const last = events[events.length - 1];
  return last && 'reading' in last.payload ? last.payload.reading?.kind : undefined;
}

function rowsOf({ events, session, batch }: ReplayedBatch, tools: ToolRow[], ppm: (ec: number) => number, meter: KnownMeter | undefined): BenchRow[] {
  const rows: BenchRow[] = [];
  let index = 0;
  let portions = 0;
  for (const event of events) {
    if (!['batchBase', 'batchPortion', 'batchReading', 'batchThinned', 'batchPh', 'batchCorrection'].includes(event.kind)) continue;
    const snapshot = session.snapshots[index++];
    if (!snapshot) continue;
    const figures = {
      totalMl: snapshot.totalMl,
      readsPpm: snapshot.readingEcUsCm === null ? null : ppm(snapshot.readingEcUsCm),
      netPpm: snapshot.netEcUsCm === null ? null : ppm(snapshot.netEcUsCm),
      ppmPerMlL: snapshot.ecPerMlL === null ? null : ppm(snapshot.ecPerMlL * batch.thinRatio),
      tainted: snapshot.readingEcUsCm !== null && isTainted(meter, event.at),
    };
    if (event.kind === 'batchBase') rows.push({ eventId: event.id, kind: 'base', label: 'water alone', doseMl: null, doseWords: '—', ...figures });
    else if (event.kind === 'batchPortion') {
      const { doseMl, steps, toolId } = event.payload.dose;
      const drops = tools.find((t) => t.id === toolId)?.kind === 'dropper' ? ` (${steps})` : '';
      rows.push({
        eventId: event.id,
        kind: 'portion',
        label: ORDINALS[portions] ?? `no. ${portions + 1}`,
        doseMl,
        doseWords: `${volumeWords(doseMl)}${drops}`,
        ...figures,
      });
      portions++;
    } else if (event.kind === 'batchReading') {
      // A reading that belongs to the portion before it completes that row rather than adding one.
      const before = rows[rows.length - 1];
      if (before && before.readsPpm === null && before.kind !== 'base') Object.assign(before, figures);
      else rows.push({ eventId: event.id, kind: 'reading', label: 'read again', doseMl: null, doseWords: '—', ...figures });
    } else if (event.kind === 'batchThinned') {
      rows.push({ eventId: event.id, kind: 'thin', label: 'thinned', doseMl: null, doseWords: `+${volumeWords(event.payload.addL * 1000)} water`, ...figures });
    }
  }
  return rows;
}

/** Points of the cone from what is in the batch now to a little past the hard limit or the advised portion. */
function coneOf({ session, aim, pen }: ReplayedBatch, advice: CoachAdvice, ppm: (ec: number) => number): BatchView['cone'] {
  if (!session.batch || session.awaitingReading) return [];
  const strength = sessionStrength(session)?.ecPerMlL ?? 0;
  if (!(strength > 0)) return [];
  const net = (session.lastReadingEcUsCm ?? 0) - (session.baseEcUsCm ?? 0);
  const toHard = Math.max(0, ((aim.hardEcUsCm - net) * session.volumeL) / strength);
  const furthest = Math.max(toHard * 1.1, advice.kind === 'add' ? advice.doseMl * 1.3 : 0);
  if (!(furthest > 0)) return [];
  const points = 24;
  return Array.from({ length: points + 1 }, (_, i) => {
    const doseMl = (furthest * i) / points;
    const e = expectReading(session.batch!, doseMl, 0.05, pen);
    return { totalMl: session.totalMl + doseMl, ppm: ppm(e.readingEcUsCm), lowPpm: ppm(e.lowEcUsCm), highPpm: ppm(e.highEcUsCm) };
  });
}

function phReadings({ events }: ReplayedBatch, meter: KnownMeter | undefined): BatchView['ph']['readings'] {
  const readings: BatchView['ph']['readings'] = [];
  let corrections = 0;
  for (const event of events) {
    if (event.kind !== 'batchPh' && event.kind !== 'batchCorrection') continue;
    const after =
      event.kind === 'batchCorrection' ? `${event.payload.drops} drop${event.payload.drops === 1 ? '' : 's'}` : readings.length ? 'read again' : 'as mixed';
    if (event.kind === 'batchCorrection') corrections++;
    const reading = event.payload.reading;
    const ph = reading === null ? null : reading.kind === 'value' ? reading.value : reading.kind === 'range' ? (reading.low + reading.high) / 2 : null;
    readings.push({
      eventId: event.id,
      ph,
      label: event.kind === 'batchCorrection' ? `correction ${corrections}` : 'reading',
      after,
      tainted: ph !== null && isTainted(meter, event.at),
    });
  }
  return readings;
}

function divide(strength: { ecPerMlL: number; sd: number }, by: number): { ecPerMlL: number; sd: number } {
  return { ecPerMlL: strength.ecPerMlL / by, sd: strength.sd / by };
}
