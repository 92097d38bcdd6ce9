import type { EntityManager } from 'typeorm';
import type { StartBatchRead } from '../../contract/bench.ts';
import type { FieldProblem } from '../../contract/errors.ts';
import { composition, judgeOrder, PURE_WATER, recommendOrder, type Addition } from '../../core/solution/index.ts';
import {
  aimWithin,
  bottleStrength,
  countableInGranules,
  planSpoonStock,
  planStock,
  stockServes,
  thinningRatio,
  thinningToMeasure,
  tooFineForPen,
  USUAL_PEN,
  type Aim,
  type Tool,
  type UseRule,
} from '../../core/strength/index.ts';
import type { BatchPart, Bottle, Product, ToolRow } from '../database/entities.ts';
import { BATCHES_OF_A_LARGE_STOCK } from '../../contract/bench.ts';
import { keepAim, resolveAim } from './aims.ts';
import {
  basesOf,
  beliefBefore,
  isSolid,
  isStrengthKnown,
  type Known,
  labelOf,
  type MadeStock,
  type Meters,
  runOver,
  stockLeft,
  waterOf,
  rowsFor,
} from '../collection/index.ts';

export type PlannedPart = {
  row: Omit<BatchPart, 'batchId' | 'knownAfter' | 'id'>;
  product: Product;
  bottle: Bottle;
  known: Known;
  unitsPerL: number;
};
type Asked = StartBatchRead['parts'][number];
type Planning = {
  manager: EntityManager;
  request: StartBatchRead;
  rule: UseRule;
  scale: number;
  tools: readonly Tool[];
  meters: Meters;
  at: string;
  on: string;
};

/** µS/cm aimed at by a dose given by measure, with a tenth either way: for the size of a stock. */
const MEASURED_BAND = { in: 'share', below: 0.1, above: 0.1, hard: 0.2 } as const;

/**
 * The parts of a batch as they will go in: each with its band, its thinning or stock, in the order with the least risk of a cloud.
 * @returns the parts in order, or what is wrong with which of them
 */
export function planParts(planning: Planning): { parts: PlannedPart[] } | { errors: FieldProblem[] } {
  const { request } = planning;
  const errors: FieldProblem[] = [];
  const parts: PlannedPart[] = [];
  for (const [i, asked] of request.parts.entries()) {
    const planned = planPart(planning, asked, i);
    if ('path' in planned) errors.push(planned);
    else if (parts.some((p) => p.product.id === planned.product.id))
      errors.push({
        path: `parts.${i}.bottleId`,
        message: `${planned.product.name} stands twice: add its amounts up.`,
      });
    else parts.push(planned);
  }
  if (errors.length > 0) return { errors };
  return { parts: inOrder(planning, parts) };
}

function planPart(planning: Planning, asked: Asked, i: number): PlannedPart | FieldProblem {
  const { manager, scale, meters, at, on } = planning;
  const problem = (field: string, message: string): FieldProblem => ({ path: `parts.${i}.${field}`, message });
  const found = productOf(manager, asked.bottleId, on);
  if ('message' in found) return problem('bottleId', found.message);
  const { bottle, product } = found;
  const aim = keepAim(asked.aim, scale);
  const resolved = resolveAim(aim, product);
  if ('message' in resolved) return problem('aim', resolved.message);
  const solid = isSolid(product) ? asked.solid : undefined;
  const made = solid === 'made' ? stockLeft(manager, bottle.id, on) : undefined;
  if (solid === 'made' && !made)
    return problem('solid', `Nothing is left of an earlier stock of ${product.name}: make a fresh one.`);
  const source = made?.source ?? freshSource(solid, bottle.id, at);
  const known = beliefBefore(manager, product, source, at, meters);
  const strength = bottleStrength(known.belief).ecPerMlL;
  const amount = amountOf(planning, resolved, product, known, strength);
  if ('message' in amount) return problem('aim', amount.message);
  const { byPen, unitsPerL, band } = amount;
  const how = wayOf(planning, { solid, made, byPen, strength, unitsPerL, band });
  if ('message' in how) return problem('aim', how.message);
  const row = {
    position: i,
    bottleId: bottle.id,
    source,
    asked: JSON.stringify(aim),
    ...(byPen ? { ...ecFields(band), unitsPerL: null } : { ...NO_EC_FIELDS, unitsPerL }),
    ...how,
    reason: '',
    risk: 'none' as const,
    riskWords: null,
  };
  return { product, bottle, known, unitsPerL, row };
}

