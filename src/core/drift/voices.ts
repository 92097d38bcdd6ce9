/*
 * Two voices foretell the pH of the old water: the model, and the pot's own habit, the mean of what it read before. Where nothing changes habit is
 * hard to beat; where the pour, the flush or the wait changes it knows nothing. Each counts by how well it has served.
 */

export type Voices = {
  /** What the pot usually reads when it is tipped out; undefined before its first reading. */
  readonly habit: number | undefined;
  /** Mean squared misses, the last counting most. */
  readonly model: number;
  readonly ofHabit: number;
};
/** Before either was heard: each misses by this, 1 SD. From memory. */
const AT_FIRST_PH = 0.2;
export const NO_VOICES: Voices = Object.freeze({
  habit: undefined,
  model: AT_FIRST_PH ** 2,
  ofHabit: AT_FIRST_PH ** 2,
});

/** What is older counts so much of what is newer. */
const FADES = 0.8;
const HABIT_FOLLOWS = 0.35;
/** Of a miss no more than this counts: one slip of the pen is no reason to trust a voice no more. */
const MOST_MISS = 0.8;
/** How sharply the better voice is preferred. */
const SHARPNESS = 1.5;
/** A habit says this much of its usual where something changed. */
const AFTER_CHANGE = 0.1;

/** Both voices after a reading. @param modelPh what the model foretold @param changed pour, flush or wait were not the usual */
export function heard(voices: Voices, readPh: number, modelPh: number, changed: boolean): Voices {
  const { habit, model, ofHabit } = voices;
  const miss = (foretold: number) => Math.min(MOST_MISS, Math.abs(readPh - foretold)) ** 2;
  const kept = (old: number, now: number) => FADES * old + (1 - FADES) * now;
  return {
    habit: habit === undefined ? readPh : habit + HABIT_FOLLOWS * (readPh - habit),
    model: kept(model, miss(modelPh)),
    ofHabit: habit === undefined || changed ? ofHabit : kept(ofHabit, miss(habit)),
  };
}

/** How much a forecast of pH is moved from the model's towards the pot's habit: 0 not at all. */
export function habitShare({ habit, model, ofHabit }: Voices, changed: boolean): number {
  if (habit === undefined) return 0;
  const weight = (miss: number) => (miss + 0.02 ** 2) ** -SHARPNESS;
  const own = weight(ofHabit) * (changed ? AFTER_CHANGE : 1);
  return own / (own + weight(model));
}
