import type { PotForm, Stage } from '../contract/common.ts';
import type { Grows, Habit } from '../contract/kinds.ts';

/*
 * The Ropewalk plant library: an invented lending collection in the former rope works of a river town, kept by volunteers.
 * Genus or species only; no makes, no cultivar names.
 */

export const DEMO_ZONE = 'Europe/London';

/** What the porch's own logger says of its months. */
const PORCH_YEAR = JSON.stringify({
  temperatureC: [11, 11, 12, 14, 16, 18, 19, 19, 17, 14, 12, 11],
  humidityPct: [74, 72, 68, 64, 62, 62, 64, 66, 70, 74, 76, 76],
});
export const PLACES = [
  { key: 'R', name: 'East sill', note: 'bright, warm', light: 'bright', year: null },
  { key: 'L', name: 'Long shelf', note: 'lamps 12 h, warm', light: 'lamps', year: null },
  { key: 'P', name: 'Cool porch', note: '10 to 16 °C', light: 'medium', year: PORCH_YEAR },
] as const;
export type PlaceKey = (typeof PLACES)[number]['key'];

export const REGIMENS = {
  dilute: {
    name: 'Dilute 90, weekly',
    netPpm: 90,
    everyDays: 7,
    reason: 'Weak feed at every watering suits most of the library.',
  },
  porch: {
    name: 'Dilute 75, fortnightly',
    netPpm: 75,
    everyDays: 14,
    reason: 'Cool and slow: the porch drinks half as fast.',
  },
  herbs: {
    name: 'Herbs 320, weekly',
    netPpm: 320,
    everyDays: 7,
    reason: 'Herbs for the kitchen table, on the vegetable band.',
  },
} as const;
export type RegimenKey = keyof typeof REGIMENS;

/** Regimens some pots came to in the course of the year: after which day, why, and who. */
export const LATER_REGIMENS = [
  {
    school: 'own',
    name: 'Dilute 90, magnesium monthly',
    soaks: ['magnesium'],
    daysAgo: 112,
    reason: 'Pale older leaves under the lamps: a magnesium soak once a month, all year.',
    pots: ['L-05', 'L-06', 'L-07', 'L-08', 'L-10'],
  },
  {
    school: 'own',
    name: 'Dilute 90, soaks in season',
    soaks: ['magnesium', 'silicate'],
    daysAgo: 112,
    reason: 'A trial for the late summer: magnesium and silicate while the sill grows.',
    pots: ['R-01', 'R-02', 'R-11'],
  },
  {
    school: 'plain',
    name: 'Plain still water only',
    soaks: [],
    daysAgo: 8,
    reason: 'Crust at the top and brown tips: nothing but still water until the crust is gone.',
    pots: ['L-03'],
  },
] as const;
/** Days on which soaks were given since, and to the sill which kinds. The last of November is still to come. */
export const SOAK_DAYS = [
  { daysAgo: 91, pots: ['L-05', 'L-06', 'L-07', 'L-08', 'L-10'], what: 'magnesium' },
  { daysAgo: 63, pots: ['L-05', 'L-06', 'L-07', 'L-08', 'L-10'], what: 'magnesium' },
  { daysAgo: 28, pots: ['L-05', 'L-06', 'L-07', 'L-08', 'L-10'], what: 'magnesium' },
  { daysAgo: 95, pots: ['R-01', 'R-02', 'R-11'], what: 'both' },
  { daysAgo: 66, pots: ['R-01', 'R-02', 'R-11'], what: 'both' },
  { daysAgo: 38, pots: ['R-01', 'R-02', 'R-11'], what: 'magnesium' },
] as const;

/** A question the library put to its lamp shelf ten weeks ago; five pairs, by lot. */
export const TRIAL = {
  question: 'Does a lamp a hand higher gather less salt?',
  doing: 'lamp a hand higher',
  daysAgo: 70,
  weeks: 14,
  /** A fifth less of old over poured would matter. */
  matters: Math.log(1.2),
  alike: ['same mix', 'same days'],
  pots: ['L-01', 'L-02', 'L-04', 'L-05', 'L-06', 'L-07', 'L-08', 'L-09', 'L-11', 'L-12'],
} as const;

