import type { EntityManager } from 'typeorm';
import type { PhChoice } from '../../contract/bench.ts';
import { ALKALI_CAUTION } from '../../contract/cautions.ts';
import {
  bringsWords,
  lastsWords,
  decidePh,
  hypothesesOf,
  wholeDose,
  type PhSituation,
} from '../../core/correction/index.ts';
import { phSide, upperFirst } from '../../core/quantity/index.ts';
import {
  alkalinityMeqL,
  elementsOf,
  isLemon,
  MOLAR,
  pourRisk,
  scaleComposition,
  type Composition,
} from '../../core/solution/index.ts';
import { dosingOf, type Tool } from '../../core/strength/index.ts';
import type { Product } from '../database/entities.ts';
import { MOST_SIO2_STAYING } from './mix-notices.ts';
import { type Chemistry, labelOf, type ReplayedBatch, rowsFor } from '../collection/index.ts';

/** Every acid (or alkali) on the Shelf that leads from a pH towards the window, best first, with what the coach would put in of each. */
export function phChoices(
  manager: EntityManager,
  replayed: ReplayedBatch,
  ph: number | undefined,
  found: Chemistry | { known: false },
  tools: readonly Tool[],
  ppm: (ec: number) => number,
): PhChoice[] {
  const { batch } = replayed;
  const side = ph === undefined ? 'inside' : phSide(ph, { low: batch.phLow, high: batch.phHigh });
  if (side === 'inside') return [];
  const direction = side === 'above' ? 'down' : 'up';
  const products = rowsFor(manager)<Product>(
    'SELECT * FROM product WHERE kind = ? AND retiredOn IS NULL ORDER BY position',
    direction === 'down' ? 'acid' : 'base',
  );
  const choices = [
    ...products.map((product) => choiceOf(replayed, product, direction, found, tools, ppm)),
    ...(direction === 'up' ? bySilicate(manager, replayed, found, tools, ppm) : []),
  ];
  // Who began with one goes on with it, if it leads the same way.
  const used = lastCorrection(replayed)?.productId;
  return choices.sort((a, b) => Number(b.productId === used) - Number(a.productId === used) || rankOf(a) - rankOf(b));
}

/** Potassium silicate lifts pH by a drop, where silica belongs in the mix and there is room for it. */
function bySilicate(
  manager: EntityManager,
  replayed: ReplayedBatch,
  found: Chemistry | { known: false },
  tools: readonly Tool[],
  ppm: (ec: number) => number,
): PhChoice[] {
  const { batch, parts, session } = replayed;
  const wanted = batch.use === 'feed' || parts.some((p) => p.product.kind === 'silicate');
  if (!wanted || !found.known) return [];
  const there = found.before.total;
  const products = rowsFor(manager)<Product>(
    `SELECT * FROM product WHERE kind = 'silicate' AND retiredOn IS NULL ORDER BY position`,
  );
  return products.flatMap((product) => {
    const label = labelOf(product);
    if (!label || alkalinityMeqL(label.perUnit) <= 0) return [];
    const choice = choiceOf(replayed, product, 'up', found, tools, ppm);
    if (choice.wholeMl === null) return [];
    const silica = MOLAR.SiO2 * (there.SiO2 + (label.perUnit.SiO2 * choice.wholeMl) / session.volumeL);
    if (silica > MOST_SIO2_STAYING) return [];
    const risk = pourRisk(there, scaleComposition(label.perUnit, 1 / (choice.dose?.ratio ?? 1)));
    return [
      {
        ...choice,
        caution: choice.caution || ALKALI_CAUTION,
        warning: risk.words
          ? `${upperFirst(risk.words)} where it is poured in: well thinned, and stir.`
          : choice.warning,
      },
    ];
  });
}

/** No warning before one; a known dose before none. */
function rankOf(choice: PhChoice): number {
  return (choice.dose ? 0 : 2) + (choice.warning ? 1 : 0);
}

