import type { MissReason } from '../../../contract/look-back.ts';
import type { Turn } from '../../../contract/turns.ts';
import { plusDays } from '../../../core/regimen/index.ts';
import { NO_PAST, type Collection, type LookedBack, type Past, type PastVisit } from '../../collection/index.ts';

/*
 * What is known of why a reading landed outside its forecast: facts of the log that stand beside it. None is proof, and where none stands nothing is said.
 */

/** What was changed so shortly before a filling still tells in it. House rule. */
const SHORTLY_DAYS = 14;
/** Of the pots of one mix, or of one day, so many and so large a share on the same side are no accident. House rule. */
const [FEWEST, MOSTLY] = [3, 0.5];
/** Of a pot read less often before, little is known. House rule. */
const FEW_READ = 4;

/** What of a visit is a reading of that kind. */
const READ: Readonly<Record<LookedBack['what'], (visit: PastVisit) => number | undefined>> = {
  left: ({ leftMl }) => leftMl,
  ppm: ({ oldEcUsCm }) => oldEcUsCm,
  ph: ({ oldPh }) => oldPh,
};

export type Known = {
  readonly past: Past;
  readonly turns: readonly Turn[];
  /** What pens read, by the pen and by each mark that one was off. */
  readonly pens: ReadonlyMap<string, LookedBack['what']>;
};

/** What each pen of a collection reads, as `Known` has it. */
export const pensOf = ({ meters }: Pick<Collection, 'meters'>): Known['pens'] =>
  new Map(
    [...meters.values()].flatMap(({ id, quantity, taints }) =>
      [id, ...taints.map(({ markId }) => markId)].map((key) => [key, quantity === 'pH' ? 'ph' : 'ppm'] as const),
    ),
  );

/** Which side of its range a reading landed on: −1 below, 0 inside, 1 above. */
export const sideOf = ({ read, band }: Pick<LookedBack, 'read' | 'band'>): -1 | 0 | 1 =>
  read < band.low ? -1 : read > band.high ? 1 : 0;

type Looked = {
  readonly one: LookedBack;
  readonly side: -1 | 0 | 1;
  readonly visit: PastVisit | undefined;
  readonly mix: string | undefined;
};

/** What is known of each reading, in their order; nothing of those inside. @param mine readings of one kind */
export function whyOutside(mine: readonly LookedBack[], known: Known): MissReason[][] {
  const { past } = known;
  const looked = mine.map((one): Looked => {
    const { visits } = past.get(one.potId) ?? NO_PAST;
    const at = visits.findLastIndex(({ on }) => on === one.on);
    return { one, side: sideOf(one), visit: visits[at], mix: visits[at - 1]?.batchId ?? undefined };
  });
  return looked.map((here) => (here.side === 0 ? [] : reasonsOf(here, looked, known)));
}

function reasonsOf(here: Looked, looked: readonly Looked[], { past, turns, pens }: Known): MissReason[] {
  const { one, visit, mix } = here;
  const since = visit?.since ?? one.on;
  const first = plusDays(since, -SHORTLY_DAYS);
  const changed = turns.filter(({ id, kind, on, until, potIds, hidden }) => {
    if (hidden || (potIds !== null && !potIds.includes(one.potId))) return false;
    // A pen tells only of what it reads.
    if ((kind === 'pen' || kind === 'penOff') && pens.get(id.split('|').at(-1)!) !== one.what) return false;
    return kind === 'penOff' ? on <= one.on && (until === null || until >= one.on) : on >= first && on <= one.on;
  });
  // How much is left is not in the mix.
  const ofMix =
    mix === undefined || one.what === 'left'
      ? undefined
      : together(
          looked.filter((other) => other.mix === mix),
          here,
        );
  const ofDay = together(
    looked.filter((other) => other.one.on === one.on),
    here,
  );
  const read = (past.get(one.potId) ?? NO_PAST).visits.filter(
    (before) => before.on < one.on && READ[one.what](before) !== undefined,
  ).length;
  return [
    ...changed.map(({ title, on, kind }): MissReason => ({ kind: 'turn', title, on, isPen: kind === 'penOff' })),
    ...(ofMix ? [{ kind: 'mix' as const, ...ofMix }] : []),
    // What a whole mix did is told by its mix.
    ...(ofDay && !(ofMix && ofDay.n <= ofMix.n) ? [{ kind: 'day' as const, ...ofDay }] : []),
    ...(visit?.dry && one.what !== 'left' ? [{ kind: 'dry' as const }] : []),
    ...(read < FEW_READ ? [{ kind: 'few' as const, n: read }] : []),
  ];
}

/** How many of these landed on the same side as one of them, where that is most of them. */
function together(all: readonly Looked[], { side }: Looked): { n: number; of: number } | undefined {
  const n = all.filter((other) => other.side === side).length;
  return n >= FEWEST && n >= MOSTLY * all.length ? { n, of: all.length } : undefined;
}