/** How much of it a litre takes, and whether the pen tells when it is there or it is measured out. */
function amountOf(
  { request, rule }: Planning,
  resolved: { netEcUsCm: number } | { unitsPerL: number },
  product: Product,
  known: Known,
  strength: number,
): { byPen: boolean; unitsPerL: number; band: Aim } | { message: string } {
  if (!('netEcUsCm' in resolved)) return measuredOut(product, resolved.unitsPerL, strength);
  const unitsPerL = resolved.netEcUsCm / strength;
  if (request.ppmMeterId !== null) return { byPen: true, unitsPerL, band: aimWithin(resolved.netEcUsCm, rule.band) };
  return isStrengthKnown(product) || known.batches > 0
    ? measuredOut(product, unitsPerL, strength)
    : { message: WITHOUT_PEN(product.name) };
}

function measuredOut(product: Product, unitsPerL: number, strength: number) {
  const over = overTopDose(product, unitsPerL);
  return over ? { message: over } : { byPen: false, unitsPerL, band: aimWithin(unitsPerL * strength, MEASURED_BAND) };
}

const WITHOUT_PEN = (name: string) =>
  `How strong ${name} is nobody knows yet: give the dose its label says, in mL a litre, or put the label’s figures on the Shelf.`;

/** Each making-up of a stock is a new one to learn; granules are the product itself. */
const freshSource = (solid: Asked['solid'] | undefined, bottleId: string, at: string) =>
  solid && solid !== 'granules' ? `stock:${at}:${bottleId}` : bottleId;

function overTopDose({ name, topDoseMlL }: Product, unitsPerL: number): string | undefined {
  if (topDoseMlL === null || unitsPerL <= topDoseMlL * 1.001) return undefined;
  return `${name} has a top dose of ${topDoseMlL} a litre, and this is ${Number(unitsPerL.toFixed(2))}. Give less.`;
}

/** What is in the bottle that was chosen; why it cannot go in. */
function productOf(
  manager: EntityManager,
  bottleId: string,
  on: string,
): { bottle: Bottle; product: Product } | { message: string } {
  const bottle = rowsFor(manager)<Bottle>('SELECT * FROM "bottle" WHERE id = ?', bottleId)[0];
  const product = bottle && rowsFor(manager)<Product>('SELECT * FROM "product" WHERE id = ?', bottle.productId)[0];
  if (!bottle || !product || product.kind === 'acid' || product.kind === 'base')
    return { message: 'Choose a product.' };
  const over = runOver(manager, bottle, product, on);
  if (!over) return { bottle, product };
  return {
    message: `${product.name} slows growth, and its run of ${product.longestDays} days was over on ${over}. It rests for a fortnight: choose another.`,
  };
}

const ecFields = ({ netEcUsCm, lowEcUsCm, highEcUsCm, hardEcUsCm }: Aim) => ({
  netEcUsCm,
  lowEcUsCm,
  highEcUsCm,
  hardEcUsCm,
});
const NO_EC_FIELDS = { netEcUsCm: null, lowEcUsCm: null, highEcUsCm: null, hardEcUsCm: null };

/** How a part is measured: as granules or a stock, as it is or thinned. */
function wayOf(
  { manager, request: { volumeL }, tools }: Planning,
  {
    solid,
    made,
    byPen,
    strength,
    unitsPerL,
    band,
  }: {
    solid: Asked['solid'] | undefined;
    made: MadeStock | undefined;
    byPen: boolean;
    strength: number;
    unitsPerL: number;
    band: Aim;
  },
): Way | { message: string } {
  if (made) return madeWay(made, strength, volumeL, band, tools);
  if (solid) return solidWay(solid, strength, volumeL, band, tools, finestScaleG(manager) ?? smallestSpoon(manager));
  return liquidWay(
    byPen ? thinningRatio(strength, volumeL, band, tools) : thinningToMeasure(unitsPerL * volumeL, tools),
  );
}

/** Whether a part comes from a stock made for an earlier batch. */
export function madeEarlier({ stock }: Pick<BatchPart, 'stock'>): boolean {
  return stock !== null && 'madeOn' in (JSON.parse(stock) as object);
}

type Way = Pick<BatchPart, 'method' | 'mlPerUnit' | 'stock'>;

function liquidWay(ratio: number): Way {
  return { method: ratio > 1 ? 'thinned' : 'plain', mlPerUnit: ratio, stock: null };
}

function solidWay(
  wanted: Asked['solid'],
  strength: number,
  volumeL: number,
  band: Aim,
  tools: readonly Tool[],
  by: number | SpoonAtHand | undefined,
): Way | { message: string } {
  const countable = countableInGranules(strength, volumeL, band);
  if (wanted === 'granules') {
    if (countable) return { method: 'granules', mlPerUnit: 1, stock: null };
    return {
      message: 'Too many to count, or one alone would be too much. Weigh it into a stock, or change the litres.',
    };
  }
  const batches = wanted === 'large' ? BATCHES_OF_A_LARGE_STOCK : 1;
  const stock = by === undefined ? undefined : stockBy(by, strength, volumeL, band, tools, batches);
  if (stock) return { method: 'stock', mlPerUnit: stock.waterMl / stock.grams, stock: JSON.stringify(stock) };
  const instead = countable ? ' Or count it in granules.' : '';
  if (by === undefined) {
    return {
      message: `A solid is weighed, or measured by the level spoon, into hot water first: put a scale or a spoon of known size on the Shelf.${instead}`,
    };
  }
  return {
    message: `No stock of it can be weighed and measured for so much water. Choose a finer syringe, or other litres.${instead}`,
  };
}

