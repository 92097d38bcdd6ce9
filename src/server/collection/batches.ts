import { labelFigures } from '../../contract/shelf.ts';
import { readingMiddle, type Reading } from '../../core/quantity/index.ts';
import { readLabel, type ReadLabel } from '../../core/solution/index.ts';
import type { Batch, BatchPart, Product } from '../database/entities.ts';
import { readJson } from '../database/read-json.ts';
import { isTainted, phOffset, trustedPh, type Meters, scaleOf } from './meters.ts';
import { memoOfFigures } from './memo.ts';
import { listed, type Rows } from './rows.ts';
import { firstKnown, upTo, versionAt, versionsOf, type Versions } from './versions.ts';
import { ALWAYS, waterAt, type WaterEntry, type WaterThen } from './waters.ts';

/** A product with its label's figures from the day each was copied. */
export type ProductEntry = { readonly row: Product; readonly labels: Versions };

/** A part of a batch with the label of its day. */
export type BatchPartThen = Pick<
  BatchPart,
  'position' | 'bottleId' | 'source' | 'netEcUsCm' | 'unitsPerL' | 'mlPerUnit' | 'method'
> & {
  readonly productId: string;
  /** As the label stood when the batch was made: JSON of the contract's figures. */
  readonly label: string | null;
  /** What the dropper gave of it, mL. */
  readonly dosedMl: number;
};

/** A batch as it was made: with the reading of its water, the labels and the pens of its own day. */
export type BatchEntry = {
  readonly row: Omit<Batch, 'forPots' | 'toolIds'>;
  readonly parts: readonly BatchPartThen[];
  readonly water: WaterThen;
  /** The plain water's own reading at this batch, µS/cm. */
  readonly baseEcUsCm: number | undefined;
  /** The first pH before any acid, and the one it was poured at, each put right by what its pen is known to be off. */
  readonly firstPh: number | undefined;
  readonly pouredPh: number | undefined;
  /** The pens it was poured by were found off. */
  readonly ppmTainted: boolean;
  readonly phTainted: boolean;
  /** No mix of the bench, but told by older records. */
  readonly told?: true;
  /** For the check of an unsteady pot: how it was read. */
  readonly steps: { readonly base: boolean; readonly lastStrength: number | null; readonly firstAcid: number | null };
};

export function foldProducts(rows: Rows, ids?: readonly string[]): Map<string, ProductEntry> {
  const found = ids
    ? rows<Product>('SELECT * FROM product WHERE id IN (SELECT value FROM json_each(?))', listed(ids))
    : rows<Product>('SELECT * FROM product ORDER BY position, id');
  const labels = versionsOf(
    rows,
    'product',
    found.map((p) => p.id),
    'analysis',
  );
  return new Map(found.map((row) => [row.id, { row, labels: upTo(labels.get(row.id), row.analysis) }]));
}

/** The label of a product at a moment; where none was copied by then, the first one that was. */
export const labelAt = ({ labels }: ProductEntry, at: string): string | null =>
  versionAt(labels, at) ?? firstKnown(labels, at);

/** A label's figures read by the chemistry, once; undefined where they do not add up. */
export const readLabelText = memoOfFigures((text: string): ReadLabel | undefined => {
  const figures = readJson(labelFigures, text);
  const read = figures && readLabel(figures);
  return read?.ok ? read : undefined;
});

type StepLine = {
  batchId: string;
  kind: string;
  at: string;
  seq: number;
  reading: string | null;
  thought: number | null;
  part: number | null;
  doseMl: number | null;
};

/** Batches as they were made. */
export function foldBatches(
  rows: Rows,
  meters: Meters,
  waters: ReadonlyMap<string, WaterEntry>,
  products: ReadonlyMap<string, ProductEntry>,
  ids: readonly string[],
): Map<string, BatchEntry> {
  const which = 'IN (SELECT value FROM json_each(?))';
  const wanted = listed(ids);
  const batches = rows<Batch>(`SELECT * FROM batch WHERE id ${which} ORDER BY startedAt, id`, wanted);
  const byBatch = <T extends { batchId: string }>(lines: readonly T[]) => {
    const map = new Map<string, T[]>();
    for (const line of lines) {
      const mine = map.get(line.batchId);
      if (mine) mine.push(line);
      else map.set(line.batchId, [line]);
    }
    return map;
  };
  const steps = byBatch(
    rows<StepLine>(
      `SELECT batchId, kind, at, coalesce(standsAt, seq) AS seq, json_extract(payload, '$.reading') AS reading, json_extract(payload, '$.thoughtEcUsCm') AS thought,
         json_extract(payload, '$.part') AS part, json_extract(payload, '$.dose.doseMl') AS doseMl
       FROM care_event WHERE batchId ${which} AND +kind IN ('batchBase', 'batchPortion', 'batchReading', 'batchPh', 'batchCorrection') AND voidedBy IS NULL
       ORDER BY coalesce(standsAt, seq)`,
      wanted,
    ),
  );
  const parts = byBatch(
    rows<PartLine>(
      `SELECT p.batchId, p.position, p.bottleId, p.source, p.netEcUsCm, p.unitsPerL, p.mlPerUnit, p.method, o.productId FROM batch_part p JOIN bottle o ON o.id = p.bottleId
       WHERE p.batchId ${which} ORDER BY p.position`,
      wanted,
    ),
  );
  return new Map(
    batches.map(({ forPots: _forPots, toolIds: _toolIds, ...row }) => {
      const mine = steps.get(row.id) ?? [];
      return [
        row.id,
        toEntry(
          row,
          mine,
          (parts.get(row.id) ?? []).map((part) => partThen(part, row, mine, products)),
          meters,
          waters,
        ),
      ];
    }),
  );
}

