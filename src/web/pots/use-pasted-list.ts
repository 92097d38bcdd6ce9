import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { type Column, guessColumns, readPasted, toLines, tooMany, type ListLine } from './pasted-list.ts';
import type { PotsView } from '../../contract/pots.ts';
import { newId } from '../shell/api.ts';
import { ownUnits } from '../shell/format.ts';
import { useAct } from '../shell/use-act.ts';
import { useDraft } from '../shell/use-draft.ts';
type Hears = { onAdded?: (() => void) | undefined; onSomeLeft?: (() => void) | undefined };
export type ListInHand = ReturnType<typeof usePastedList>;

/** A pasted list read line by line, and the one act that adds its good lines. */
export function usePastedList(view: PotsView, { onAdded, onSomeLeft }: Hears) {
  const navigate = useNavigate();
  const [draft, change, clear] = useDraft('pasted-list', {
    text: '',
    place: view.places[0]?.name ?? '',
    reservoir: '',
    regimenId: '',
  });
  const [columns, setColumns] = useState<Column[]>();
  const { send, problems, busy } = useAct('/api/pots/acts');
  const pasted = useMemo(() => readPasted(draft.text), [draft.text]);
  const guessed = useMemo(
    () =>
      guessColumns(
        pasted,
        view.places.map((p) => p.name),
      ),
    [pasted, view.places],
  );
  const used = columns?.length === pasted.width ? columns : guessed;
  const usual = {
    place: draft.place,
    reservoir: draft.reservoir,
    regimenId: draft.regimenId || (view.regimens[0]?.id ?? ''),
  };
  const lines = useMemo(
    () =>
      toLines(pasted, used, {
        places: view.places,
        regimens: view.regimens.map((r) => ({ id: r.id, name: r.values.name })),
        codes: view.places.flatMap((p) => p.pots.map((pot) => pot.code)),
        units: ownUnits(),
        usual,
      }),
    // The usual values are plain texts.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [pasted, used, view, usual.place, usual.reservoir, usual.regimenId],
  );
  const good = lines.filter((l) => l.pot);
  const bad = lines.filter((l) => !l.pot);
  const many = tooMany(pasted);
  const known = new Map(view.places.map((p) => [p.name.toLowerCase(), p.id]));
  const newPlaces = unknownPlaces(good, known);
  const add = async () => {
    const places = newPlaces.map((name) => ({ id: newId(), values: { name, note: '', light: null } }));
    const placeId = (name: string) =>
      known.get(name.toLowerCase()) ?? places.find((p) => p.values.name.toLowerCase() === name.toLowerCase())!.id;
    const body = {
      kind: 'add',
      places,
      pots: good.map(({ pot }) => ({
        id: newId(),
        regimenId: pot!.regimenId,
        values: { ...pot!.values, placeId: placeId(pot!.place) },
      })),
    };
    if (bad.length > 0) onSomeLeft?.();
    if (!(await send(body, `Added ${good.length} pot${good.length === 1 ? '' : 's'}`))) return;
    // Lines that were wrong stay in the field, to be mended.
    const written = draft.text.split('\n');
    const head = pasted.head ? [written.find((line) => line.trim() !== '') ?? ''] : [];
    if (bad.length > 0) change({ text: [...head, ...bad.map((l) => written[l.line - 1] ?? '')].join('\n') });
    else {
      clear();
      if (onAdded) onAdded();
      else await navigate('/pots');
    }
  };
  const edit = (text: string) => {
    change({ text });
    setColumns(undefined);
  };
  return {
    ...{ draft, change, edit, pasted, used, setColumns, usual, good, bad, lines, many, newPlaces, add, busy },
    problem: Object.values(problems)[0],
  };
}

/** Places named in a list that are none yet, once each however they are spelled. */
function unknownPlaces(good: readonly ListLine[], known: ReadonlyMap<string, string>): string[] {
  const named = good.map((line) => line.pot!.place).filter((name) => !known.has(name.toLowerCase()));
  return [...new Map(named.map((name) => [name.toLowerCase(), name])).values()];
}
