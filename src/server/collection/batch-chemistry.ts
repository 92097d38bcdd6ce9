import type { EntityManager } from 'typeorm';
import type { BatchView } from '../../contract/bench.ts';
import type { CarePayload } from '../../contract/care.ts';
import { likelyStanding, responseSdOf, type PhSeen, type Stirred } from '../../core/correction/index.ts';
import { readingMiddle } from '../../core/quantity/index.ts';
import {
  cloudingOf,
  DKH_PER_MEQ,
  ELEMENT_WORDS,
  ELEMENTS,
  elementsOf,
  openDepthCm,
  phAfterHours,
  expectedBatch,
  solve,
  BOTTLED_SD,
  strengthSdOf,
  type Composition,
  type KnownWater,
  type ExpectedBatch,
  alkalinityMeqL,
} from '../../core/solution/index.ts';
import { sessionStrength, standingOf } from '../../core/strength/index.ts';
import type { Product } from '../database/entities.ts';
import type { ReplayedBatch } from './batch-replay.ts';
import { momentOf } from './batches.ts';
import { labelOf } from './label-of.ts';
import { phOffset, phSdOf, trustedPh, type KnownMeter, type Meters } from './meters.ts';
import { waterOf } from './while-writing.ts';
import { rowsFor } from './holder.ts';

/*
 * What the chemistry says of a batch: its pH and reading before any acid, and how it stands now. Never kept as a reading.
 */

type Unknown = { readonly known: false; readonly why: string };
export type Chemistry = {
  readonly known: true;
  readonly before: ExpectedBatch;
  readonly water: KnownWater;
  /** 1 SD of the alkalinity of it all, meq/L. */
  readonly alkalinitySd: number;
  readonly responseSd: number;
  /** The same with a dose of another acid to come. */
  readonly responseSdTo: (perMl: Composition) => number;
  /** 1 SD of the water's own carbonate, mmol/L. */
  readonly carbonateSd: number;
  readonly seen: readonly PhSeen[];
  readonly stirred: readonly Stirred[];
  /** With acids and alkalis that went in, put where the pH readings say. */
  readonly now: Composition;
  /** The same as if no pH had been read. */
  readonly bare: Composition;
};

/** How much less of a batch's alkali is taken for known after a reading that no dose explains. House rule. */
const ODD_WIDENS = 3;
/** Label's alkali that is not told, as a share of the charge it brings; see the core's expectedBatch. */
const LABEL_SHARE = 0.03;

