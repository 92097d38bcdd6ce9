import type { DriftPot, DriftRoom, PotDrift, PotModelWire } from '../../contract/drift.ts';
import type { SoakView } from '../../contract/soak.ts';
import { curveOf, NOT_WIDENED, POTS_AT_LARGE } from '../../core/drift/index.ts';
import { anchoredAt, composition } from '../../core/solution/index.ts';

/* A room with two pots, for the component tests. */

export const TODAY = '2026-11-25';
const feed = curveOf(
  anchoredAt(composition({ Ca: 0.2, Mg: 0.08, K: 1.1, NO3: 1.15, NH4: 0.12, PO4: 0.25, CO2: 0.15, SO4: 0.05 }), 6.6)!,
);
const table = (figures: Float64Array) => [...figures];

export const model = (more: Partial<PotModelWire> = {}): PotModelWire => ({
  potId: 'a',
  code: 'A-01',
  curve: {
    ...feed,
    strong: table(feed.strong),
    strongAtTwice: table(feed.strongAtTwice),
    carbonCharge: table(feed.carbonCharge),
    carbonChargeAtTwice: table(feed.carbonChargeAtTwice),
    carbonGas: table(feed.carbonGas),
    rest: table(feed.rest),
    restAtTwice: table(feed.restAtTwice),
    water: table(feed.water),
  },
  reservoirMl: 250,
  poreMl: 60,
  belief: { ...POTS_AT_LARGE, crowd: { ...POTS_AT_LARGE.crowd, at: [...POTS_AT_LARGE.crowd.at] } },
  bodies: null,
  free: null,
  poured: null,
  season: 1,
  window: { low: 5.5, high: 6.5 },
  widths: NOT_WIDENED,
  changed: false,
  phSd: 0.06,
  daysGone: 3,
  phKnown: true,
  ...more,
});

export const pot = (code: string, more: Partial<DriftPot> = {}): DriftPot => ({
  id: code === 'A-01' ? 'a' : 'b',
  code,
  name: 'Hoya',
  place: 'East sill',
  clay: 'batch 1',
  drawing: {
    level: 0.6,
    levelIsGuess: false,
    ratio: 1.1,
    ph: 6.3,
    phLow: 5.5,
    phHigh: 6.5,
    salts: 0,
    stage: 'growth',
    form: 'clay',
  },
  dueOn: '2026-11-29',
  fillMl: 250,
  weekUeq: { mean: code === 'A-01' ? 22 : 4, sd: 3 },
  rounds: 4,
  atLarge: false,
  dried: 1,
  now: { ppm: 110, ph: 6.3, leftMl: 150 },
  aimPpm: 100,
  atVisit: { ppm: 140, ph: 6.7, leftMl: 60 },
  dryOn: '2026-12-02',
  saltsOn: null,
  phOutOn: '2026-11-27',
  topUp: null,
  ratios: [1.2, 1.3],
  flush: { ml: 250, words: '250 mL rain butt', why: 'wets all the clay', afterPpm: 95, lately: null },
  ...more,
});

export const soak = (more: Partial<SoakView> = {}): SoakView => ({
  id: 's',
  potId: 'a',
  code: 'A-01',
  name: 'Hoya',
  kind: 'feed',
  startedAt: `${TODAY}T08:00:00Z`,
  on: TODAY,
  endsAt: `${TODAY}T09:00:00Z`,
  ended: true,
  fillMl: 250,
  water: 'Feed',
  covered: true,
  carried: true,
  leakedMl: null,
  driedSince: false,
  reads: [
    { eventId: 'r1', minutes: 0, opened: false, ph: 5.6, range: null, ppm: 100, tainted: false },
    { eventId: 'r2', minutes: 60, opened: false, ph: 6.1, range: null, ppm: 102, tainted: true },
  ],
  result: {
    ok: true,
    firstHourUeq: { middle: 52, low: 38, high: 66, sd: 8 },
    minutes: 25,
    determined: 'well',
    stillRising: false,
    course: [
      { minutes: 0, ph: 5.6, low: 5.5, high: 5.7 },
      { minutes: 60, ph: 6.1, low: 6, high: 6.2 },
    ],
  },
  ...more,
});

export const room: DriftRoom = {
  now: `${TODAY}T09:00:00Z`,
  today: TODAY,
  scale: 0.5,
  ppmMeter: { id: 'm', name: 'Blue pen', simulated: false },
  phMeter: { id: 'p', name: 'Yellow pen', simulated: false },
  penNote: null,
  pots: [pot('A-01'), pot('B-02')],
  unknown: [
    { id: 'c', code: 'C-03', name: 'Ficus', drawing: pot('A-01').drawing, fillMl: 200, soaks: [], compared: null },
  ],
  clays: [],
  soaking: [],
  treatments: [],
};

export const potDrift = (more: Partial<PotDrift> = {}): PotDrift => ({
  pot: pot('A-01'),
  now: model(),
  next: {
    model: model({ daysGone: 0 }),
    everyDays: 7,
    mixKey: 'mix',
    aim: { kind: 'net', ppm: 90 },
    litres: 2.6,
    pots: 1,
    naturalPh: 6.6,
    batch: null,
    pourPh: { low: 5.5, high: 6.5 },
  },
  shares: { poured: 6.6, air: 6.9, pores: 7.1, clay: 7.4, flushWater: 'Kitchen tap' },
  lost: null,
  soaks: [soak()],
  compared: null,
  ...more,
});
