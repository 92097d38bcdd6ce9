import type { Water } from '../database/entities.ts';
import type { Collection } from './collection.ts';
import { inUse } from './in-use.ts';
import { stockOfTank } from './tanks.ts';

/** All still water at hand as one: a second can is more room. */
export type StillAtHand = {
  readonly litres: number;
  /** What the tanks hold together, L; null where one has no brim that is known. */
  readonly capL: number | null;
  /** What is made or brought on a day, L. */
  madeOn(day: string): number;
  /** Whether somebody said what is made a day. */
  readonly madeKnown: boolean;
};

/** The waters the tanks of which are drawn on for still water, the first on the Shelf first. */
export const stillWaters = ({ waters }: Pick<Collection, 'waters'>): Water[] =>
  inUse(waters).flatMap(({ row }) => (row.kind === 'still' ? [row] : []));

/** Null where there is no tank anybody looked into. A can nobody looked into counts for nothing. */
export function stillAtHand(
  collection: Pick<Collection, 'waters' | 'tanks' | 'madeOn'>,
  today: string,
): StillAtHand | null {
  const found = stillWaters(collection).flatMap((row) => {
    const madeOn = collection.madeOn.get(row.id);
    const stock = stockOfTank(row, collection.tanks.get(row.id), today, madeOn);
    return stock ? [{ row, madeOn, litres: stock.litres }] : [];
  });
  if (found.length === 0) return null;
  return {
    litres: found.reduce((sum, { litres }) => sum + litres, 0),
    capL: found.reduce<number | null>(
      (sum, { row }) => (sum === null || row.tankL === null ? null : sum + row.tankL),
      0,
    ),
    madeOn: (day) => found.reduce((sum, { row, madeOn }) => sum + (madeOn?.get(day) ?? row.perDayL ?? 0), 0),
    madeKnown: found.some(({ row }) => row.perDayL !== null),
  };
}