/** The chemistry of a batch as it stands, or why there is none. */
export function chemistryOf(manager: EntityManager, replayed: ReplayedBatch, meters: Meters): Chemistry | Unknown {
  const { batch, session, parts } = replayed;
  const water = waterOf(manager, batch.waterId, session.baseEcUsCm, meters, momentOf(batch));
  if (!water) return { known: false, why: 'The pH can be told beforehand once the water was read.' };
  const inside = parts
    .map((part, i) => ({ part, totalMl: session.parts[i]?.totalMl ?? 0, index: i }))
    .filter(({ totalMl }) => totalMl > 0);
  const unlabelled = inside.find(({ part }) => !labelOf(part.product));
  if (unlabelled)
    return {
      known: false,
      why: `The pH can be told beforehand once the label of ${unlabelled.part.product.name} is on the Shelf.`,
    };
  if (parts.length > 0 && inside.length === 0) return { known: false, why: 'Nothing is in the water yet.' };
  // Each product so strong as the bench knows it to be against its label; the pen settles the sum.
  const products = inside.map(({ part, totalMl, index }) => {
    const label = labelOf(part.product)!;
    const units = totalMl / session.volumeL / part.row.mlPerUnit;
    const learned = (sessionStrength(session, index)?.ecPerMlL ?? 0) * part.row.mlPerUnit;
    const times =
      label.ecPerUnitL > 0 && learned > 0 && part.product.kind !== 'silicate' ? learned / label.ecPerUnitL : 1;
    return { perUnit: label.perUnit, doseMlL: units * times, gap: label.gap };
  });
  const read =
    !session.awaitingReading &&
    !session.unread &&
    session.lastReadingEcUsCm !== undefined &&
    session.baseEcUsCm !== undefined;
  const net = read
    ? session.lastReadingEcUsCm - session.baseEcUsCm
    : session.batch
      ? standingOf(session.batch).readingEcUsCm - (session.baseEcUsCm ?? 0)
      : null;
  const before = expectedBatch({
    water,
    products,
    netEcUsCm: products.length > 0 ? net : null,
    volumeL: session.volumeL,
  });
  if (!before.ok) return { known: false, why: before.message };
  const total = before.total;
  const charge = 2 * (total.Ca + total.Mg) + total.K + total.Na + total.NH4;
  // A reading that stood though it was questioned: something went otherwise than was said, and nobody knows what.
  const questioned = replayed.events.some(
    (e) => (e.kind === 'batchPh' || e.kind === 'batchCorrection') && e.payload.confirmedOdd,
  );
  const alkalinitySd = Math.hypot(water.alkalinitySd, LABEL_SHARE * charge) * (questioned ? ODD_WIDENS : 1);
  const { seen, stirred } = phSteps(manager, replayed, before, meters);
  const carbonateSd = water.alkalinitySd;
  const doubt = {
    // What a silicate brings answers too, and its label is known.
    alkalinityMeqL: Math.max(alkalinityMeqL(water.composition), alkalinityMeqL(total)),
    carbonate: total.CO2,
    sd: carbonateSd,
  };
  const responseSdTo = (perMl: Composition | undefined) =>
    responseSdOf(
      Math.max(BOTTLED_SD, ...[...stirred.map((dose) => dose.perMl), ...(perMl ? [perMl] : [])].map(strengthSdOf)),
      doubt,
    );
  const responseSd = responseSdTo(undefined);
  const known = { total, alkalinitySd, responseSd, carbonateSd, stirred };
  const now = likelyStanding({ ...known, seen });
  const bare = likelyStanding({ ...known, seen: [] });
  return { known: true, before, water, alkalinitySd, responseSd, responseSdTo, carbonateSd, seen, stirred, now, bare };
}

/** The pH readings with what had gone in by then, and all that went in. */
function phSteps(
  manager: EntityManager,
  { events, session, batch }: ReplayedBatch,
  before: ExpectedBatch,
  meters: Meters,
): { seen: PhSeen[]; stirred: Stirred[] } {
  let volumeL = batch.volumeL;
  const stirred: Stirred[] = [];
  const seen: PhSeen[] = [];
  const phMeter = batch.phMeterId === null ? undefined : meters.get(batch.phMeterId);
  for (const event of events) {
    if (event.kind === 'batchThinned') {
      const { pourOffL, addL } = event.payload;
      for (const [i, dose] of stirred.entries())
        stirred[i] = { ...dose, mlPerL: (dose.mlPerL * (volumeL - pourOffL)) / volumeL };
      volumeL += addL - pourOffL;
      // What was read before says nothing of the thinner batch.
      seen.length = 0;
    }
    if (event.kind !== 'batchPh' && event.kind !== 'batchCorrection') continue;
    if (event.kind === 'batchCorrection') {
      const dose = stirredBy(manager, event.payload, session.volumeL);
      if (dose) stirred.push(dose);
    }
    // From a reading that no dose explains the coach begins anew: what went before does not lead to it.
    if (event.payload.confirmedOdd) seen.length = 0;
    const reading = event.payload.reading;
    const ph = reading === null ? undefined : readingMiddle(reading);
    const trusted = ph === undefined ? undefined : trustedPh(ph, phMeter, event.at);
    if (trusted !== undefined && reading)
      seen.push({ ph: trusted, sd: phSdOf(reading, phMeter, before.ecUsCm), after: [...stirred] });
  }
  return { seen, stirred };
}

