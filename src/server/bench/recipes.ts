import type { EntityManager } from 'typeorm';
import { z } from 'zod';
import {
  partAim,
  recipePart,
  type RecipeAct,
  type RecipeBook,
  type RecipePart,
  type RecipeView,
} from '../../contract/recipes.ts';
import { ppmFromEc } from '../../core/quantity/index.ts';
import { ELEMENTS, type Element } from '../../core/solution/index.ts';
import { AppError, fieldError } from '../app-error.ts';
import type { Product, RecipeRow } from '../database/entities.ts';
import { readJson } from '../database/read-json.ts';
import { changeRecords, readRecord } from '../database/records.ts';
import { aimWords, keepAim, resolveAim, showAim, type KeptAim } from './aims.ts';
import { runOf } from './trust.ts';
import type { ActAt } from './start-batch.ts';
import { readRules, ruleOf, toRule } from './use-rules.ts';
import { growersScale, guessedStrength, labelOf, metersOf, rowsFor } from '../collection/index.ts';

type KeptPart = { productId: string; aim: KeptAim; solid: RecipePart['solid'] };
/** Batches of a recipe counted for how often it came out right. */
const COUNTED = 40;
/** As it is kept: aims over base as conductivity. */
const keptParts = z.array(
  recipePart.extend({ aim: z.union([z.object({ kind: z.literal('ec'), ecUsCm: z.number() }), partAim]) }),
) as z.ZodType<KeptPart[]>;

/** Recipes in the grower's order, those out of use last, and the rules of each use. */
export function readRecipeBook(manager: EntityManager): RecipeBook {
  const scale = growersScale(metersOf(manager));
  const rows = rowsFor(manager)<RecipeRow>('SELECT * FROM recipe ORDER BY retiredOn IS NOT NULL, position, name');
  const products = new Map(rowsFor(manager)<Product>('SELECT * FROM product').map((p) => [p.id, p]));
  const recipes: RecipeView[] = [];
  for (const row of rows) {
    const kept = readJson(keptParts, row.parts);
    // One that cannot be understood cannot be made: it stands aside, the others stand.
    if (!kept || kept.length === 0) continue;
    recipes.push({
      id: row.id,
      values: {
        name: row.name,
        use: row.use,
        parts: kept.map(({ productId, aim, solid }) => ({ productId, aim: showAim(aim, scale), solid })),
        waterId: row.waterId,
        phLow: row.phLow,
        phHigh: row.phHigh,
        holdMinutes: row.holdMinutes,
        note: row.note,
      },
      retiredOn: row.retiredOn,
      made: madeOf(manager, row.id),
      parts: kept.flatMap(({ productId, aim }) => {
        const product = products.get(productId);
        return product ? [{ productId, name: product.name, aimWords: aimWords(aim, scale, product) }] : [];
      }),
      brings: bringsOf(kept, products),
      netPpm: netOf(kept, products, scale),
    });
  }
  return { recipes, rules: readRules(manager, scale) };
}

function madeOf(manager: EntityManager, recipeId: string): RecipeView['made'] {
  const batches = rowsFor(manager)<{ id: string; startedOn: string }>(
    `SELECT id, startedOn FROM batch WHERE recipeId = ? AND status <> 'open' ORDER BY startedAt DESC LIMIT ${COUNTED}`,
    recipeId,
  );
  const made = { times: 0, right: 0, unread: 0, lastOn: batches[0]?.startedOn ?? null };
  for (const { id } of batches) {
    const run = runOf(manager, id);
    if (!run) continue;
    made.times++;
    if (run === 'right') made.right++;
    if (run === 'unread') made.unread++;
  }
  return made;
}

/** Units a litre of a part, by its label or its typed strength. */
function unitsOf(aim: KeptAim, product: Product): number | undefined {
  const resolved = resolveAim(aim, product);
  if ('message' in resolved) return undefined;
  if ('unitsPerL' in resolved) return resolved.unitsPerL;
  const label = labelOf(product);
  return resolved.netEcUsCm / (label && label.ecPerUnitL > 0 ? label.ecPerUnitL : guessedStrength(product));
}

