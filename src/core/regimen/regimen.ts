/**
 * A way of feeding, composed of the same few parts whatever the school: a rota of feeds, a flush rule, soaks in their seasons, and what the
 * plant's stage changes. Strength is net over base in µS/cm at 25 °C; it is shown on the grower's own pen scale.
 */
export type Regimen = {
  /** The school it came from; a name only, everything is computed from the parts. */
  readonly school: School;
  /** What is poured, watering after watering, and round again; one or more. */
  readonly feeds: readonly Feed[];
  /** Days after which the old solution is too old whatever the rota says; null where nothing is set. */
  readonly latestDays: number | null;
  readonly flush: FlushRule;
  /** The reservoir is washed at the change. */
  readonly wash: boolean;
  readonly soaks: readonly Soak[];
  readonly stages: StageRules;
  /** Share of the strength that plants marked tender take, 0 to 1. */
  readonly tenderShare: number;
  /** Strength by height, for pots marked as vegetables or herbs only. */
  readonly byHeight: boolean;
  /** Water the mixes are made with, where the school has an opinion. */
  readonly fillWith: 'still' | 'tap' | null;
  /** Mornings only, so crowns dry before night; otherwise when life allows. */
  readonly morning: boolean;
  /** Left to run dry before a soak. */
  readonly dryBeforeSoak: boolean;
};

export const SCHOOLS = [
  'constantDilute',
  'fortnight',
  'split',
  'soaksInSeason',
  'lowSwing',
  'everyFeed',
  'plain',
  'own',
] as const;
export type School = (typeof SCHOOLS)[number];

export const FEED_WHATS = ['feed', 'calmag', 'feedSilicate', 'plain'] as const;
/** Feed; calcium–magnesium alone; feed with silicate and a trace of magnesium in the can; nothing but water. */
export type FeedWhat = (typeof FEED_WHATS)[number];

/** A feed given by measure: mL (g) of the bottle as it was bought in each litre, or a share of whatever its label says. */
export type FeedDose =
  { readonly by: 'perL'; readonly units: number } | { readonly by: 'label'; readonly share: number };

/**
 * One watering of the rota; `days` until the watering after it. Net µS/cm, 0 for plain water: the aim, or, where a `dose` is given, what that
 * dose was taken to come to when it was written down (a thought, for what is foretold before anything is poured).
 */
export type Feed = {
  readonly what: FeedWhat;
  readonly netEcUsCm: number;
  /** By measure and not to a strength; null where the pen decides. */
  readonly dose: FeedDose | null;
  readonly pourPhLow: number;
  readonly pourPhHigh: number;
  readonly days: number;
};

/** `change`: only at the first watering of the rota. */
export type FlushRule = {
  readonly at: 'watering' | 'change' | 'never';
  /** In multiples of the reservoir: a rule of thumb, said to be one. */
  readonly timesReservoir: number;
  /** So much and no other, whatever its salts ask for: what a trial gives. Otherwise `timesReservoir` is a habit, and a flush is reckoned from what stands in the pot. */
  readonly exact?: boolean;
  /** Whatever is plentiful (the finish is still where the pot needs it), or still water throughout. */
  readonly with: 'plentiful' | 'still';
};

export const SOAK_WHATS = ['magnesium', 'silicate', 'both'] as const;
export type SoakWhat = (typeof SOAK_WHATS)[number];

/** A supplement given by filling the pot to the brim for a while, once in each open month. */
export type Soak = {
  readonly what: SoakWhat;
  /** Magnesium: net µS/cm over the water; null for silicate alone. */
  readonly netEcUsCm: number | null;
  /** Silicate: mg/L SiO2; null for magnesium alone. `firstSio2MgL`: of a season's first. */
  readonly sio2MgL: number | null;
  readonly firstSio2MgL: number | null;
  readonly pourPhLow: number;
  readonly pourPhHigh: number;
  readonly holdMinutes: number;
  /** Months it is given in where the seasons are northern, January 1; the south is turned by half a year. */
  readonly months: readonly number[];
  /** Under lamps, and warm, the season never closes. */
  readonly allYearUnderLamps: boolean;
  /** Baskets cannot be filled: they get it as a leaf spray in the same week. */
  readonly sprayBaskets: boolean;
};

/** What the plant's stage changes. Shares are of the feed's strength. */
export type StageRules = {
  readonly restShare: number;
  readonly rootingShare: number;
  /** In spike and bloom: the feed as it is, or calcium–magnesium alone. */
  readonly inBud: 'same' | 'calmag';
  /** No soaks while it rests or has no roots. */
  readonly soaksOnlyInGrowth: boolean;
};

/** Three times the reservoir through the clay from the top (common practice; no source). */
export const FLUSH_RULE_OF_THUMB = 3;
/** Calcium–magnesium by itself: about 50 ppm on a half-scale pen (common practice). */
export const CALMAG_EC = 100;

