import { daysBetween, type LocalDate } from '../regimen/index.ts';

/*
 * A pen that drifted shows on every pot at once: what it reads lies off what each pot was forecast to read, the same way and by the same amount.
 * One pot off is that pot; all of them off is the pen, or something they share.
 */

/** How far one reading lay from its pot's forecast: ln(read ÷ forecast) for strength, pH units for pH. Trusted by how long the pot is known, 0 to 1. */
export type PenMiss = {
  readonly potId: string;
  readonly on: LocalDate;
  readonly miss: number;
  readonly weight: number;
};
/** The readings of one going-round, together. */
export type PenRound = {
  readonly on: LocalDate;
  readonly from: LocalDate;
  readonly miss: number;
  readonly readings: number;
};
export type PenOff = {
  readonly round: PenRound;
  /** By how much more than in the rounds before. */ readonly shift: number;
  readonly before: readonly PenRound[];
  readonly sure: number;
};

/** A going-round may take so many days. */
const ROUND_DAYS = 4;
/** Fewer readings than this tell a pen from its pots by luck. */
export const LEAST_READINGS = 6;
/** How far back a round is still asked about: rounds after it agree again, for then the mixes were read with the same pen. */
const ASKED_DAYS = 21;
/** Several times what rounds differ by anyway, in standard deviations. */
const SURPRISE = 2.8;
/** What all pots share from week to week apart from the pen (weather, a new bottle), 1 SD, and what is too little to speak of. House rules. */
const SHARED = { ppm: 0.02, pH: 0.035 } as const;
const LEAST = { ppm: 0.06, pH: 0.14 } as const;
/** Readings of different pots scatter at least so much about what they share. */
const SCATTER = { ppm: 0.03, pH: 0.06 } as const;

/** Readings gathered into goings-round: a pot that is read again, or a gap, begins the next. Oldest first. */
export function gatherRounds(misses: readonly PenMiss[]): PenMiss[][] {
  const rounds: PenMiss[][] = [];
  const pots = new Set<string>();
  for (const miss of [...misses].sort((a, b) => (a.on < b.on ? -1 : a.on > b.on ? 1 : 0))) {
    const now = rounds.at(-1);
    if (now && daysBetween(now[0]!.on, miss.on) < ROUND_DAYS && !pots.has(miss.potId)) now.push(miss);
    else {
      rounds.push([miss]);
      pots.clear();
    }
    pots.add(miss.potId);
  }
  return rounds;
}

/**
 * Does a pen read off what all its pots were forecast to read?
 * @param misses of one pen, of one kind @returns the newest round that did, within three weeks of today; undefined where none did
 */
export function watchPen(misses: readonly PenMiss[], what: 'ppm' | 'pH', today: LocalDate): PenOff | undefined {
  const rounds = gatherRounds(misses)
    .filter((round) => round.reduce((sum, m) => sum + m.weight, 0) >= LEAST_READINGS)
    .map((round) => ({
      ...middleOf(round, SCATTER[what]),
      from: round[0]!.on,
      on: round.at(-1)!.on,
      readings: round.length,
    }));
  let found: PenOff | undefined;
  for (const [i, round] of rounds.entries()) {
    if (daysBetween(round.on, today) > ASKED_DAYS) continue;
    const before = rounds.slice(Math.max(0, i - 8), i);
    const usual = median(before.map((r) => r.miss)) ?? 0;
    const spread = before.length >= 3 ? 1.4826 * median(before.map((r) => Math.abs(r.miss - usual)))! : SHARED[what];
    const shift = round.miss - usual;
    const sd = Math.hypot(round.se, Math.max(SHARED[what], spread));
    if (Math.abs(shift) < LEAST[what] || Math.abs(shift) < SURPRISE * sd) continue;
    found = {
      round,
      shift,
      before,
      sure: Math.min(0.9, 0.5 + 0.08 * (Math.abs(shift) / sd - SURPRISE) + 0.1 * Math.min(2, before.length)),
    };
  }
  return found;
}

/** Share left out at either end of a round's readings: pots that are off by themselves do not move its middle. */
const TRIMMED = 0.2;

/** Middle of a round, the mean of its readings without the outermost at either end, and how well it is known (trimmed mean, 1.1 times the error of a plain one). */
function middleOf(round: readonly PenMiss[], least: number): { miss: number; se: number } {
  const sorted = [...round].sort((a, b) => a.miss - b.miss);
  const total = sorted.reduce((sum, m) => sum + m.weight, 0);
  const [low, high] = [TRIMMED * total, (1 - TRIMMED) * total];
  let before = 0;
  let inside = 0;
  let sum = 0;
  for (const { miss, weight } of sorted) {
    const part = Math.max(0, Math.min(high, before + weight) - Math.max(low, before));
    before += weight;
    inside += part;
    sum += part * miss;
  }
  const miss = sum / inside;
  const scatter = Math.max(least, 1.4826 * median(sorted.map((m) => Math.abs(m.miss - miss)))!);
  return { miss, se: (1.1 * scatter) / Math.sqrt(total) };
}

function median(values: readonly number[]): number | undefined {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)];
}
