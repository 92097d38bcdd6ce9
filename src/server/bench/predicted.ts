import type { EntityManager } from 'typeorm';
import type { BatchView } from '../../contract/bench.ts';
import type { LabelFigures, WaterKnown } from '../../contract/shelf.ts';
import { GUESSED_DROPS_PER_ML, readingMiddle, taintAt, type Reading } from '../../core/quantity/index.ts';
import {
  addComposition,
  anchoredAt,
  cloudingOf,
  doseToPh,
  ELEMENT_WORDS,
  OPEN,
  predictBatch,
  readLabel,
  solve,
  waterFromTest,
  type Composition,
  type Elements,
  type KnownWater,
  type Predicted,
  type ReadLabel,
} from '../../core/solution/index.ts';
import { sessionStrength } from '../../core/strength/index.ts';
import type { Product, ToolRow, Water } from '../database/entities.ts';
import { isTainted, type KnownMeter, type Meters } from '../shelf/meter-states.ts';
import type { ReplayedBatch } from './batch-reader.ts';

/*
 * What the chemistry says of a batch: its pH and reading before any acid, how it stands now, and the dose that would bring it into its
 * window. Never kept as a reading.
 */

type Unknown = { readonly known: false; readonly why: string };
type Chemistry = {
  readonly known: true;
  readonly before: Predicted;
  readonly water: KnownWater;
  /** With acids and alkalis that went in, put where the last pH reading says. */
  readonly now: Composition;
  /** The same as if no pH had been read. */
  readonly bare: Composition;
};

/** The chemistry of a batch as it stands, or why there is none. */
export async function chemistryOf(manager: EntityManager, replayed: ReplayedBatch, meters: Meters): Promise<Chemistry | Unknown> {
  const { batch, session, product } = replayed;
  const label = labelOf(product);
  if (!label) return { known: false, why: `The pH can be told beforehand once the label of ${product.name} is on the Shelf.` };
  const water = await waterOf(manager, batch.waterId, session.baseEcUsCm, meters);
  if (!water) return { known: false, why: 'The pH can be told beforehand once the water was read.' };
  if (!(session.totalMl > 0)) return { known: false, why: 'Nothing is in the water yet.' };
  const learned = sessionStrength(session);
  const doseMlL = session.totalMl / session.volumeL / batch.thinRatio;
  const read = !session.awaitingReading && session.lastReadingEcUsCm !== undefined && session.baseEcUsCm !== undefined;
  const before = predictBatch({
    water,
    products: [{ perUnit: label.perUnit, doseMlL, gap: label.gap }],
    netEcUsCm: read ? session.lastReadingEcUsCm - session.baseEcUsCm : learned ? (learned.ecPerMlL * session.totalMl) / session.volumeL : null,
  });
  if (!before.ok) return { known: false, why: before.message };
  return { known: true, before, water, ...(await corrected(manager, replayed, before.total, meters)) };
}

/** Walks the pH readings and corrections in order: each drop goes in, each reading puts the solution where it is. */
async function corrected(
  manager: EntityManager,
  { events, session, batch }: ReplayedBatch,
  total: Composition,
  meters: Meters,
): Promise<{ now: Composition; bare: Composition }> {
  let now = total;
  let bare = total;
  const phMeter = batch.phMeterId === null ? undefined : meters.get(batch.phMeterId);
  for (const event of events) {
    if (event.kind !== 'batchPh' && event.kind !== 'batchCorrection') continue;
    if (event.kind === 'batchCorrection') {
      const product = await manager.getRepository<Product>('product').findOneBy({ id: event.payload.productId });
      const tool = await manager.getRepository<ToolRow>('tool').findOneBy({ id: event.payload.toolId });
      const label = product && labelOf(product);
      if (!label) continue;
      const mlL = event.payload.drops / (tool?.dropsPerMl ?? GUESSED_DROPS_PER_ML) / session.volumeL;
      now = addComposition(now, label.perUnit, mlL);
      bare = addComposition(bare, label.perUnit, mlL);
    }
    const ph = event.payload.reading === null ? undefined : readingMiddle(event.payload.reading);
    const trusted = ph === undefined ? undefined : trustedPh(ph, phMeter, event.at);
    if (trusted !== undefined) now = anchoredAt(now, trusted);
  }
  return { now, bare };
}

/** A reading as it counts: of a pen found off by a known amount, put right by that; by an unknown one, it says nothing of where the solution stands. */
function trustedPh(ph: number, meter: KnownMeter | undefined, at: string): number | undefined {
  const taint = meter && taintAt(meter.taints, at);
  if (!taint) return ph;
  return taint.offBy === null ? undefined : ph - taint.offBy;
}