type PartLine = Omit<BatchPartThen, 'label' | 'dosedMl'> & { readonly batchId: string };

function partThen(
  { batchId: _batchId, ...part }: PartLine,
  { startedAt }: Pick<Batch, 'startedAt'>,
  steps: readonly StepLine[],
  products: ReadonlyMap<string, ProductEntry>,
): BatchPartThen {
  const product = products.get(part.productId);
  const dosedMl = steps.reduce(
    (sum, s) => (s.kind === 'batchPortion' && (s.part ?? 0) === part.position ? sum + (s.doseMl ?? 0) : sum),
    0,
  );
  return { ...part, label: product ? labelAt(product, startedAt) : null, dosedMl };
}

/** Until when what is read of a water tells of a batch: for as long as it is being made. */
export const momentOf = ({ status, startedAt, pouredAt }: Pick<Batch, 'status' | 'startedAt' | 'pouredAt'>): string =>
  status === 'open' ? ALWAYS : (pouredAt ?? startedAt);

/** The water of a batch as it was then. @param readEcUsCm as read, or thought, before the mix; where neither, as it last read */
function waterOf(
  row: BatchEntry['row'],
  water: WaterEntry | undefined,
  readEcUsCm: number | null | undefined,
): WaterThen {
  const then = water && waterAt(water, momentOf(row));
  return {
    waterId: row.waterId,
    kind: then?.kind ?? 'other',
    test: then?.test ?? null,
    ecUsCm: readEcUsCm ?? (water && waterAt(water, row.startedAt).ecUsCm),
    ph: then?.ph ?? null,
  };
}

function howRead(steps: readonly StepLine[]): BatchEntry['steps'] {
  const strength = steps.findLast(
    (s) => (s.kind === 'batchReading' || s.kind === 'batchPortion') && isValue(s.reading),
  );
  return {
    base: steps.some((s) => s.kind === 'batchBase'),
    lastStrength: strength?.seq ?? null,
    firstAcid: steps.find((s) => s.kind === 'batchCorrection')?.seq ?? null,
  };
}

function toEntry(
  row: BatchEntry['row'],
  steps: readonly StepLine[],
  parts: readonly BatchPartThen[],
  meters: Meters,
  waters: ReadonlyMap<string, WaterEntry>,
): BatchEntry {
  const ppmMeter = meters.get(row.ppmMeterId ?? '');
  const phMeter = row.phMeterId === null ? undefined : meters.get(row.phMeterId);
  const base = steps.findLast((s) => s.kind === 'batchBase');
  const shown = middleOf(base?.reading ?? null);
  const baseEcUsCm = shown === undefined ? undefined : shown / scaleOf(ppmMeter);
  const firstPhStep = steps.find((s) => s.kind === 'batchPh' || s.kind === 'batchCorrection');
  const firstPh = firstPhStep?.kind === 'batchPh' ? middleOf(firstPhStep.reading) : undefined;
  const pouredAt = row.pouredAt ?? row.startedAt;
  return {
    row,
    parts,
    water: waterOf(row, waters.get(row.waterId), baseEcUsCm ?? base?.thought),
    baseEcUsCm,
    firstPh: firstPh === undefined ? undefined : firstPh - phOffset(phMeter, firstPhStep!.at),
    pouredPh: row.pouredPh === null ? undefined : trustedPh(row.pouredPh, phMeter, pouredAt),
    ppmTainted: isTainted(ppmMeter, pouredAt),
    phTainted: isTainted(phMeter, pouredAt),
    steps: howRead(steps),
  };
}

const parse = (reading: string | null): Reading | undefined =>
  reading === null ? undefined : (JSON.parse(reading) as Reading);
const isValue = (reading: string | null) => parse(reading)?.kind === 'value';
function middleOf(reading: string | null): number | undefined {
  const read = parse(reading);
  return read && readingMiddle(read);
}

/** What was drawn from batches, mL: every fill, soak and top-up that stands. */
export function foldDrawn(rows: Rows, ids: readonly string[]): Map<string, number> {
  const found = rows<{ batchId: string; ml: number }>(
    `SELECT batchId, sum(coalesce(json_extract(payload, '$.pouredMl'), json_extract(payload, '$.ml'))) AS ml FROM care_event
     WHERE batchId IN (SELECT value FROM json_each(?)) AND +kind IN ('potFilled', 'supplementStarted', 'potToppedUp') AND voidedBy IS NULL GROUP BY batchId`,
    listed(ids),
  );
  return new Map(found.map(({ batchId, ml }) => [batchId, ml ?? 0]));
}
