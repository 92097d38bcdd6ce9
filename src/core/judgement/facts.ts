import type { LocalDate, SeasonSite, SoakWhat } from '../regimen/index.ts';

/*
 * What judgement knows of a pot: its last visits and looks, what it is given, its season and its forecasts. Conductivity in µS/cm at 25 °C,
 * volumes in mL. What nobody measured is absent. A reading of a pen that was later found off is marked, and counts for less.
 */

/** One visit: what had been poured the time before, and what came out now. */
export type VisitFact = {
  readonly eventId: string;
  readonly on: LocalDate;
  /** Since the filling before it. */
  readonly days: number;
  readonly pouredEcUsCm?: number | undefined;
  readonly pouredPh?: number | undefined;
  readonly cameOutEcUsCm?: number | undefined;
  readonly cameOutPh?: number | undefined;
  readonly leftMl?: number | undefined;
  readonly flushMl: number;
  readonly ecTainted: boolean;
  readonly phTainted: boolean;
};

/** One look; a cue that is not named was as expected. */
export type LookFact = {
  readonly eventId: string;
  readonly on: LocalDate;
  readonly cues: Readonly<Record<string, string>>;
};

/** What stayed in the pot in a month, mg. */
export type GivenMonth = {
  readonly month: string;
  readonly mg: Readonly<Partial<Record<'N' | 'P' | 'K' | 'Ca' | 'Mg' | 'Si', number>>>;
  readonly stillL: number;
  /** What its mixes and waters cost, as far as prices are known; absent where none is. In whatever money the grower writes. */
  readonly cost?: number | undefined;
};

export type SoakFact = {
  readonly what: SoakWhat;
  readonly open: boolean;
  readonly lastOn?: LocalDate | undefined;
  readonly nextFrom?: LocalDate | undefined;
};

export type PotFacts = {
  readonly today: LocalDate;
  readonly stage: 'rooting' | 'growth' | 'rest' | 'spike' | 'bloom';
  readonly medium: 'clay' | 'water' | 'bark' | 'basket';
  readonly tender: boolean;
  readonly orchid: boolean;
  readonly site: SeasonSite;
  readonly reservoirMl: number;
  readonly fillMl: number;
  /** What its feed should read, water and all. 0 on plain water. */
  readonly aimEcUsCm: number;
  readonly plainOnly: boolean;
  readonly pourPh: { readonly low: number; readonly high: number };
  readonly everyDays: number;
  readonly dueOn: LocalDate;
  /** Oldest first, the last eight. */
  readonly visits: readonly VisitFact[];
  /** Oldest first, the last six. */
  readonly looks: readonly LookFact[];
  /** Days from today until it is down to its last; absent where nobody knows. */
  readonly daysUntilDry?: number | undefined;
  /** Today's flush as it is worked out, and what the pot should read after it; as lately beside it. */
  readonly flush?:
    | {
        readonly ml: number;
        readonly afterEcUsCm: number;
        readonly latelyMl?: number;
        readonly latelyAfterEcUsCm?: number;
        readonly notEnough: boolean;
      }
    | undefined;
  /** Its clay was never leached; absent where nobody said. */
  readonly unleached?: boolean | undefined;
  /** The last reading at the top of the filled column and at the hole. */
  readonly saltCheck?: { readonly on: LocalDate; readonly topEcUsCm: number } | undefined;
  readonly soaks: readonly SoakFact[];
  /** Oldest first. */
  readonly given: readonly GivenMonth[];
  readonly repottedOn?: LocalDate | undefined;
};