/** For the bench. */
export async function predictedView(
  manager: EntityManager,
  replayed: ReplayedBatch,
  meters: Meters,
  ppm: (ec: number) => number,
): Promise<BatchView['predicted']> {
  const found = await chemistryOf(manager, replayed, meters);
  if (!found.known) return found;
  const { before, now, water } = found;
  const [standing, open] = [solve(now), solve(now, OPEN)];
  if (!standing.ok || !open.ok) return { known: false, why: standing.ok ? 'It has no answer in open air.' : standing.message };
  const clouding = cloudingOf(standing);
  return {
    known: true,
    before: { ph: before.ph, lowPh: before.lowPh, highPh: before.highPh, ppm: ppm(before.ecUsCm), tomorrowPh: before.tomorrowPh },
    now: { ph: standing.ph, ppm: ppm(standing.ecUsCm), tomorrowPh: open.ph },
    dose: await doseFor(manager, replayed, now, standing.ph, ppm),
    waterFrom: water.how,
    clouding:
      clouding.risk === 'none'
        ? null
        : `${clouding.what.map((w) => w.words).join(' and ')} ${clouding.risk === 'sure' ? 'will' : 'may'} drop out of it: a cloud`,
  };
}

/** Acid or alkali to the middle of the window, from the first fitting product with a label. */
async function doseFor(manager: EntityManager, { batch, session }: ReplayedBatch, now: Composition, ph: number, ppm: (ec: number) => number) {
  if (ph >= batch.phLow && ph <= batch.phHigh) return null;
  const direction = ph > batch.phHigh ? 'down' : 'up';
  const products = await manager.query<Product[]>('SELECT * FROM product WHERE kind = ? AND retiredOn IS NULL ORDER BY position', [
    direction === 'down' ? 'acid' : 'base',
  ]);
  for (const product of products) {
    const label = labelOf(product);
    if (!label) continue;
    const targetPh = (batch.phLow + batch.phHigh) / 2;
    const dose = doseToPh(now, label.perUnit, targetPh, direction);
    if (!dose.ok) continue;
    return {
      productId: product.id,
      ml: dose.mlPerL * session.volumeL,
      targetPh,
      ph: dose.stirred.ph,
      ppm: ppm(dose.stirred.ecUsCm),
      tomorrowPh: dose.standing.ph,
      brings: bringsWords(dose.brings),
    };
  }
  return null;
}

function bringsWords(e: Elements): string {
  const parts: [number, string][] = [
    [e.N, 'nitrogen'],
    [e.P, 'phosphorus'],
    [e.K, 'potassium'],
    [e.Na, 'sodium'],
    [e.Si, 'silicon'],
  ];
  const said = parts.filter(([mg]) => mg >= 0.05).map(([mg, words]) => `${mg < 10 ? mg.toFixed(1) : Math.round(mg)} mg/L ${words}`);
  return said.join(', ');
}

/** Main elements of a feed at a net aim. The reading fixes how much of its ions is in the water, whatever the bottle's strength. */
export function aimBringsOf(product: Product, netEcUsCm: number): BatchView['aimBrings'] {
  const label = labelOf(product);
  if (!label || !(label.ecPerUnitL > 0)) return null;
  const times = netEcUsCm / label.ecPerUnitL;
  return (['N', 'P', 'K', 'Ca', 'Mg', 'Si'] as const)
    .filter((e) => label.elements[e] > 0)
    .map((e) => ({ element: ELEMENT_WORDS[e], mgL: label.elements[e] * times }));
}

/** What a poured batch conducts after its acid, µS/cm; null where that cannot be told, or nothing of the kind went in. */
export async function afterAcidOf(manager: EntityManager, replayed: ReplayedBatch, meters: Meters): Promise<number | null> {
  if (replayed.session.corrections === 0 || replayed.session.awaitingReading) return null;
  const found = await chemistryOf(manager, replayed, meters);
  if (!found.known) return null;
  const after = solve(found.bare);
  return after.ok ? after.ecUsCm : null;
}

function labelOf(product: Product): ReadLabel | undefined {
  if (product.analysis === null) return undefined;
  const read = readLabel(JSON.parse(product.analysis) as LabelFigures);
  return read.ok ? read : undefined;
}

/** A water by all that is known of it: its analysis or kit, the reading at this mix, the last pH read of it by itself. */
export async function waterOf(manager: EntityManager, waterId: string, baseEcUsCm: number | undefined, meters: Meters): Promise<KnownWater | undefined> {
  if (baseEcUsCm === undefined) return undefined;
  const water = await manager.getRepository<Water>('water').findOneByOrFail({ id: waterId });
  const test = water.known === null ? null : (JSON.parse(water.known) as WaterKnown);
  const readings = await manager.query<{ ph: string; meterId: string | null; at: string }[]>(
    `SELECT json_extract(payload, '$.ph') AS ph, json_extract(payload, '$.phMeterId') AS meterId, at FROM care_event
     WHERE kind = 'waterRead' AND voidedBy IS NULL AND json_extract(payload, '$.waterId') = ? AND json_extract(payload, '$.ph.kind') <> 'notMeasured' ORDER BY at DESC LIMIT 10`,
    [waterId],
  );
  const sound = readings.find((r) => !isTainted(meters.get(r.meterId ?? ''), r.at));
  const ph = sound ? (readingMiddle(JSON.parse(sound.ph) as Reading) ?? null) : null;
  const signs = { ecUsCm: baseEcUsCm, ph, kind: water.kind };
  // What contradicts the reading is let go by, one after the other: the pH first, then the test.
  for (const [known, seen] of [
    [test, signs],
    [test, { ...signs, ph: null }],
    [null, { ...signs, ph: null }],
  ] as const) {
    const made = waterFromTest(known, seen);
    if (made.ok) return made;
  }
  return undefined;
}