function bringsOf(parts: readonly KeptPart[], products: ReadonlyMap<string, Product>): RecipeView['brings'] {
  const sum = new Map<Element, number>();
  for (const { productId, aim } of parts) {
    const product = products.get(productId);
    const label = product && labelOf(product);
    const units = product && unitsOf(aim, product);
    if (!label || units === undefined) return null;
    for (const element of ELEMENTS) sum.set(element, (sum.get(element) ?? 0) + label.elements[element] * units);
  }
  return [...sum].filter(([, mgL]) => mgL >= 0.05).map(([element, mgL]) => ({ element, mgL }));
}

/** What it should read over its water; null where a part given by measure has no known strength. */
function netOf(parts: readonly KeptPart[], products: ReadonlyMap<string, Product>, scale: number): number | null {
  let net = 0;
  for (const { productId, aim } of parts) {
    const product = products.get(productId);
    const resolved = product && resolveAim(aim, product);
    if (!resolved || 'message' in resolved) return null;
    if ('netEcUsCm' in resolved) net += resolved.netEcUsCm;
    else if (product.kind !== 'living') net += resolved.unitsPerL * guessedStrength(product);
  }
  return ppmFromEc(net, scale);
}

/**
 * One act on recipes and rules; everything of it can be taken back.
 * @throws AppError `not-found`, `invalid-request`
 */
export async function actOnRecipes(
  manager: EntityManager,
  eventId: string,
  act: RecipeAct,
  when: ActAt,
): Promise<{ repeated: boolean }> {
  const scale = growersScale(metersOf(manager));
  const change = (...[words, table, id, after]: Changed) =>
    changeRecords(manager, { eventId, when, group: 'Bench', words, changes: [{ table, id, after }] });
  switch (act.kind) {
    case 'put':
      return change(...(await putRecipe(manager, act, scale)));
    case 'retire':
    case 'bringBack': {
      const row = (await readRecord(manager, 'recipe', act.id)) as { name: string } | undefined;
      if (!row) throw new AppError('not-found', 'There is no such recipe.');
      const retire = act.kind === 'retire';
      return change(`${retire ? 'Put away' : 'Took up again'} the recipe ${row.name}`, 'recipe', act.id, {
        retiredOn: retire ? when.localDate : null,
      });
    }
    case 'rule':
      return change(`Changed what a ${act.use === 'water' ? 'plain water' : act.use} starts from`, 'use_rule', act.id, {
        use: act.use,
        since: when.at.toISOString(),
        rule: JSON.stringify(toRule(act.values, ruleOf(manager, act.use), scale)),
      });
  }
}

type Changed = [words: string, table: 'recipe' | 'use_rule', id: string, after: Record<string, string | number | null>];

async function putRecipe(
  manager: EntityManager,
  { id, values }: Extract<RecipeAct, { kind: 'put' }>,
  scale: number,
): Promise<Changed> {
  const before = await readRecord(manager, 'recipe', id);
  const [last] = rowsFor(manager)<{ position: number | null }>('SELECT max(position) AS position FROM recipe');
  for (const [i, part] of values.parts.entries()) {
    const product = rowsFor(manager)<Product>('SELECT * FROM "product" WHERE id = ?', part.productId)[0];
    const message = whyNoPart(product, part.aim, scale);
    if (message) throw fieldError(`parts.${i}`, message);
  }
  if (values.waterId !== null && !(await readRecord(manager, 'water', values.waterId)))
    throw fieldError('waterId', 'Choose one of the waters on the Shelf.');
  const parts: KeptPart[] = values.parts.map(({ productId, aim, solid }) => ({
    productId,
    aim: keepAim(aim, scale),
    solid,
  }));
  const after = {
    name: values.name,
    use: values.use,
    parts: JSON.stringify(parts),
    waterId: values.waterId,
    phLow: values.phLow,
    phHigh: values.phHigh,
    holdMinutes: values.holdMinutes,
    note: values.note,
    ...(before ? {} : { position: (last?.position ?? -1) + 1, retiredOn: null }),
  };
  return [`${before ? 'Changed' : 'Added'} the recipe ${values.name}`, 'recipe', id, after];
}

/** Why a product cannot be a part of a recipe with such an aim. */
function whyNoPart(
  product: Product | undefined,
  aim: Parameters<typeof keepAim>[0],
  scale: number,
): string | undefined {
  if (!product) return 'Choose a product.';
  if (product.kind === 'acid' || product.kind === 'base') return 'pH comes after the parts, at the bench.';
  return messageOf(resolveAim(keepAim(aim, scale), product));
}

function messageOf(resolved: ReturnType<typeof resolveAim>): string | undefined {
  return 'message' in resolved ? resolved.message : undefined;
}