/** An acid or alkali as it is stirred into so many litres; undefined where its label is not known. */
export function stirredBy(
  manager: EntityManager,
  { productId, dose, ratio }: CarePayload<'batchCorrection'>,
  volumeL: number,
): Stirred | undefined {
  const product = rowsFor(manager)<Product>('SELECT * FROM "product" WHERE id = ?', productId)[0];
  const label = product && labelOf(product);
  return label ? { perMl: label.perUnit, mlPerL: dose.doseMl / ratio / volumeL } : undefined;
}

/** Where the batch stands by its last pH reading, put right by what the pen is known to be off; undefined before one. */
export function standsAtPh({ events, session }: ReplayedBatch, meter: KnownMeter | undefined): number | undefined {
  if (session.latestPh === undefined) return undefined;
  const last = events.findLast(
    (e) => (e.kind === 'batchPh' || e.kind === 'batchCorrection') && e.payload.reading !== null,
  );
  return session.latestPh - phOffset(meter, last?.at ?? '');
}

/** Hours after which a batch is read again. */
const A_QUARTER_H = 0.25;

/** For the bench. */
export function expectedView(
  found: Chemistry | Unknown,
  volumeL: number,
  ppm: (ec: number) => number,
): BatchView['expected'] {
  if (!found.known) return found;
  const { before, now, water } = found;
  const depthCm = openDepthCm(volumeL);
  const [standing, open] = [solve(now), phAfterHours(now, 24, depthCm)];
  if (!standing.ok || !open.ok)
    return { known: false, why: standing.ok ? 'It has no answer in open air.' : standing.message };
  const clouding = cloudingOf(standing);
  const quarter = phAfterHours(now, A_QUARTER_H, depthCm);
  const elements = elementsOf(now);
  return {
    known: true,
    before: {
      ph: before.ph,
      lowPh: before.lowPh,
      highPh: before.highPh,
      ppm: ppm(before.ecUsCm),
      tomorrowPh: before.tomorrowPh,
    },
    now: {
      ph: standing.ph,
      ppm: ppm(standing.ecUsCm),
      tomorrowPh: open.ph,
      inAQuarterPh: quarter.ok ? quarter.ph : standing.ph,
    },
    waterFrom: water.how,
    clouding:
      clouding.risk === 'none'
        ? null
        : `${clouding.what.map((w) => w.words).join(' and ')} ${clouding.risk === 'sure' ? 'will' : 'may'} drop out of it: a cloud`,
    inside: {
      elements: ELEMENTS.filter((e) => elements[e] >= 0.05).map((e) => ({
        element: ELEMENT_WORDS[e],
        symbol: e,
        mgL: elements[e],
      })),
      alkalinityMeqL: standing.alkalinityMeqL,
      dKh: standing.alkalinityMeqL * DKH_PER_MEQ,
    },
  };
}

/** Main elements that so many units (mL, g) in a litre bring by the label; null without one. */
export function bringsOf(product: Product, unitsPerL: number): { element: string; mgL: number }[] | null {
  const label = labelOf(product);
  if (!label) return null;
  return (['N', 'P', 'K', 'Ca', 'Mg', 'Si'] as const)
    .filter((e) => label.elements[e] > 0)
    .map((e) => ({ element: ELEMENT_WORDS[e], mgL: label.elements[e] * unitsPerL }));
}

/** Units a litre that a net reading stands for: the reading fixes how much of its ions is in the water, whatever the bottle's strength. */
export function unitsForNet(product: Product, netEcUsCm: number): number | undefined {
  const label = labelOf(product);
  return label && label.ecPerUnitL > 0 ? netEcUsCm / label.ecPerUnitL : undefined;
}

/** What a poured batch conducts after its acid, µS/cm; null where that cannot be told, or nothing of the kind went in. */
export function afterAcidOf(manager: EntityManager, replayed: ReplayedBatch, meters: Meters): number | null {
  if (replayed.session.corrections === 0 || replayed.session.awaitingReading) return null;
  const found = chemistryOf(manager, replayed, meters);
  if (!found.known) return null;
  const after = solve(found.bare);
  return after.ok ? after.ecUsCm : null;
}
