import type { RoundAct, RoundPot } from '../../contract/round.ts';
import type { GrowthKey } from '../../contract/growth.ts';
import type { Cue, Look } from '../../contract/seen.ts';
import { NOT_MEASURED, parseReading, type Reading, type ReadingQuantity } from '../../core/quantity/reading.ts';
import { readGrowth } from '../shell/read-growth.ts';
import { inSmallUnit, mL, readSmall, smallSign } from '../shell/format.ts';

/** What is measured where a pot is looked over. */
export const LOOK_KEYS = ['leaves', 'leafCm', 'spikes', 'flowers'] as const satisfies readonly GrowthKey[];
export type LookKey = (typeof LOOK_KEYS)[number];

/** A look as it is tapped and typed. */
export type LookDraft = {
  cues: Partial<Record<Cue, string>>;
  note: string;
  growths: string;
  leafMm: string;
  measured: Partial<Record<LookKey, string>>;
  looked: boolean;
};
export const EMPTY_LOOK: LookDraft = { cues: {}, note: '', growths: '', leafMm: '', measured: {}, looked: false };
/** What is typed on a pot's card, as text, until it is logged. */
export type Draft = { left: string; ppm: string; ph: string; fill: string; flush: string; runOff: string } & LookDraft;
export const EMPTY_DRAFT: Draft = { left: '', ppm: '', ph: '', fill: '', flush: '', runOff: '', ...EMPTY_LOOK };
/** Where what is typed of a pot is kept until it is logged, in this tab. */
export const draftKey = (pot: Pick<RoundPot, 'id' | 'due'>) => `round-pot:${pot.id}:${pot.due.dueOn}`;
/** Something was typed of it, and is not logged yet. */
export const isTyped = (pot: Pick<RoundPot, 'id' | 'due'>) => sessionStorage.getItem(draftKey(pot)) !== null;
export type Field = 'left' | 'ppm' | 'ph' | 'flush' | 'runOff' | 'fill';
export const FIELDS: readonly Field[] = ['left', 'ppm', 'ph', 'flush', 'runOff', 'fill'];
export type Errors = Partial<Record<Field | 'form' | 'growths' | 'leafMm' | LookKey, string | undefined>>;

type Readings = Pick<Extract<RoundAct, { kind: 'filled' }>, 'oldReservoir' | 'pouredMl' | 'runOffPpm'> & {
  readonly flushMl: number | null;
};
export type ParsedDraft =
  { readonly ok: true; readonly readings: Readings } | { readonly ok: false; readonly errors: Errors };

/** What was typed, as an act's values, or what is wrong with it at which field. Nothing is repaired in silence. */
export function readDraft(draft: Pick<Draft, Field>, pot: Pick<RoundPot, 'fillMl' | 'reservoirMl'>): ParsedDraft {
  const read = readOldReservoir(draft, pot);
  const errors: Errors = read.ok ? {} : read.errors;
  const runOff = parseReading(draft.runOff, 'ppm');
  if (!runOff.ok) errors.runOff = runOff.message;
  const flush = volume(
    draft.flush,
    `Type the ${smallSign()} it was flushed with, 0 for none, or leave it empty for what is planned.`,
    (m) => (errors.flush = m),
  );
  const fill = volume(
    draft.fill,
    `Type the ${smallSign()} poured in, or leave it empty for the planned ${inSmallUnit(pot.fillMl)}.`,
    (m) => (errors.fill = m),
  );
  if (fill === 0) errors.fill = 'A fill is more than zero. Skip the pot if nothing was poured.';
  if (fill !== null && fill > MOST_TIMES * pot.reservoirMl) errors.fill = tooMuch(pot.reservoirMl);
  if (!read.ok || !runOff.ok || Object.keys(errors).length > 0) return { ok: false, errors };
  return {
    ok: true,
    readings: {
      oldReservoir: read.oldReservoir,
      pouredMl: fill ?? pot.fillMl,
      flushMl: flush,
      runOffPpm: runOff.reading,
    },
  };
}

/** What stood in a pot, as it was typed: empty is "not measured". */
export function readOldReservoir(
  draft: Pick<Draft, 'ppm' | 'ph' | 'left'>,
  pot: Pick<RoundPot, 'reservoirMl'>,
):
  | { readonly ok: true; readonly oldReservoir: Readings['oldReservoir'] }
  | { readonly ok: false; readonly errors: Errors } {
  const errors: Errors = {};
  const reading = (text: string, quantity: ReadingQuantity, field: Field): Reading => {
    const parsed = parseReading(text, quantity);
    if (parsed.ok) return parsed.reading;
    errors[field] = parsed.message;
    return NOT_MEASURED;
  };
  const ppm = reading(draft.ppm, 'ppm', 'ppm');
  const ph = reading(draft.ph, 'pH', 'ph');
  const left = volume(
    draft.left,
    `Type the ${smallSign()} that were left, such as ${inSmallUnit(60)}, or leave it empty.`,
    (m) => (errors.left = m),
  );
  if (left !== null && left > MOST_TIMES * pot.reservoirMl) errors.left = tooMuch(pot.reservoirMl);
  return Object.keys(errors).length > 0 ? { ok: false, errors } : { ok: true, oldReservoir: { ppm, ph, leftMl: left } };
}

/** More than so many times its reservoir does not go into a pot. */
const MOST_TIMES = 3;
const tooMuch = (reservoirMl: number) => `The reservoir holds ${mL(reservoirMl)}. Check the figure.`;

function volume(text: string, message: string, fail: (message: string) => void): number | null {
  const typed = readSmall(text);
  if (typed.kind === 'empty') return null;
  if (typed.kind === 'volume') return typed.ml;
  fail(message);
  return null;
}

/** A look as it is logged: null where nobody looked, or what is wrong with a count. */
export function readLook({
  looked,
  cues,
  note,
  growths,
  leafMm,
  measured: typed,
}: LookDraft): { ok: true; look: Look | null } | { ok: false; errors: Pick<Errors, 'growths' | 'leafMm' | LookKey> } {
  const [counted, thick] = [count(growths), count(leafMm)];
  const measured = readGrowth(typed ?? {});
  const errors = { ...measured.errors, ...countErrors(counted, thick) };
  if (Object.keys(errors).length > 0) return { ok: false, errors };
  const said =
    looked || Object.keys(cues).length > 0 || note.trim() !== '' || counted !== null || thick !== null || measured.any;
  if (!said) return { ok: true, look: null };
  const look = { cues, note: note.trim(), growths: counted, leafMm: thick };
  return { ok: true, look: measured.any ? { ...look, measured: measured.figures } : look };
}

const count = (text: string) => (text.trim() === '' ? null : Number(text.trim().replace(',', '.')));

/** What is wrong with the new growths counted, or the thickness of a leaf. */
function countErrors(counted: number | null, thick: number | null): Pick<Errors, 'growths' | 'leafMm'> {
  return {
    ...(counted === null || (Number.isInteger(counted) && counted >= 0 && counted <= 200)
      ? {}
      : { growths: 'Count the new growths, such as 2, or leave it empty.' }),
    ...(thick === null || (thick > 0 && thick <= 50)
      ? {}
      : { leafMm: 'Give the leaf in mm, such as 1.6, or leave it empty.' }),
  };
}
