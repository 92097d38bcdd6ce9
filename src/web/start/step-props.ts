import type { PotsView } from '../../contract/pots.ts';
import type { ShelfRoom } from '../../contract/shelf.ts';

/** What every step of the guided first minute is given. */
export type StepProps = {
  room: ShelfRoom;
  view: PotsView;
  /** The step is done: on to the next one. */
  next(): void;
  /** Something is left to do in it: it stays open though it counts as done. */
  stay(): void;
};
