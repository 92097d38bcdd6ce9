import type { RoundView } from '../src/contract/round.ts';

const NOTHING = { kind: 'notMeasured' };

/** The pots in clay that are due and soak in nothing, in the round's order. */
export const dueForFilling = (round: RoundView) =>
  round.places
    .flatMap((place) => place.pots)
    .filter((pot) => pot.due.daysLate >= 0 && pot.soak === null && pot.drawing.form === 'clay');

/** A fill of a pot with what the round proposes, nothing measured, as a request carries it. */
export const fillOf = (pot: ReturnType<typeof dueForFilling>[number]) => ({
  kind: 'filled',
  potId: pot.id,
  dueOn: pot.due.dueOn,
  batchId: null,
  pouredMl: pot.fillMl,
  flushMl: pot.flushMl,
  oldReservoir: { ppm: NOTHING, ph: NOTHING, leftMl: null },
  ppmMeterId: null,
  phMeterId: null,
});
