import type { PotListItem } from '../../contract/pots.ts';

/** A pot of which nothing was read yet. */
export const NOTHING_READ: Pick<PotListItem, 'stand' | 'soaksOpen' | 'oddLines'> = {
  stand: { ran: null, phs: [], dryInDays: null, leftMl: null, signs: [], trouble: 0 },
  soaksOpen: [],
  oddLines: 0,
};
