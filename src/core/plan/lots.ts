/** As many as one hand waters in one go. House rule. */
const MOST_POTS = 8;
/** And no more of the tank at once than this, so that a split day can carry them. House rule. */
const MOST_OF_TANK = 0.6;

/**
 * Cuts a tray into lots of neighbours, about as large as each other: at most eight pots, and no more than six tenths of the tank.
 * @param pots in shelf order, with the most each takes of still water at once, L @param tankL null where no tank bounds it
 * @returns the pots of each lot; none for none
 */
export function cutIntoLots<T extends { readonly mostL: number }>(pots: readonly T[], tankL: number | null): T[][] {
  const litres = pots.reduce((sum, pot) => sum + pot.mostL, 0);
  const byWater = tankL === null || tankL <= 0 ? 1 : Math.ceil(litres / (MOST_OF_TANK * tankL) - 1e-9);
  const count = Math.min(pots.length, Math.max(byWater, Math.ceil(pots.length / MOST_POTS)));
  return Array.from({ length: count }, (_, n) =>
    pots.slice(Math.round((n * pots.length) / count), Math.round(((n + 1) * pots.length) / count)),
  );
}
