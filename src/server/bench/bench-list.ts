import type { EntityManager } from 'typeorm';
import type { BatchListItem, BenchList } from '../../contract/bench-list.ts';
import { ppmFromEc } from '../../core/quantity/index.ts';
import { daysBetween, localTimeOf } from '../../core/regimen/index.ts';
import { DRAWN_ML, growersScale, leftMlOf, metersOf, rowsFor } from '../collection/index.ts';
import type { Batch } from '../database/entities.ts';
import { keepsUntil } from './bench-view.ts';

/* The bench's first screen. */

/** Less than this of a mix is as good as used up, mL. */
const LEAST_LEFT_ML = 20;
/** Batches shown as made lately. */
const LATELY = 30;

/** A batch with what was drawn of it and whether something living went in. */
type Row = Batch & { drawnMl: number; living: number };

const rowsOf = (manager: EntityManager, which: string) =>
  rowsFor(manager)<Row>(
    `SELECT b.*,
       ${DRAWN_ML} AS drawnMl,
       EXISTS (SELECT 1 FROM batch_part p JOIN bottle o ON o.id = p.bottleId JOIN product r ON r.id = o.productId
         WHERE p.batchId = b.id AND r.kind = 'living') AS living
     FROM batch b ${which}`,
  );

const leftMl = (b: Row): number => leftMlOf(b, b.drawnMl);
const until = (b: Row) => (b.status === 'poured' ? keepsUntil(b.startedOn, Boolean(b.living)) : null);

/** Batches being made, then the newest; and what is past its day of all that was ever made. */
export function readBenchList(manager: EntityManager, zone: string, today: string): BenchList {
  const scale = growersScale(metersOf(manager));
  const toItem = (b: Row): BatchListItem => ({
    id: b.id,
    name: b.name,
    use: b.use,
    status: b.status,
    startedOn: b.startedOn,
    time: localTimeOf(new Date(b.startedAt), zone),
    openDays: b.status === 'open' ? daysBetween(b.startedOn, today) : 0,
    keepsUntil: until(b),
    volumeL: b.pouredVolumeL ?? b.volumeL,
    leftMl: leftMl(b),
    readsPpm: b.pouredEcUsCm === null ? null : ppmFromEc(b.pouredEcUsCm, scale),
    ph: b.pouredPh,
    mixKey: b.mixKey,
  });
  const batches = rowsOf(manager, `ORDER BY CASE status WHEN 'open' THEN 0 ELSE 1 END, startedAt DESC LIMIT ${LATELY}`);
  const past = rowsOf(manager, `WHERE status = 'poured' AND emptied = 0 ORDER BY startedAt`).filter(
    (b) => leftMl(b) >= LEAST_LEFT_ML && until(b)! < today,
  );
  const [oldest] = past;
  return {
    batches: batches.map(toItem),
    pastDay: oldest
      ? { ids: past.map((b) => b.id), ml: past.reduce((sum, b) => sum + leftMl(b), 0), sinceOn: oldest.startedOn }
      : null,
  };
}