/** Nothing changes with the stage but the soaks. */
export const STAGES_SAME: StageRules = { restShare: 1, rootingShare: 1, inBud: 'same', soaksOnlyInGrowth: true };

/** The plainest regimen: one weak feed at every watering, flushed first. @param netEcUsCm µS/cm over base @param everyDays whole days */
export function constantDilute(netEcUsCm: number, everyDays: number, more: Partial<Regimen> = {}): Regimen {
  return {
    school: 'constantDilute',
    feeds: [{ what: 'feed', netEcUsCm, dose: null, pourPhLow: 5.5, pourPhHigh: 6.5, days: everyDays }],
    latestDays: null,
    flush: { at: 'watering', timesReservoir: FLUSH_RULE_OF_THUMB, with: 'plentiful' },
    wash: false,
    soaks: [],
    stages: STAGES_SAME,
    tenderShare: 1,
    byHeight: false,
    fillWith: null,
    morning: true,
    dryBeforeSoak: false,
    ...more,
  };
}

/** The same regimen, weaker (or stronger) by a factor. */
export function atShare(regimen: Regimen, share: number): Regimen {
  return {
    ...regimen,
    feeds: regimen.feeds.map((feed) => ({
      ...feed,
      netEcUsCm: feed.netEcUsCm * share,
      dose: feed.dose && doseAt(feed.dose, share),
    })),
  };
}

/** Shares of a label's dose that have a name. */
const SHARE_WORDS = new Map([
  [1, 'the label’s dose'],
  [0.75, 'three quarters of the label’s dose'],
  [0.5, 'half the label’s dose'],
  [0.25, 'a quarter of the label’s dose'],
]);

/** The same dose, weaker or stronger by a factor. */
export function doseAt(dose: FeedDose, share: number): FeedDose {
  return dose.by === 'perL' ? { ...dose, units: dose.units * share } : { ...dose, share: dose.share * share };
}

/** "2.5 mL a litre", "half the label’s dose". */
export function doseWords(dose: FeedDose): string {
  if (dose.by === 'perL') return `${Number(dose.units.toPrecision(3))} mL a litre`;
  return SHARE_WORDS.get(dose.share) ?? `${Number((100 * dose.share).toPrecision(3))} % of the label’s dose`;
}

/** Net µS/cm taken of a label's whole dose where the label does not say how much that is: 180 ppm on the half scale. House rule. */
export const UNKNOWN_AT_LABEL_EC = 360;

/** Days of one whole turn of the rota. */
export function rotaDays(regimen: Regimen): number {
  return regimen.feeds.reduce((sum, feed) => sum + feed.days, 0);
}

/** What is wrong with a regimen, with the part it is in; empty when it can be followed. */
export type RegimenProblem = { readonly path: string; readonly message: string };

/** @returns every reason why it cannot be followed: no feed, no interval, a soak whose season never opens, an upside-down pH */
export function regimenProblems(regimen: Regimen): RegimenProblem[] {
  const problems: RegimenProblem[] = [];
  const say = (path: string, message: string) => problems.push({ path, message });
  if (regimen.feeds.length === 0) say('feeds', 'A regimen needs something to pour: add a feed, or plain water.');
  regimen.feeds.forEach((feed, i) => {
    if (!(feed.days >= 1)) say(`feeds.${i}.days`, 'At least one day until the next watering.');
    if (feed.what !== 'plain' && feed.dose === null && !(feed.netEcUsCm > 0))
      say(
        `feeds.${i}.netPpm`,
        'The aim is over the base: more than zero, such as 90. For nothing, choose plain water.',
      );
    if (feed.pourPhLow > feed.pourPhHigh) say(`feeds.${i}.phLow`, 'The lower pH is above the upper. Swap them.');
  });
  const longest = Math.max(0, ...regimen.feeds.map((feed) => feed.days));
  if (regimen.latestDays !== null && regimen.latestDays < longest)
    say('latestDays', `Its waterings are ${longest} days apart, so the outer limit cannot come before.`);
  regimen.soaks.forEach((soak, i) => {
    if (soak.months.length === 0)
      say(`soaks.${i}.months`, 'This soak is never in season. Choose its months, or leave the soak out.');
    if (soak.netEcUsCm === null && soak.sio2MgL === null) say(`soaks.${i}.netPpm`, 'Give the soak a strength.');
    if (soak.pourPhLow > soak.pourPhHigh) say(`soaks.${i}.phLow`, 'The lower pH is above the upper. Swap them.');
    if (regimen.soaks.findIndex((other) => other.what === soak.what) !== i)
      say(`soaks.${i}.what`, 'The same soak stands here twice. Keep one of them.');
  });
  return problems;
}
