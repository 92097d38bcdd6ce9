import type { EntityManager } from 'typeorm';
import { recipe as recipeShape } from '../../contract/shelf.ts';
import { UNKNOWN_AT_LABEL_EC, type FeedDose, type FeedWhat, type Regimen } from '../../core/regimen/index.ts';
import { bottleStrength, doseALitre, UNLABELLED_EC_PER_ML_L } from '../../core/strength/index.ts';
import type { Bottle, Product, ToolRow } from '../database/entities.ts';
import { readJson } from '../database/read-json.ts';
import { beliefBefore } from './batch-replay.ts';
import { rowsFor } from './holder.ts';
import type { Meters } from './meters.ts';

/** So much in so much water that nobody read a pen in: the label's own dose, mL (g) a litre. */
export function labelDoseOf(
  { recipe: kept }: Product,
  tools: ReadonlyMap<string, Pick<ToolRow, 'dropsPerMl' | 'kind' | 'capacityMl'>>,
): number | undefined {
  const recipe = readJson(recipeShape, kept);
  if (!recipe || recipe.readsPpm !== null) return undefined;
  const tool = tools.get(recipe.toolId ?? '');
  return doseALitre({
    ...recipe,
    dropsPerMl: tool?.dropsPerMl ?? null,
    spoonMl: tool?.kind === 'spoon' ? tool.capacityMl : null,
  });
}

/**
 * A regimen with what each of its doses comes to by what is known now of the bottle in use: net µS/cm, a thought that stands until the regimen
 * is next kept. Waterings mixed to a strength stay as they are.
 */
export function withDosesReckoned(manager: EntityManager, regimen: Regimen, at: string, meters: Meters): Regimen {
  return {
    ...regimen,
    feeds: regimen.feeds.map((feed) =>
      feed.dose ? { ...feed, netEcUsCm: comesTo(manager, feed.what, feed.dose, at, meters) } : feed,
    ),
  };
}

function comesTo(manager: EntityManager, what: FeedWhat, dose: FeedDose, at: string, meters: Meters): number {
  const kind = what === 'calmag' ? 'calmag' : 'feed';
  const [bottle] = rowsFor(manager)<Pick<Bottle, 'id' | 'productId'>>(
    `SELECT b.id, b.productId FROM bottle b JOIN product p ON p.id = b.productId
     WHERE b.finishedOn IS NULL AND p.retiredOn IS NULL AND p.kind = ? ORDER BY b.position LIMIT 1`,
    kind,
  );
  const product = bottle && rowsFor(manager)<Product>('SELECT * FROM product WHERE id = ?', bottle.productId)[0];
  const tools = new Map(rowsFor(manager)<ToolRow>('SELECT * FROM tool').map((tool) => [tool.id, tool]));
  const whole = product && labelDoseOf(product, tools);
  const unitsPerL = dose.by === 'perL' ? dose.units : whole === undefined ? undefined : whole * dose.share;
  if (unitsPerL === undefined) return UNKNOWN_AT_LABEL_EC * shareOf(dose);
  const strength = product
    ? bottleStrength(beliefBefore(manager, product, bottle.id, at, meters).belief).ecPerMlL
    : UNLABELLED_EC_PER_ML_L;
  return unitsPerL * strength;
}

const shareOf = (dose: FeedDose) => (dose.by === 'label' ? dose.share : 1);
