import type { RoundMix, RoundPot, RoundView } from '../src/contract/round.ts';

/* What component tests begin with: a mix, a pot and a round on which nothing is out of the way. */

export const TODAY = '2026-11-25';
export const A_MIX: RoundMix = {
  key: 'mix',
  letter: 'A',
  name: 'Feed, 90 over base',
  use: 'feed',
  noMixing: false,
  parts: [{ kind: 'feed', aim: { kind: 'net', ppm: 90 } }],
  holdMinutes: null,
  fillWith: null,
  potIds: ['id-R-01', 'id-R-02'],
  stagger: [],
  oneWith: null,
  netPpm: 90,
  phLow: 5.5,
  phHigh: 6.5,
  pots: 2,
  potsLeft: 2,
  litresToMix: 0,
  flushL: 1.6,
  leftover: null,
  batch: null,
};
export const NO_ROUND: RoundView = {
  today: TODAY,
  weekday: 'Wednesday',
  due: 0,
  done: 0,
  late: 0,
  nextDue: null,
  morning: true,
  minutes: 25,
  reading: {
    choice: { how: 'everything' },
    asked: 0,
    made: 0,
    missed: 0,
    all: 0,
    little: 0,
    done: 0,
    pots: 0,
    minutes: { everything: 0, asked: 0, little: 0, made: 0 },
    never: [],
    pens: [],
  },
  still: null,
  waters: [{ id: 'w1', name: 'Still water', ppm: 4, scarce: true }],
  mixes: [],
  places: [],
  ppmMeter: null,
  phMeter: null,
};
export const NOTHING_SPECIAL: Pick<
  RoundPot,
  'watering' | 'soak' | 'inSoak' | 'keepDry' | 'waits' | 'byPlan' | 'trial'
> = {
  watering: { what: 'feed', words: 'feed', because: [], turn: 0, wash: false, waterId: null, waterName: null },
  soak: null,
  inSoak: null,
  keepDry: null,
  waits: null,
  byPlan: null,
  trial: null,
};
