/** Words of the trade and of the figures, each with its plain meaning: opened where the word stands, and listed whole. */
export const TRADE_WORDS = {
  base: {
    word: 'over base, over the water',
    means:
      'What a pen shows less what the plain water showed. The feed itself: water of 9 that reads 105 holds 96 over base.',
  },
  ppm: {
    word: 'ppm',
    means:
      'What a pen shows: how well the solution conducts, times the pen’s own scale (0.5, 0.64 or 0.7 by its make). Not mg/L of any one thing. Figures here are on the scale of your main pen.',
  },
  alkali: {
    word: 'alkali the clay gives, µeq',
    means:
      'How much acid the clay and the roots use up, in millionths of an equivalent. The more, the further the pH climbs; plain water and weak feed move soonest, hard tap last. Under 0 the roots sour it faster than the clay lifts it.',
  },
  alkalinity: {
    word: 'alkalinity, meq/L and °dKH',
    means:
      'What in a water uses acid up before the pH falls: hard tap has much, still water none. 1 meq/L is 2.8 °dKH, or 50 mg/L as calcium carbonate.',
  },
  oldReservoir: {
    word: 'old reservoir, at the change',
    means:
      'What still stands under the drain hole when a pot is tipped out. Where it reads more than was poured, salts are gathering.',
  },
  runOff: {
    word: 'run-off',
    means: 'What comes out of the drain hole while a pot is flushed from the top: it tells what the clay holds.',
  },
  flush: {
    word: 'flush',
    means:
      'Water poured from the top through the clay until it runs out: it takes salts along. It touches the clay for moments only.',
  },
  leach: {
    word: 'leach',
    means: 'Long soaking of clay in still water with changes, so that its minerals come out before planting.',
  },
  soak: {
    word: 'soak',
    means:
      'The pot filled to the brim with a supplement, held, drained and flushed. A soak test is the same with a pH pen.',
  },
  still: {
    word: 'still water',
    means: 'Water with hardly anything in it: reverse osmosis, distilled, deionised, clean rain. Reads 0 to 20.',
  },
  drift: {
    word: 'drift',
    means: 'The change of pH after pouring, by the clay, the roots and the air.',
  },
  flat: {
    word: 'flat',
    means: 'A clay has gone flat when fresh still water hardly climbs on it any more, however long it stands.',
  },
  mostPots: {
    word: 'as most pots do',
    means:
      'Nothing was read of this pot yet, so it is taken to behave as the ordinary one, with a wide range. One reading narrows it.',
  },
  range: {
    word: 'range, ±',
    means: 'Nine times in ten what is read should lie inside it. Where it did not, ranges are made wider.',
  },
  band: {
    word: 'band, limit',
    means: 'Round an aim: comfortable between, still to be poured up to the limit, never past it.',
  },
  tainted: {
    word: 'hollow, tainted',
    means: 'Read with a pen that was later found off. It is kept as it stood, drawn hollow, and counts less.',
  },
} as const;
export type TradeWord = keyof typeof TRADE_WORDS;
