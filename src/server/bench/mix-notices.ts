import type { EntityManager } from 'typeorm';
import type { BeforeStart, StartBatchRead } from '../../contract/bench.ts';
import { plusDays } from '../../core/regimen/index.ts';
import {
  addComposition,
  composition,
  elementsOf,
  MOLAR,
  PRODUCT_KIND,
  type Composition,
} from '../../core/solution/index.ts';
import { labelOf, rowsFor } from '../collection/index.ts';
import type { Water } from '../database/entities.ts';
import type { PlannedPart } from './parts.ts';

/* What the mix itself asks to be minded: what it lacks, what stays too long, what is given for the first time. */

type Notice = BeforeStart['notices'][number];
const mind = (words: string): Notice => ({ level: 'mind', about: 'product', words });
const fine = (words: string): Notice => ({ level: 'fine', about: 'product', words });

/** Under so much of both, mg/L, a feed on still water leaves the pot without calcium and magnesium. House rule. */
const LEAST_CA_MG = 5;
/** Silica that stays in a pot: practice ends at the soak's usual dose, mg/L of SiO2. */
export const MOST_SIO2_STAYING = 64;
/** A kind of soak not given for so many days begins its season. */
const SEASON_APART_DAYS = 90;

/** @returns what should be known before these parts go into this water */
export function mixNotices(
  manager: EntityManager,
  parts: readonly PlannedPart[],
  request: StartBatchRead,
  water: Water,
  today: string,
): Notice[] {
  return [
    ...lacking(parts, request, water),
    ...silicaStaying(parts, request),
    ...notForHydroponics(parts, request),
    ...firstOfSeason(manager, parts, request, today),
  ];
}

/** What all parts bring together, mmol/L; undefined where a label is not known. */
function broughtBy(parts: readonly PlannedPart[]): Composition | undefined {
  let sum = composition({});
  for (const { product, unitsPerL } of parts) {
    const label = labelOf(product);
    if (!label) return undefined;
    sum = addComposition(sum, label.perUnit, unitsPerL);
  }
  return sum;
}

function lacking(parts: readonly PlannedPart[], { use }: StartBatchRead, water: Water): Notice[] {
  const pure = water.kind === 'still' || water.kind === 'rain';
  const brought = use === 'feed' && pure && parts.length > 0 ? broughtBy(parts) : undefined;
  if (!brought) return [];
  const { Ca, Mg } = elementsOf(brought);
  const none = [
    ...(Ca < LEAST_CA_MG ? ['calcium'] : []),
    ...(Ca < LEAST_CA_MG && Mg < LEAST_CA_MG ? ['magnesium'] : []),
  ];
  return none.length === 0
    ? []
    : [
        mind(
          `By its labels this brings hardly any ${none.join(' or ')}, and so pure a water has none: put calcium–magnesium in before the feed, or give it in turn.`,
        ),
      ];
}

function silicaStaying(parts: readonly PlannedPart[], { use, holdMinutes }: StartBatchRead): Notice[] {
  if (use === 'spray' || use === 'water' || (use === 'soak' && holdMinutes !== null)) return [];
  return parts.flatMap(({ product, unitsPerL }) => {
    const label = product.kind === 'silicate' ? labelOf(product) : undefined;
    const silica = label ? MOLAR.SiO2 * label.perUnit.SiO2 * unitsPerL : 0;
    return silica > MOST_SIO2_STAYING
      ? [
          mind(
            `That is about ${Math.round(silica)} mg/L of silica, and it stays in the pot: more than that slowed growth. As a soak that is drained it would be usual.`,
          ),
        ]
      : [];
  });
}

function notForHydroponics(parts: readonly PlannedPart[], { use }: StartBatchRead): Notice[] {
  if (use !== 'feed') return [];
  return parts.flatMap(({ product, known }) => {
    if (product.kind !== 'feed' || product.hydroponics === 'yes') return [];
    if (product.hydroponics === 'no')
      return [
        mind(
          `${product.name} is not made for growing without soil, by its label: urea and ammonium in it wait for soil life. Half of it, and read what comes out.`,
        ),
      ];
    return known.batches === 0
      ? [
          fine(
            `The label of ${product.name} says nothing of growing without soil: read what comes out in the first weeks.`,
          ),
        ]
      : [];
  });
}

function firstOfSeason(
  manager: EntityManager,
  parts: readonly PlannedPart[],
  { use }: StartBatchRead,
  today: string,
): Notice[] {
  if (use !== 'soak') return [];
  return parts.flatMap(({ product }) => {
    const [last] = rowsFor(manager)<{ on: string | null }>(
      `SELECT max(b.startedOn) AS "on" FROM batch b JOIN batch_part p ON p.batchId = b.id JOIN bottle o ON o.id = p.bottleId
         WHERE o.productId = ? AND b.use = 'soak' AND b.status = 'poured' AND b.startedOn <= ?`,
      product.id,
      today,
    );
    const since = plusDays(today, -SEASON_APART_DAYS);
    if (last?.on != null && last.on >= since) return [];
    const strong =
      product.kind === 'silicate' ? ' Of silicate a first dose of up to 100 mg/L is usual, 32 to 64 after it.' : '';
    return [
      fine(
        `The first soak with ${PRODUCT_KIND[product.kind].words} ${last?.on == null ? 'in this collection' : 'of this season'}: try it on a few pots, and look at them after a week.${strong}`,
      ),
    ];
  });
}
