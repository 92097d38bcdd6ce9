import type { EntityManager } from 'typeorm';
import type { PhChoice } from '../../contract/bench.ts';
import {
  bringsWords,
  lastsWords,
  decidePh,
  hypothesesOf,
  wholeDose,
  type PhSituation,
} from '../../core/correction/index.ts';
import { phSide } from '../../core/quantity/index.ts';
import { elementsOf, isLemon, scaleComposition, type Composition } from '../../core/solution/index.ts';
import { dosingOf, type Tool } from '../../core/strength/index.ts';
import type { Product } from '../database/entities.ts';
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
  const choices = products.map((product) => choiceOf(replayed, product, direction, found, tools, ppm));
  // Who began with one goes on with it, if it leads the same way.
  const used = lastCorrection(replayed)?.productId;
  return choices.sort((a, b) => Number(b.productId === used) - Number(a.productId === used) || rankOf(a) - rankOf(b));
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
  const { batch, session, parts } = replayed;
  const label = labelOf(product);
  const choice: PhChoice = {
    productId: product.id,
    name: product.name,
    direction,
    caution: product.caution,
    wholeMl: null,
    brings: '',
    lasts: label ? lastsWords(label.perUnit) : '',
    warning: label ? warningOf(label.perUnit, batch.use, parts.length) : null,
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
  const known = { ...choice, wholeMl: whole.ml, brings };
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
function warningOf(perMl: Composition, use: ReplayedBatch['batch']['use'], parts: number): string | null {
  if (use === 'soak' && parts === 1 && isLemon(perMl))
    return 'Lemon juice brings potassium too: not for a soak meant to be one thing only.';
  if (perMl.Na > 0)
    return `Bicarbonate of soda brings sodium${use === 'soak' ? ' into a soak meant to be one thing only' : ''}: not as a habit.`;
  if (use === 'feed' && perMl.citrate + perMl.acetate > 0)
    return 'In a feed that stays it is gone in days, and the pH climbs back.';
  return null;
}
