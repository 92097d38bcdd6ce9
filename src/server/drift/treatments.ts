import type { TreatmentView } from '../../contract/drift.ts';
import { judgeTreatment } from '../../core/drift/index.ts';
import {
  phOffset,
  soaksFound,
  type Collection,
  type Meters,
  type PotState,
  type SoakFound,
} from '../collection/index.ts';
import type { Treatment } from '../database/entities.ts';

/** Visits before a treatment that it is compared with. */
const BEFORE = 5;

/** What was tried in these pots and is under way, or ended within half a year, with what the readings say of it. */
export function treatmentsOf({ treatments, meters }: Collection, states: readonly PotState[]): TreatmentView[] {
  const byPot = new Map(states.map((s) => [s.pot.id, s]));
  return treatments.flatMap((row) => {
    const s = byPot.get(row.potId);
    return s ? [viewOf(row, s, soaksFound(s.entry), meters)] : [];
  });
}

function viewOf(
  { id, potId, kind, note, fromDate, toDate }: Treatment,
  s: PotState,
  soaks: readonly SoakFound[],
  meters: Meters,
): TreatmentView {
  // Each visit's rise is of the filling before it: one begun before the treatment says nothing of it.
  const rises = s.fills.flatMap((fill, i) => {
    const before = s.fills[i - 1];
    if (!before || fill.cameOutPh === undefined || before.pouredPh === undefined) return [];
    // The pen at the pot is the pen at the bench: a known offset is put right on either side.
    const pen = fill.payload.phMeterId === null ? undefined : meters.get(fill.payload.phMeterId);
    const [off, offBefore] = [phOffset(pen, fill.at), phOffset(pen, before.at)];
    const tainted =
      (fill.tainted.includes('cameOutPh') && off === 0) || (before.tainted.includes('pouredPh') && offBefore === 0);
    const ph = fill.cameOutPh - off;
    return [{ on: fill.on, ph, rise: ph - (before.pouredPh - offBefore), since: before.on >= fromDate, tainted }];
  });
  const inTime = rises.filter((r) => toDate === null || r.on <= toDate);
  const before = inTime.filter((r) => !r.since).slice(-BEFORE);
  const since = inTime.filter((r) => r.since);
  const hour = (found: SoakFound | undefined) =>
    found?.result.ok ? { middle: found.result.firstHourUeq.middle, sd: found.result.firstHourUeq.sd } : undefined;
  const told = soaks.filter((f) => f.result.ok);
  const [first, last] = [
    told.filter((f) => f.soak.on < fromDate).at(-1),
    told.filter((f) => f.soak.on >= fromDate).at(-1),
  ];
  const alike = first && last && first.test?.kind === last.test?.kind;
  const { verdict, words } = judgeTreatment(
    before.map((r) => ({ rise: r.rise, tainted: r.tainted })),
    since.map((r) => ({ rise: r.rise, tainted: r.tainted })),
    alike ? { before: hour(first)!, after: hour(last)!, driedSince: last.driedSince } : undefined,
  );
  return {
    id,
    potId,
    code: s.pot.code,
    kind,
    note,
    fromDate,
    toDate,
    points: [...before, ...since].map(({ on, ph, since: after }) => ({ on, ph, since: after })),
    rounds: since.length,
    verdict,
    words,
  };
}