function choiceOf(
  replayed: ReplayedBatch,
  product: Product,
  direction: 'down' | 'up',
  found: Chemistry | { known: false },
  tools: readonly Tool[],
  ppm: (ec: number) => number,
): PhChoice {
  const { batch, session } = replayed;
  const label = labelOf(product);
  const choice: PhChoice = {
    productId: product.id,
    name: product.name,
    direction,
    caution: product.caution,
    wholeMl: null,
    brings: '',
    lasts: label ? lastsWords(label.perUnit) : '',
    warning: label ? warningOf(label.perUnit, batch.use) : null,
    dose: null,
    why: null,
  };
  if (!label) return { ...choice, why: `How strong ${product.name} is nobody knows: copy its label on the Shelf.` };
  if (!found.known) return { ...choice, why: 'The chemistry of this batch is not known.' };
  const thinned = thinnedAlready(replayed, product.id);
  const situation: PhSituation = {
    total: found.before.total,
    alkalinitySd: found.alkalinitySd,
    responseSd: found.responseSdTo(label.perUnit),
    carbonateSd: found.carbonateSd,
    volumeL: session.volumeL,
    window: { low: batch.phLow, high: batch.phHigh },
    seen: found.seen,
    stirred: found.stirred,
    correctionsUsed: session.corrections,
    perMl: label.perUnit,
    direction,
    tools,
    ...(thinned === undefined ? {} : { thinned }),
  };
  const ways = hypothesesOf(situation);
  const whole = wholeDose(situation, (batch.phLow + batch.phHigh) / 2, ways);
  if ('message' in whole) return { ...choice, why: whole.message };
  const brings = bringsWords(elementsOf(scaleComposition(label.perUnit, whole.ml / session.volumeL)));
  const decision = decidePh(situation, ways);
  const known = {
    ...choice,
    wholeMl: whole.ml,
    brings,
    warning: soakWarning(label.perUnit, batch.use, brings) ?? choice.warning,
  };
  if (decision.kind === 'outside') return { ...known, why: decision.message };
  if (decision.kind !== 'dose') return known;
  const tool = tools.find((t) => t.id === decision.dose.toolId)!;
  return {
    ...known,
    dose: {
      ml: decision.ml,
      ratio: decision.ratio,
      asBefore: thinned !== undefined,
      ...dosingOf(decision.dose, tool),
      expected: decision.expected,
      inWindow: decision.inWindow,
      ppm: ppm(decision.ecUsCm),
      tomorrowPh: decision.tomorrowPh,
      coarse: decision.coarse,
    },
  };
}

/** What stands thinned on the bench since the last correction is measured from again. */
function thinnedAlready({ events }: ReplayedBatch, productId: string): number | undefined {
  const last = events.findLast((e) => e.kind === 'batchCorrection' && e.payload.productId === productId);
  return last?.kind === 'batchCorrection' && last.payload.ratio > 1 ? last.payload.ratio : undefined;
}

function lastCorrection({ events }: ReplayedBatch) {
  const last = events.findLast((e) => e.kind === 'batchCorrection');
  return last?.kind === 'batchCorrection' ? last.payload : undefined;
}

/** What else it brings that this use does not want. */
function warningOf(perMl: Composition, use: ReplayedBatch['batch']['use']): string | null {
  if (perMl.Na > 0) return 'Bicarbonate of soda brings sodium: not as a habit.';
  if (use === 'feed' && perMl.citrate + perMl.acetate > 0)
    return 'In a feed that stays it is gone in days, and the pH climbs back.';
  return null;
}

/** What a kitchen acid or alkali puts into a soak beside its own purpose, in figures. */
function soakWarning(perMl: Composition, use: ReplayedBatch['batch']['use'], brings: string): string | null {
  if (use !== 'soak' || brings === '') return null;
  if (isLemon(perMl)) return `Lemon juice brings ${brings} into a soak meant to be one thing only.`;
  return perMl.Na > 0 ? `Bicarbonate of soda brings ${brings} into a soak meant to be one thing only.` : null;
}