/** Every fourth Sunday some are measured; the days before today, the earliest first. */
export const MEASURED: {
  readonly daysAgo: readonly number[];
  readonly pots: readonly {
    readonly code: string;
    readonly leaves: number;
    readonly leafCm: number;
    readonly cmAMonth: number;
    readonly flowers?: readonly number[];
  }[];
} = {
  daysAgo: [178, 150, 122, 94, 66, 38, 10],
  pots: [
    { code: 'R-02', leaves: 6, leafCm: 24, cmAMonth: 0.9 },
    { code: 'R-03', leaves: 9, leafCm: 17.5, cmAMonth: 0.6 },
    { code: 'R-06', leaves: 7, leafCm: 12, cmAMonth: 0.4, flowers: [0, 0, 0, 0, 1, 3, 4] },
    { code: 'R-09', leaves: 11, leafCm: 19, cmAMonth: 0.5, flowers: [0, 2, 5, 0, 0, 2, 6] },
    { code: 'L-01', leaves: 5, leafCm: 21, cmAMonth: 1.6 },
    { code: 'L-02', leaves: 14, leafCm: 8, cmAMonth: 0.7 },
  ],
};

/** `since` is how many days ago the pot was last filled; seven on a weekly regimen is due today, nine is two days late. */
export type DemoPot = {
  code: string;
  place: PlaceKey;
  name: string;
  stage: Stage;
  form?: PotForm;
  regimen?: RegimenKey;
  reservoirMl: number;
  clay: number | null;
  since: number;
  /** Days since it came into fresh clay. */
  repotted?: number;
  /** What is special about its hidden nature. */
  grows?: Grows;
  habit?: Habit;
  heightCm?: number;
  story?: 'salting' | 'pushes' | 'trouble' | 'thirsty' | 'hungry' | 'fresh';
};

const pot = (
  code: string,
  name: string,
  stage: Stage,
  reservoirMl: number,
  clay: number | null,
  since: number,
  more: Partial<DemoPot> = {},
): DemoPot => ({
  code,
  place: code[0] as PlaceKey,
  name,
  stage,
  reservoirMl,
  clay,
  since,
  ...more,
});

/** What kind of plant each genus is for the figures of practice, and how it grows. */
export const PLANTS: Readonly<Record<string, { grows?: Grows; habit: Habit }>> = {
  Coelogyne: { grows: 'orchid', habit: 'clump' },
  Brassia: { grows: 'orchid', habit: 'clump' },
  Maxillaria: { grows: 'orchid', habit: 'clump' },
  Dendrochilum: { grows: 'orchid', habit: 'clump' },
  Masdevallia: { grows: 'orchid', habit: 'clump' },
  Angraecum: { grows: 'orchid', habit: 'crown' },
  Ludisia: { grows: 'orchid', habit: 'creeping' },
  Macodes: { grows: 'orchid', habit: 'creeping' },
  Hoya: { habit: 'vine' },
  Alocasia: { habit: 'clump' },
  Anthurium: { habit: 'crown' },
  Aglaonema: { habit: 'cane' },
  Peperomia: { habit: 'bushy' },
  Zamioculcas: { habit: 'clump' },
  Ficus: { habit: 'bushy' },
  Begonia: { habit: 'cane' },
  Asplenium: { habit: 'crown' },
  Tradescantia: { habit: 'vine' },
};

/** L-16 came into the end of a bag that pushes harder than the rest of it; nobody knows yet. */
export const FRESH_DAYS_AGO = 5;

