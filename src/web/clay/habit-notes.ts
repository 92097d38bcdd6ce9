import type { Habit } from '../../contract/kinds.ts';

/** How each habit sits in clay over a reservoir: what suits it, what to keep dry. Common practice. */
export const HABIT_NOTES: Record<Habit, string> = {
  clump: 'Sits well. Set the bulbs on the clay, not in it, and keep water out of young growths while they are cups.',
  creeping:
    'Walks over the rim in a year or two. Hollow the clay under its creeping stem, keep it clear of the wet, and fill to a lower mark.',
  crown:
    'Keep the crown above the clay and dry by night: water in the crown rots it. Water from the side, in the morning.',
  cane: 'Top-heavy: a wider pot or a stake, and pebbles shaken in firmly so that it does not rock its new roots off.',
  vine: 'Takes to it readily. Tie it in before it is potted; it drinks fast once rooted, so look at the level sooner.',
  bushy:
    'Fine roots hold soil longest: wash twice, and expect it to sulk a fortnight. Herbs and ferns want the stronger light of their old place.',
};
