import type { BatchView, BenchRow } from '../../contract/bench.ts';
import { countWords, readingMiddle, volumeWords } from '../../core/quantity/index.ts';
import type { ToolRow } from '../database/entities.ts';
import { isTainted, type KnownMeter, type ReplayedBatch } from '../collection/index.ts';

const ORDINALS = ['first', 'second', 'third', 'fourth', 'fifth', 'sixth', 'seventh', 'eighth'];
/** Acts of which the core keeps a snapshot, in its order. */
const SNAPSHOT_KINDS: readonly string[] = [
  'batchBase',
  'batchPortion',
  'batchPartLeft',
  'batchReading',
  'batchThinned',
  'batchPh',
  'batchCorrection',
];

function figuresOf(
  { part, totalMl, readingEcUsCm, netEcUsCm, ecPerMlL }: ReplayedBatch['session']['snapshots'][number],
  parts: ReplayedBatch['parts'],
  ppm: (ec: number) => number,
  tainted: boolean,
): Omit<BenchRow, 'eventId' | 'kind' | 'label' | 'doseMl' | 'doseWords'> {
  return {
    part,
    totalMl,
    readsPpm: readingEcUsCm === null ? null : ppm(readingEcUsCm),
    netPpm: netEcUsCm === null ? null : ppm(netEcUsCm),
    ppmPerMlL: ecPerMlL === null ? null : ppm(ecPerMlL * (parts[part]?.row.mlPerUnit ?? 1)),
    tainted: readingEcUsCm !== null && tainted,
  };
}

/** A water nobody read: what it was taken for is no reading. */
export const isThought = (event: ReplayedBatch['events'][number]) =>
  event.kind === 'batchBase' && event.payload.reading.kind === 'notMeasured';

type Row = Pick<BenchRow, 'kind' | 'label' | 'doseMl' | 'doseWords'>;

/** What an act adds to the table, but for its figures. @param portions of that part before it */
function rowOf(event: ReplayedBatch['events'][number], tools: ToolRow[], portions: number): Row | undefined {
  switch (event.kind) {
    case 'batchBase':
      return {
        kind: 'base',
        label: isThought(event) ? 'water, not read' : 'water alone',
        doseMl: null,
        doseWords: '—',
      };
    case 'batchReading':
      return { kind: 'reading', label: 'read again', doseMl: null, doseWords: '—' };
    case 'batchThinned':
      return {
        kind: 'thin',
        label: 'thinned',
        doseMl: null,
        doseWords: `+${volumeWords(event.payload.addL * 1000)} water`,
      };
    case 'batchPortion': {
      const { doseMl, steps, toolId } = event.payload.dose;
      const dropper = tools.find((t) => t.id === toolId)?.kind === 'dropper';
      const doseWords = toolId === null ? `${steps} granules` : `${volumeWords(doseMl)}${dropper ? ` (${steps})` : ''}`;
      return { kind: 'portion', label: ORDINALS[portions] ?? `no. ${portions + 1}`, doseMl, doseWords };
    }
    default:
      return undefined;
  }
}

/** Every portion with its reading, as the table shows them. */
export function rowsOf(
  { events, session, parts }: ReplayedBatch,
  tools: ToolRow[],
  ppm: (ec: number) => number,
  meter: KnownMeter | undefined,
): BenchRow[] {
  const rows: BenchRow[] = [];
  let index = 0;
  const portions = parts.map(() => 0);
  for (const event of events) {
    if (!SNAPSHOT_KINDS.includes(event.kind)) continue;
    const snapshot = session.snapshots[index++];
    if (!snapshot) continue;
    const figures = {
      ...figuresOf(snapshot, parts, ppm, isTainted(meter, event.at)),
      // What it was taken for is no reading.
      ...(isThought(event) ? { readsPpm: null, netPpm: null } : {}),
    };
    const before = rows.at(-1);
    // A reading that belongs to the portion before it completes that row rather than adding one.
    if (event.kind === 'batchReading' && before && before.readsPpm === null && before.kind !== 'base')
      Object.assign(before, figures);
    else {
      const made = rowOf(event, tools, portions[snapshot.part] ?? 0);
      if (made) rows.push({ eventId: event.id, ...made, ...figures });
    }
    if (event.kind === 'batchPortion') portions[snapshot.part] = (portions[snapshot.part] ?? 0) + 1;
  }
  return rows;
}

/** pH readings and corrections, as the table shows them. */
export function phReadings(
  { events }: ReplayedBatch,
  tools: ToolRow[],
  meter: KnownMeter | undefined,
  photos: ReadonlyMap<string, { id: string; time: string }[]>,
): BatchView['ph']['readings'] {
  const readings: BatchView['ph']['readings'] = [];
  let corrections = 0;
  for (const event of events) {
    if (event.kind !== 'batchPh' && event.kind !== 'batchCorrection') continue;
    let after = readings.length ? 'read again' : 'as mixed';
    if (event.kind === 'batchCorrection') {
      const { dose, ratio } = event.payload;
      const dropper = tools.find((t) => t.id === dose.toolId)?.kind === 'dropper';
      after = `${dropper ? countWords(dose.steps, 'drop') : volumeWords(dose.doseMl)}${ratio > 1 ? `, 1 in ${ratio}` : ''}`;
      corrections++;
    }
    const ph = event.payload.reading === null ? null : (readingMiddle(event.payload.reading) ?? null);
    readings.push({
      eventId: event.id,
      ph,
      label: event.kind === 'batchCorrection' ? `correction ${corrections}` : 'reading',
      after,
      tainted: ph !== null && isTainted(meter, event.at),
      photos: photos.get(event.id) ?? [],
    });
  }
  return readings;
}
