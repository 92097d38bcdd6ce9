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
      part: snapshot.part,
      totalMl: snapshot.totalMl,
      readsPpm: snapshot.readingEcUsCm === null ? null : ppm(snapshot.readingEcUsCm),
      netPpm: snapshot.netEcUsCm === null ? null : ppm(snapshot.netEcUsCm),
      ppmPerMlL:
        snapshot.ecPerMlL === null ? null : ppm(snapshot.ecPerMlL * (parts[snapshot.part]?.row.mlPerUnit ?? 1)),
      tainted: snapshot.readingEcUsCm !== null && isTainted(meter, event.at),
    };
    if (event.kind === 'batchBase')
      rows.push({ eventId: event.id, kind: 'base', label: 'water alone', doseMl: null, doseWords: '—', ...figures });
    else if (event.kind === 'batchPortion') {
      const { doseMl, steps, toolId } = event.payload.dose;
      const dropper = tools.find((t) => t.id === toolId)?.kind === 'dropper';
      const words = toolId === null ? `${steps} granules` : `${volumeWords(doseMl)}${dropper ? ` (${steps})` : ''}`;
      const count = portions[snapshot.part] ?? 0;
      rows.push({
        eventId: event.id,
        kind: 'portion',
        label: ORDINALS[count] ?? `no. ${count + 1}`,
        doseMl,
        doseWords: words,
        ...figures,
      });
      portions[snapshot.part] = count + 1;
    } else if (event.kind === 'batchReading') {
      // A reading that belongs to the portion before it completes that row rather than adding one.
      const before = rows[rows.length - 1];
      if (before && before.readsPpm === null && before.kind !== 'base') Object.assign(before, figures);
      else
        rows.push({
          eventId: event.id,
          kind: 'reading',
          label: 'read again',
          doseMl: null,
          doseWords: '—',
          ...figures,
        });
    } else if (event.kind === 'batchThinned') {
      rows.push({
        eventId: event.id,
        kind: 'thin',
        label: 'thinned',
        doseMl: null,
        doseWords: `+${volumeWords(event.payload.addL * 1000)} water`,
        ...figures,
      });
    }
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
