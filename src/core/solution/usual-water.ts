/**
 * What waters of a kind conduct where nobody read them, µS/cm, and how far that may be off, 1 SD as a share. Common practice: still water 0 to 20 on a
 * pen's ½ scale, rain less than 30, taps anything from soft to hard.
 */
export const USUAL_WATER = Object.freeze({
  still: { ecUsCm: 12, sd: 0.7 },
  rain: { ecUsCm: 25, sd: 0.7 },
  tap: { ecUsCm: 400, sd: 0.5 },
  other: { ecUsCm: 150, sd: 1 },
});
