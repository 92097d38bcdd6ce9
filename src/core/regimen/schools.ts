import { CALMAG_EC, constantDilute, STAGES_SAME, type Regimen, type School, type Soak } from './regimen.ts';

/*
 * The schools as ready-made regimens, and where they disagree with both reasons (common practice; ppm on a half-scale pen doubled to µS/cm).
 * Where practice gives no figure ours is said to be ours.
 */

const PPM = 2;
const APRIL_TO_OCTOBER = [4, 5, 6, 7, 8, 9, 10];
const MAY_TO_SEPTEMBER = [5, 6, 7, 8, 9];

/** Once a month in growth, all year under lamps and warm; half an hour at pH 6.5 to 7. */
export const MAGNESIUM_SOAK: Soak = {
  what: 'magnesium',
  netEcUsCm: 100 * PPM,
  sio2MgL: null,
  firstSio2MgL: null,
  pourPhLow: 6.5,
  pourPhHigh: 7,
  holdMinutes: 30,
  months: APRIL_TO_OCTOBER,
  allYearUnderLamps: true,
  sprayBaskets: true,
};
/** With active growth, 32 to 64 mg/L as SiO2, 100 as the season's first. */
export const SILICATE_SOAK: Soak = {
  ...MAGNESIUM_SOAK,
  what: 'silicate',
  netEcUsCm: null,
  sio2MgL: 48,
  firstSio2MgL: 100,
  months: MAY_TO_SEPTEMBER,
  allYearUnderLamps: false,
};

export type SchoolText = {
  readonly school: School;
  readonly title: string;
  readonly words: string;
  /** Where its figures come from: handed on, or ours where practice gives none. */
  readonly source: 'common practice' | 'ours';
  readonly regimen: Regimen;
};

const base = constantDilute(90 * PPM, 7);
const feed = base.feeds[0]!;

/** Every school, as one would begin with it. */
export const SCHOOL_TEXTS: readonly SchoolText[] = [
  {
    school: 'constantDilute',
    title: 'Constant dilute',
    words: 'Weak feed at every watering, always flushed first. Weak feed does no harm in bud and bloom.',
    source: 'common practice',
    regimen: base,
  },
  {
    school: 'fortnight',
    title: 'Fortnight change',
    words:
      'Feed for hydroponics, everything tipped out, the reservoir washed, flushed and filled anew every two weeks, a month at the latest.',
    source: 'common practice',
    regimen: {
      ...base,
      school: 'fortnight',
      feeds: [{ ...feed, netEcUsCm: 180 * PPM, days: 14 }],
      latestDays: 28,
      wash: true,
    },
  },
  {
    school: 'split',
    title: 'Split waterings',
    words: 'Calcium–magnesium at one watering of the week, feed at the other.',
    source: 'common practice',
    regimen: {
      ...base,
      school: 'split',
      feeds: [
        { ...feed, netEcUsCm: 180 * PPM, days: 4 },
        { ...feed, what: 'calmag', netEcUsCm: CALMAG_EC, days: 3 },
      ],
    },
  },
  {
    school: 'soaksInSeason',
    title: 'Soaks in season, strong refill',
    words:
      'Monthly magnesium and silicate soaks while it grows, some 300 over base after each, flushed with plain water between.',
    source: 'common practice',
    regimen: {
      ...base,
      school: 'soaksInSeason',
      feeds: [{ ...feed, netEcUsCm: 300 * PPM }],
      stages: { ...STAGES_SAME, restShare: 0.3, rootingShare: 0.3 },
      soaks: [MAGNESIUM_SOAK, SILICATE_SOAK],
    },
  },
  {
    school: 'lowSwing',
    title: 'Low start, let it swing',
    words: 'Poured at 4.5 to 5.5 every week; the clay walks it up through the whole range.',
    source: 'common practice',
    regimen: { ...base, school: 'lowSwing', feeds: [{ ...feed, pourPhLow: 4.5, pourPhHigh: 5.5 }] },
  },
  {
    school: 'everyFeed',
    title: 'Supplements in every feed',
    words: 'Silicate in the can with the feed, acid after, a trace of magnesium; the same all year.',
    source: 'common practice',
    regimen: { ...base, school: 'everyFeed', feeds: [{ ...feed, what: 'feedSilicate', netEcUsCm: 180 * PPM }] },
  },
  {
    school: 'plain',
    title: 'Plain still water only',
    words: 'Until a crust is gone, or for a plant that wants no feed; at the latest monthly.',
    source: 'common practice',
    regimen: {
      ...base,
      school: 'plain',
      feeds: [{ ...feed, what: 'plain', netEcUsCm: 0, pourPhHigh: 7.5 }],
      latestDays: 30,
      flush: { ...base.flush, with: 'still' },
      fillWith: 'still',
    },
  },
  {
    school: 'own',
    title: 'Soaks in season, weak feed between',
    words: 'The soaks of the one school on the weak feed of the other: a way to try them without the strong refill.',
    source: 'ours',
    regimen: {
      ...base,
      school: 'own',
      soaks: [MAGNESIUM_SOAK, SILICATE_SOAK],
      stages: { ...STAGES_SAME, rootingShare: 0.5 },
    },
  },
];

/** Where growers disagree: both sides with their reasons, and what we begin with. */
export type Disagreement = {
  readonly about: string;
  readonly one: string;
  readonly other: string;
  readonly ours: string;
};

export const DISAGREEMENTS: readonly Disagreement[] = [
  {
    about: 'Weak and often, or stronger and changed',
    one: 'Weak feed at every watering: no salt to speak of, nothing to time.',
    other: 'Label strength and a full change each fortnight: fewer rounds, the plant feeds as it likes.',
    ours: 'Weak and often: with clay that keeps salt it forgives most.',
  },
  {
    about: 'Soaks in season, or supplements in every feed',
    one: 'A soak reaches all the clay, and its strength is known by itself.',
    other: 'In every feed nothing is forgotten; it slows growth where silicate is overdone.',
    ours: 'Neither to begin with. Soaks where the kind of plant takes silicon up, as a trial.',
  },
  {
    about: 'Low and swinging, or held steady',
    one: 'Poured low, the clay walks it through the whole range and each element has its day.',
    other: 'Roots want no swings: buffer, peat, or frequent change hold it.',
    ours: 'Where the pot’s own drift says most days are inside; the Drift room computes it.',
  },
  {
    about: 'Still water, or tap',
    one: 'Still water: purity, and everything in it is yours.',
    other: 'Tap costs nothing and brings calcium.',
    ours: 'Flush with what is plentiful, finish and fill with still water; the cost of each is shown.',
  },
  {
    about: 'Flush at every watering, or at the change',
    one: 'Each time, so salt never gathers.',
    other: 'At the change only: it wastes water and washes fresh feed out.',
    ours: 'Each time, and as much as stands in the pot asks for, not more.',
  },
  {
    about: 'Morning, strictly, or when life allows',
    one: 'Crowns and new growths dry before night.',
    other: 'Late is better than dry.',
    ours: 'Morning; late is a fact, not a fault.',
  },
  {
    about: 'Dry out before a soak, or never dry',
    one: 'Dry clay drinks the soak.',
    other: 'Drying sets the clay’s push on pH back to new, and kills fine roots.',
    ours: 'Never dry.',
  },
  {
    about: 'One bottle, or several',
    one: 'One complete feed: fewer mistakes.',
    other: 'Several: calcium, magnesium and feed each by itself, finer control.',
    ours: 'One to begin with; recipes take as many parts as you like.',
  },
];
