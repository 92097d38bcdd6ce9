import type { PotListItem } from '../../contract/pots.ts';

/** A pot of which nothing was read yet. */
export const NOTHING_READ: Pick<PotListItem, 'stand' | 'soaksOpen'> = {
  stand: { ran: null, phs: [], dryInDays: null, leftMl: null, signs: [], trouble: 0 },
  soaksOpen: [],
};
