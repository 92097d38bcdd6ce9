import type { ToldDay } from '../reservoir/index.ts';
import type { PotSolution, TitrationCurve } from './titration-curve.ts';

/** What was poured into a pot. */
export type PouredMix = {
  readonly curve: TitrationCurve;
  readonly standing: PotSolution;
  /** Pinned to a pH that was read. */ readonly phKnown: boolean;
};

/** A filling, with what the visit read first. Figures of pens that cannot be trusted are left out; µS/cm, mL. */
export type FillSeen = {
  readonly on: string;
  readonly pouredMl: number;
  /** Undefined where nobody knows what it was: what follows cannot be followed. */
  readonly mix: PouredMix | undefined;
  /** What it was flushed with, in this order. */
  readonly flushed: readonly { readonly water: TitrationCurve; readonly ml: number }[];
  /** Something was poured on since the filling before: what stood in it is not that filling's own course. */
  readonly toppedUp: boolean;
  readonly leftMl: number | undefined;
  readonly cameOutEcUsCm: number | undefined;
  readonly cameOutPh: number | undefined;
  /** 1 SD of how that pH was read. */
  readonly phSd: number;
  readonly runOffEcUsCm: number | undefined;
  readonly ppmMeterId: string | null;
  readonly phMeterId: string | null;
  /** Read because of how another reading came out: it teaches, but a choice by outcome says nothing of how good forecasts are. */
  readonly byOutcome?: readonly ('ec' | 'ph')[] | undefined;
};

/** What the log says of a pot, oldest first, since it was last repotted: another clay is another nature. */
export type PotLog = {
  readonly poreMl: number;
  /** Thirst by month on its place. */
  readonly thirst: readonly number[];
  /** Days there that were otherwise than their month. */
  readonly told: readonly ToldDay[];
  readonly fills: readonly FillSeen[];
  /** It was potted into new clay at the first of them. */
  readonly fresh: boolean;
  /** Soak tests that told something: first hour, µeq with 1 SD. */
  readonly soaks: readonly { readonly ueq: number; readonly sdUeq: number; readonly driedSince: boolean }[];
};