export const POTS: readonly DemoPot[] = [
  pot('R-01', 'Coelogyne', 'growth', 240, 1, 5),
  pot('R-02', 'Brassia', 'growth', 250, 3, 3),
  pot('R-03', 'Maxillaria', 'rest', 180, 1, 6),
  pot('R-04', 'Angraecum', 'rest', 220, 2, 3),
  pot('R-05', 'Brassia', 'growth', 280, 1, 7),
  pot('R-06', 'Masdevallia', 'bloom', 160, 2, 5),
  pot('R-07', 'Coelogyne', 'growth', 260, 3, 9, { story: 'salting' }),
  pot('R-08', 'Maxillaria', 'spike', 200, 1, 5),
  pot('R-09', 'Dendrochilum', 'bloom', 190, 2, 5),
  pot('R-10', 'Begonia', 'growth', 230, 4, 3),
  pot('R-11', 'Coelogyne', 'growth', 260, 1, 3),
  pot('R-12', 'Ludisia', 'rooting', 140, 4, 3),
  pot('R-13', 'Angraecum', 'growth', 240, 2, 5, { form: 'basket' }),
  pot('R-14', 'Peperomia', 'growth', 130, 4, 3, { story: 'hungry' }),
  pot('L-01', 'Anthurium', 'growth', 300, 2, 7),
  pot('L-02', 'Hoya', 'growth', 220, 3, 7),
  pot('L-03', 'Dendrochilum', 'rest', 180, 3, 9, { story: 'trouble' }),
  pot('L-04', 'Macodes', 'growth', 130, 4, 5),
  pot('L-05', 'Alocasia', 'growth', 350, 2, 7),
  pot('L-06', 'Anthurium', 'spike', 300, 2, 7),
  pot('L-07', 'Aglaonema', 'growth', 320, 1, 7),
  pot('L-08', 'Zamioculcas', 'growth', 340, 1, 7),
  pot('L-09', 'Ludisia', 'rest', 150, 4, 3),
  pot('L-10', 'Hoya', 'growth', 210, 2, 7, { form: 'basket' }),
  pot('L-11', 'Macodes', 'growth', 130, 4, 6),
  pot('L-12', 'Alocasia', 'growth', 360, 2, 3),
  pot('L-13', 'Basil', 'growth', 330, 4, 7, { regimen: 'herbs', story: 'thirsty', grows: 'crop', heightCm: 26 }),
  pot('L-14', 'Mint', 'growth', 340, 4, 7, { regimen: 'herbs', grows: 'crop', heightCm: 16 }),
  pot('L-15', 'Tradescantia', 'growth', 200, null, 5, { form: 'water' }),
  pot('L-16', 'Peperomia', 'rooting', 140, 4, 5, { repotted: FRESH_DAYS_AGO, story: 'fresh' }),
  pot('P-01', 'Ficus', 'growth', 420, 1, 14, { regimen: 'porch' }),
  pot('P-02', 'Asplenium', 'rest', 260, 2, 12, { regimen: 'porch' }),
  pot('P-03', 'Masdevallia', 'bloom', 160, 2, 9, { regimen: 'porch' }),
  pot('P-04', 'Masdevallia', 'growth', 170, 3, 14, { regimen: 'porch', story: 'pushes' }),
  pot('P-05', 'Begonia', 'rooting', 200, 4, 7, { regimen: 'porch' }),
  pot('P-06', 'Dendrochilum', 'rest', 180, 2, 13, { regimen: 'porch' }),
  pot('P-07', 'Maxillaria', 'rest', 190, 1, 9, { regimen: 'porch' }),
  pot('P-08', 'Coelogyne', 'rest', 240, 1, 7, { regimen: 'porch' }),
  pot('P-09', 'Asplenium', 'growth', 260, 2, 9, { regimen: 'porch' }),
  pot('P-10', 'Masdevallia', 'spike', 160, 2, 7, { regimen: 'porch' }),
  pot('P-11', 'Ficus', 'growth', 400, 1, 7, { regimen: 'porch' }),
  pot('P-12', 'Tradescantia', 'growth', 210, 4, 9, { regimen: 'porch' }),
];