/** From a stock made earlier, as long as it lasts. */
function madeWay(
  made: MadeStock,
  strength: number,
  volumeL: number,
  band: Aim,
  tools: readonly Tool[],
): Way | { message: string } {
  const { grams, waterMl, madeOn, leftMl } = made;
  if (!stockServes(made, leftMl, strength, volumeL, band, tools))
    return {
      message: `Some ${Math.round(leftMl)} mL of the stock are left: too little of it, or too strong to measure for this. Make a fresh one.`,
    };
  return {
    method: 'stock',
    mlPerUnit: waterMl / grams,
    stock: JSON.stringify({ grams, waterMl, madeOn, leftMl: Math.round(leftMl) }),
  };
}

type SpoonAtHand = { readonly name: string; readonly holdsMl: number };

/** Weighed; for want of a scale by the level spoon. */
function stockBy(
  by: number | SpoonAtHand,
  strength: number,
  volumeL: number,
  band: Aim,
  tools: readonly Tool[],
  batches: number,
) {
  if (typeof by === 'number') return planStock(strength, volumeL, band, tools, by, batches);
  const stock = planSpoonStock(strength, volumeL, band, tools, by.holdsMl, batches);
  return stock && { ...stock, spoon: by.name };
}

function smallestSpoon(manager: EntityManager): SpoonAtHand | undefined {
  const [spoon] = rowsFor(manager)<SpoonAtHand>(
    `SELECT name, capacityMl AS holdsMl FROM tool WHERE kind = 'spoon' AND retiredOn IS NULL AND capacityMl IS NOT NULL ORDER BY capacityMl LIMIT 1`,
  );
  return spoon;
}

function finestScaleG(manager: EntityManager): number | undefined {
  const scales = rowsFor(manager)<ToolRow>(
    `SELECT * FROM tool WHERE kind = 'scale' AND retiredOn IS NULL AND stepG IS NOT NULL ORDER BY stepG LIMIT 1`,
  );
  return scales[0]?.stepG ?? undefined;
}

/** A pinch on top of much is measured out: the pen cannot tell it. @param reads before it, µS/cm */
function byMeasureWhereSurer(part: PlannedPart, reads: number): PlannedPart & { surer?: string } {
  const { row, known } = part;
  if (row.netEcUsCm === null) return part;
  const aim: Aim = {
    netEcUsCm: row.netEcUsCm,
    lowEcUsCm: row.lowEcUsCm!,
    highEcUsCm: row.highEcUsCm!,
    hardEcUsCm: row.hardEcUsCm!,
  };
  const { ecPerMlL, sd } = bottleStrength(known.belief);
  if (!tooFineForPen(aim, reads + aim.netEcUsCm, sd / ecPerMlL, USUAL_PEN)) return part;
  return {
    ...part,
    surer: 'too little for the pen to tell on top of the rest, so by measure',
    row: { ...row, netEcUsCm: null, lowEcUsCm: null, highEcUsCm: null, hardEcUsCm: null, unitsPerL: part.unitsPerL },
  };
}

const ownReason = (why: string) => `in your order: ${why}`;

/** In the order with the least risk of a cloud, each with its reason; or as the grower wants it, with what that risks. */
function inOrder({ manager, request, meters }: Planning, parts: PlannedPart[]): PlannedPart[] {
  const base = basesOf(manager, meters).get(request.waterId);
  const water = waterOf(manager, request.waterId, base, meters);
  const additions: Addition[] = parts.map((p, i) => ({
    id: String(i),
    name: p.product.name,
    kind: p.product.kind,
    perUnit: labelOf(p.product)?.perUnit ?? composition({}),
    doseMlL: p.unitsPerL,
  }));
  const there = water?.composition ?? PURE_WATER;
  const { order, steps } =
    request.ownOrder === null
      ? recommendOrder(there, additions)
      : {
          order: additions,
          steps: judgeOrder(there, additions).map((s) => ({ ...s, reason: ownReason(request.ownOrder!) })),
        };
  let reads = base ?? 0;
  return order.map((addition, position) => {
    const part = byMeasureWhereSurer(parts[Number(addition.id)]!, reads);
    reads += part.row.netEcUsCm ?? part.unitsPerL * bottleStrength(part.known.belief).ecPerMlL;
    const step = steps[position]!;
    const reason = part.surer ? `${step.reason}; ${part.surer}` : step.reason;
    return { ...part, row: { ...part.row, position, reason, risk: step.risk.risk, riskWords: step.risk.words } };
  });
}
