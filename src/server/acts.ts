import type { CareKind, CarePayload } from '../contract/care.ts';
import type { VolumeUnits } from '../core/quantity/index.ts';
import type { Act } from './act/definition.ts';
import { volIn } from './act/words.ts';
import { batchAbandoned } from './bench/acts/abandoned.ts';
import { batchAssigned } from './bench/acts/assigned.ts';
import { batchBase } from './bench/acts/base.ts';
import { batchCorrection } from './bench/acts/correction.ts';
import { batchEmptied } from './bench/acts/emptied.ts';
import { batchPartLeft } from './bench/acts/part-left.ts';
import { batchPh } from './bench/acts/ph.ts';
import { photoKept } from './bench/acts/photo-kept.ts';
import { batchPortion } from './bench/acts/portion.ts';
import { batchPoured } from './bench/acts/poured.ts';
import { batchReading } from './bench/acts/reading.ts';
import { batchStarted } from './bench/acts/started.ts';
import { batchThinned } from './bench/acts/thinned.ts';
import { linesBrought } from './book/acts/lines-brought.ts';
import { noteWritten } from './book/acts/note-written.ts';
import { recordsChanged } from './book/acts/records-changed.ts';
import { undone } from './book/acts/undone.ts';
import { clayDrained } from './clay/acts/clay-drained.ts';
import { clayDried } from './clay/acts/clay-dried.ts';
import { clayFilled } from './clay/acts/clay-filled.ts';
import { clayRead } from './clay/acts/clay-read.ts';
import { holdDrained } from './clay/acts/hold-drained.ts';
import { holdRead } from './clay/acts/hold-read.ts';
import { holdStarted } from './clay/acts/hold-started.ts';
import { potted } from './clay/acts/potted.ts';
import { soakEnded } from './drift/acts/soak-ended.ts';
import { soakRead } from './drift/acts/soak-read.ts';
import { soakStarted } from './drift/acts/soak-started.ts';
import { measured } from './pots/acts/measured.ts';
import { potPhotoKept } from './pots/acts/photo-kept.ts';
import { filled } from './round/acts/filled.ts';
import { looked } from './round/acts/looked.ts';
import { reread } from './round/acts/reread.ts';
import { skipped } from './round/acts/skipped.ts';
import { supplementEnded } from './round/acts/supplement-ended.ts';
import { supplementStarted } from './round/acts/supplement-started.ts';
import { toppedUp } from './round/acts/topped-up.ts';
import { dropperCounted } from './shelf/acts/dropper-counted.ts';
import { meterChecked } from './shelf/acts/meter-checked.ts';
import { meterMarkedOff } from './shelf/acts/meter-marked-off.ts';
import { waterCounted } from './shelf/acts/water-counted.ts';
import { waterRead } from './shelf/acts/water-read.ts';

/** Every kind of act the log may hold. A kind of the contract that is missing here does not compile. */
const ACTS: { readonly [K in CareKind]: Act<K> } = {
  potFilled: filled,
  supplementStarted,
  supplementEnded,
  potToppedUp: toppedUp,
  potLooked: looked,
  potReread: reread,
  potMeasured: measured,
  potPhotoKept,
  potSkipped: skipped,
  batchStarted,
  batchBase,
  batchPortion,
  batchPartLeft,
  batchReading,
  batchThinned,
  batchPh,
  batchCorrection,
  batchPoured,
  batchAbandoned,
  photoKept,
  batchAssigned,
  batchEmptied,
  dropperCounted,
  waterRead,
  waterCounted,
  meterChecked,
  meterMarkedOff,
  recordsChanged,
  clayFilled,
  clayRead,
  clayDrained,
  clayDried,
  potHoldStarted: holdStarted,
  potHoldRead: holdRead,
  potHoldDrained: holdDrained,
  soakStarted,
  soakRead,
  soakEnded,
  potPotted: potted,
  noteWritten,
  linesBrought,
  undone,
};

/** What is known of a kind of act. */
export const actOf = <K extends CareKind>(kind: K): Act<K> => ACTS[kind];

/** The same of a kind that may be none of ours: a line a hand or a later version wrote. */
export const actNamed = (kind: string): Act<CareKind> | undefined =>
  Object.hasOwn(ACTS, kind) ? (ACTS[kind as CareKind] as unknown as Act<CareKind>) : undefined;

/** Where acts hold days and instants, by kind. */
export const DATED: readonly {
  readonly kind: CareKind;
  readonly days: readonly string[];
  readonly instants: readonly string[];
}[] = (Object.keys(ACTS) as CareKind[]).flatMap((kind) => {
  const { days = [], instants = [] } = ACTS[kind].dates ?? {};
  return days.length + instants.length > 0 ? [{ kind, days, instants }] : [];
});

/** Kinds at which a pen reads something. */
export const READ_KINDS: readonly CareKind[] = (Object.keys(ACTS) as CareKind[]).filter((kind) => ACTS[kind].figures);

/** What stood in an act before it was corrected: only what differs, in words. */
export function wasWords<K extends CareKind>(
  kind: K,
  before: CarePayload<K>,
  after: CarePayload<K>,
  units: VolumeUnits,
): string {
  const { correct } = actOf(kind);
  if (!correct) return '';
  const vol = volIn(units);
  const now = correct.figures(after, vol);
  return correct
    .figures(before, vol)
    .filter((figure, i) => figure !== now[i])
    .join(', ');
}
