import { useRef, useState, type KeyboardEvent, type RefObject } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { RoundAct, RoundMix, RoundPot, RoundView } from '../../contract/round.ts';
import type { Look } from '../../contract/seen.ts';
import { mL } from '../shell/format.ts';
import { isWriting } from '../shell/is-writing.ts';
import { canDip, useDip } from '../shell/use-dip.ts';
import { useDraft } from '../shell/use-draft.ts';
import { readyFor } from './can-be-logged.ts';
import { flushAsRead } from './flush-as-read.ts';
import { flushLogged } from './flush-words.ts';
import {
  draftKey,
  EMPTY_DRAFT,
  FIELDS,
  readDraft,
  readLook,
  type Draft,
  type Errors,
  type ParsedDraft,
  type Field,
} from './read-draft.ts';
import { useSendAct, type Then } from './use-send-act.ts';
import { askedFor, askedNow, asksHere, CALLED, type AsksHere } from './what-is-asked.ts';

type Of = {
  pot: RoundPot;
  mix: RoundMix | undefined;
  view: RoundView;
  waiting: boolean;
  onDone(): void;
};
export type PotFilling = ReturnType<typeof usePotFilling>;

/** A pot in hand: what is typed of it, what it is filled with, and the act that logs it. */
export function usePotFilling({ pot, mix, view, waiting, onDone }: Of) {
  const [draft, change, clear] = useDraft<Draft>(draftKey(pot), EMPTY_DRAFT);
  const [errors, setErrors] = useState<Errors>({});
  /** What was typed when the server asked about it. */
  const [asked, setAsked] = useState<string>();
  const [early, setEarly] = useState(false);
  const form = useRef<HTMLFormElement>(null);
  const field = (name: Field) => form.current?.querySelector<HTMLInputElement>(`[name=${name}]`);
  const isDue = (pot.due.daysLate >= 0 || early) && !waiting;
  const typed = readDraft(draft, pot);
  const poured = readyFor(mix, typed.ok ? typed.readings.pouredMl : pot.fillMl);
  const plain = pot.watering.what === 'plain' ? pot.watering.waterId : null;
  const ready = poured !== undefined || plain !== null;
  const flush = flushAsRead(pot, view.waters, draft);
  const asks = asksHere(pot, view.reading, draft);
  const typedOf = () => (typed.ok ? JSON.stringify(typed.readings) : undefined);
  const { busy, send: sendAct } = useSendAct(pot, { setErrors, clear, onDone, onOdd: () => setAsked(typedOf()) });
  const send = (act: RoundAct, words: string, then?: Then) => {
    setAsked(undefined);
    return sendAct(act, words, then);
  };
  const log = async (unread = false) => {
    if (busy || !isDue) return;
    const read = readCard(draft, pot, unread ? undefined : asks, ready);
    if (!read.ok) {
      setErrors(read.errors);
      firstWrong(read.errors, field)?.focus();
      return;
    }
    const { flushMl, ...readings } = read.readings;
    const act: RoundAct = {
      kind: 'filled',
      potId: pot.id,
      dueOn: pot.due.dueOn,
      batchId: poured?.id ?? null,
      waterId: poured ? null : plain,
      turn: pot.watering.turn,
      ...readings,
      ...flushLogged(flush, flushMl),
      ppmMeterId: view.ppmMeter?.id ?? null,
      phMeterId: view.phMeter?.id ?? null,
      look: read.look,
      askedFor: askedFor(asks),
      // Asked about once: unchanged and kept once more, it stands.
      confirmedOdd: asked !== undefined && asked === JSON.stringify(read.readings),
    };
    await send(act, `${pot.code} filled with ${mL(read.readings.pouredMl)}`);
  };

  const { dips, startDip } = usePens({ pot, view, field, change });
  useKeys({
    form,
    field,
    isDue,
    canDip: canDip(view.ppmMeter) || canDip(view.phMeter),
    startDip,
    change,
    asked: askedNow(asks),
    // With no mix made, a key by itself logs nothing.
    leave: ready ? () => void log(true) : undefined,
  });
  const enterGoesOn = (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.key !== 'Enter') return;
    event.preventDefault();
    if (event.repeat) return;
    const onTheWay = (['left', 'ppm', 'ph'] as const).filter((f) => f === 'left' || !asks || asks[f].is === 'asked');
    const fields = (['left', 'ppm', 'ph'] as const).map(field);
    const i = fields.indexOf(event.currentTarget);
    const next = fields.slice(i + 1).find((f) => f && f.value === '' && onTheWay.some((name) => name === f.name));
    if (i >= 0 && next) next.focus();
    else void log();
  };

  return {
    ...{ form, draft, change, errors, dips, busy, early, isDue, enterGoesOn, log, send, flush, asks },
    ready,
    fillEarly: () => setEarly(true),
  };
}

