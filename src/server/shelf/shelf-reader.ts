import type { EntityManager } from 'typeorm';
import type { ShelfView } from '../../contract/shelf.ts';
import { ppmFromEc } from '../../core/quantity/index.ts';
import type { Bottle, Product, ToolRow, Vessel, Water } from '../database/entities.ts';
import {
  basesOf,
  canBeAtHand,
  growersScale,
  isDosingTool,
  isSolid,
  isStrengthKnown,
  labelDoseOf,
  metersOf,
  stockLeft,
  toToolView,
  rowsFor,
} from '../collection/index.ts';

/** Everything the bench can choose from, each water with the reading it last showed. */
export function readShelf(manager: EntityManager, today: string): ShelfView {
  const waters = rowsFor(manager)<Water>('SELECT * FROM water WHERE retiredOn IS NULL ORDER BY position');
  const vessels = rowsFor(manager)<Vessel>('SELECT * FROM vessel WHERE retiredOn IS NULL ORDER BY position');
  const products = rowsFor(manager)<Product>('SELECT * FROM product WHERE retiredOn IS NULL ORDER BY position');
  const bottles = rowsFor(manager)<Bottle>('SELECT * FROM bottle WHERE finishedOn IS NULL ORDER BY position');
  const tools = rowsFor(manager)<ToolRow>('SELECT * FROM tool WHERE retiredOn IS NULL ORDER BY position');
  const meters = metersOf(manager);
  const product = new Map(products.map((p) => [p.id, p]));
  const tool = new Map(tools.map((t) => [t.id, t]));
  const bases = basesOf(manager, meters);
  const scale = growersScale(meters);
  return {
    waters: waters.map((w) => {
      const ec = bases.get(w.id);
      return {
        id: w.id,
        name: w.name,
        note: w.note,
        kind: w.kind,
        lastBasePpm: ec === undefined ? null : Math.round(ppmFromEc(ec, scale)),
      };
    }),
    vessels: vessels.map(({ id, name, capacityL, material }) => ({ id, name, capacityL, material })),
    bottles: bottles.flatMap(({ id, productId, note }) => {
      const known = product.get(productId);
      if (!known) return [];
      const { name, kind } = known;
      const solid = isSolid(known);
      return [
        {
          id,
          productId,
          name,
          kind,
          unit: solid ? ('g' as const) : ('mL' as const),
          note,
          labelDose: labelDoseOf(known, tool) ?? null,
          strengthKnown: isStrengthKnown(known),
          stock: (solid && stockLeft(manager, id, today)) || null,
        },
      ];
    }),
    tools: tools.filter(isDosingTool).map(toToolView),
    meters: [...meters.values()]
      .filter((m) => m.retiredOn === null && canBeAtHand(m))
      .map((m) => ({
        id: m.id,
        name: m.name,
        quantity: m.quantity,
        scale: m.scale,
        simulated: m.device === 'simulated',
      })),
  };
}
