import type { RoundAct, RoundPot, RoundView } from '../../contract/round.ts';
import { newId } from '../shell/api.ts';
import { flushLogged } from './flush-words.ts';
import { EMPTY_DRAFT, readDraft, type Errors } from './read-draft.ts';
import { askedFor, asksHere } from './what-is-asked.ts';

/* A printed round typed in afterwards: one line a pot, one act each, so that a line that is refused keeps none of the others back. */

/** One line of the sheet as it is typed. */
export type Line = {
  readonly done: boolean;
  readonly soaked: boolean;
  readonly left: string;
  readonly ppm: string;
  readonly ph: string;
  readonly fill: string;
  readonly crust: boolean;
  readonly tips: boolean;
};
export const BLANK_LINE: Line = {
  done: false,
  soaked: true,
  left: '',
  ppm: '',
  ph: '',
  fill: '',
  crust: false,
  tips: false,
};

/** Pots that stand on today's sheet. */
export function onSheet(view: RoundView): RoundPot[] {
  return view.places
    .flatMap((place) => place.pots)
    .filter((pot) => pot.due.daysLate >= 0 && pot.done?.kind !== 'filled' && pot.inSoak === null);
}

export type TypedLine =
  { readonly ok: true; readonly acts: readonly RoundAct[] } | { readonly ok: false; readonly errors: Errors };

/** The acts of a line that was ticked: its soak where it had one, then its filling; or what is wrong with what was typed. */
export function actsOf(line: Line, pot: RoundPot, view: RoundView): TypedLine {
  const parsed = readDraft({ ...EMPTY_DRAFT, left: line.left, ppm: line.ppm, ph: line.ph, fill: line.fill }, pot);
  if (!parsed.ok) return parsed;
  const batchOf = (key: string | null | undefined) => {
    const batch = view.mixes.find((m) => m.key === key)?.batch;
    return batch?.status === 'poured' ? batch.id : null;
  };
  const acts: RoundAct[] = [];
  const { soak } = pot;
  if (soak && !soak.given && line.soaked) {
    const { what, way, pouredMl } = soak;
    // The clock of a soak that is over runs for no time.
    acts.push({
      kind: 'supplement',
      potId: pot.id,
      dueOn: pot.due.dueOn,
      what,
      way,
      pouredMl,
      holdMinutes: null,
      batchId: batchOf(soak.mixKey),
      clockId: newId(),
    });
  }
  const batchId = batchOf(pot.mixKey);
  const { flushMl, ...readings } = parsed.readings;
  const cues = { ...(line.crust ? { crust: 'some' } : {}), ...(line.tips ? { tips: 'brown' } : {}) };
  acts.push({
    kind: 'filled',
    potId: pot.id,
    dueOn: pot.due.dueOn,
    batchId,
    waterId: batchId === null ? pot.watering.waterId : null,
    turn: pot.watering.turn,
    ...readings,
    ...flushLogged(pot, flushMl),
    ppmMeterId: view.ppmMeter?.id ?? null,
    phMeterId: view.phMeter?.id ?? null,
    askedFor: askedFor(asksHere(pot, view.reading, line)),
    look: line.crust || line.tips ? { cues, note: '', growths: null, leafMm: null } : null,
  });
  return { ok: true, acts };
}