function firstWrong(errors: Errors, field: Fields) {
  const first = FIELDS.find((f) => errors[f]);
  return first && field(first);
}

type Card = Extract<ParsedDraft, { ok: true }> & { readonly look: Look | null };
/** All that was typed of a pot, or what is wrong or still asked and at which field. */
function readCard(
  draft: Draft,
  pot: RoundPot,
  asks: AsksHere | undefined,
  ready: boolean,
): Card | { readonly ok: false; readonly errors: Errors } {
  const parsed = readDraft(draft, pot);
  if (!parsed.ok) return parsed;
  const still = askedNow(asks).find((what) => draft[what].trim() === '');
  if (still)
    return {
      ok: false,
      errors: { [still]: `Its ${CALLED[still]} is asked. Read it, or leave it unread${ready ? ' (L)' : ''}.` },
    };
  const looked = readLook(draft);
  return looked.ok ? { ...looked, readings: parsed.readings } : looked;
}

type Fields = (name: Field) => HTMLInputElement | null | undefined;
type Change = (part: Partial<Draft>) => void;

/** The pens of the round, dipped into this pot. */
function usePens({ pot, view, field, change }: { pot: RoundPot; view: RoundView; field: Fields; change: Change }) {
  const ppmDip = useDip(view.ppmMeter, 'pot', pot.id, (shown) =>
    change({ ppm: shown === 'over' ? 'over' : String(shown) }),
  );
  const phDip = useDip(view.phMeter, 'pot', pot.id, (shown) => change({ ph: String(shown) }));
  const startDip = () => (document.activeElement === field('ph') ? phDip : ppmDip).start();
  return { dips: { ppm: ppmDip, ph: phDip }, startDip };
}

type Keys = {
  form: RefObject<HTMLFormElement | null>;
  field: Fields;
  isDue: boolean;
  canDip: boolean;
  startDip(): void;
  change: Change;
  /** What is asked of it, where not everything is read. */
  asked: readonly ('ppm' | 'ph')[];
  leave: (() => void) | undefined;
};

/** R or a digit begins the reading, P dips the pen, L leaves unread what is asked. */
function useKeys({ form, field, isDue, canDip, startDip, change, asked, leave }: Keys) {
  const startReading = (event?: { key: string }) => {
    const first = asked[0] ?? 'ppm';
    field(first)?.focus();
    if (event && /^\d$/.test(event.key)) change({ [first]: event.key });
  };
  useHotkeys('r', (e) => (e.preventDefault(), startReading()), { enabled: isDue });
  useHotkeys('0,1,2,3,4,5,6,7,8,9', (e) => (e.preventDefault(), startReading(e)), { enabled: isDue });
  useHotkeys('l', () => leave?.(), {
    enabled: isDue && asked.length > 0 && leave !== undefined,
    enableOnFormTags: true,
    preventDefault: true,
    // In a field for a figure no letter is typed.
    ignoreEventWhen: ({ target }) =>
      isWriting(target) || (target instanceof HTMLInputElement && target.inputMode !== 'decimal'),
  });
  useHotkeys('p', startDip, {
    enabled: isDue && canDip,
    enableOnFormTags: true,
    preventDefault: true,
    // Not in a note, nor in a field of another form.
    ignoreEventWhen: ({ target }) =>
      isWriting(target) || (target instanceof HTMLInputElement && target.form !== form.current),
  });
}
