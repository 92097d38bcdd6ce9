import { useEffect, useMemo, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { useSearchParams } from 'react-router';
import type { RoundPot, RoundView } from '../../contract/round.ts';
import { useActs } from '../shell/acts.tsx';
import { canBeLogged } from './can-be-logged.ts';

/** The walk from pot to pot: which is in hand, what is left, the keys that go on, and what was done last. */
export function useRoundWalk(view: RoundView) {
  const { outbox, undo } = useActs();
  const waiting = useMemo(
    () => new Set(outbox.waiting.flatMap((act): readonly (string | undefined)[] => act.subjects ?? [act.subject])),
    [outbox.waiting],
  );
  const pots = useMemo(() => view.places.flatMap((place) => place.pots), [view]);
  // Logged here, and not yet in what was fetched: not to be offered again meanwhile.
  const [settled, setSettled] = useState<{ view: RoundView; ids: ReadonlySet<string> }>({ view, ids: new Set() });
  const toDo = useMemo(
    () =>
      pots.filter(
        (p) =>
          p.due.daysLate >= 0 && !p.inSoak && !waiting.has(p.id) && !(settled.view === view && settled.ids.has(p.id)),
      ),
    [pots, waiting, settled, view],
  );
  const [params] = useSearchParams();
  const [chosen, setChosen] = useState<string | undefined>(params.get('pot') ?? undefined);
  const selected = pots.find((p) => p.id === chosen) ?? toDo[0] ?? pots[0];
  const [passed, setPassed] = useState<readonly RoundPot[]>([]);

  const lastDone = useMemo(
    () => pots.filter((p) => p.done).sort((a, b) => (a.done!.at < b.done!.at ? 1 : -1))[0],
    [pots],
  );
  const canUndo = lastDone !== undefined || outbox.waiting.length > 0;
  const undoLast = () => {
    const unsent = [...outbox.waiting].reverse().find((act) => act.subject && pots.some((p) => p.id === act.subject));
    const target = unsent?.id ?? lastDone?.done?.eventId;
    const potId = unsent?.subject ?? lastDone?.id;
    if (!target) return;
    void undo(target);
    setChosen(potId);
  };
  const step = (by: number) => {
    const i = pots.findIndex((p) => p.id === selected?.id);
    const next = pots[i + by];
    if (next) setChosen(next.id);
  };
  const shelfStep = (by: number) => {
    const i = view.places.findIndex((place) => place.pots.some((p) => p.id === selected?.id));
    const place = view.places[i + by];
    const next = place?.pots.find((p) => toDo.includes(p)) ?? place?.pots[0];
    if (next) setChosen(next.id);
  };
  useHotkeys('u', undoLast);
  useHotkeys('right', () => step(1), { preventDefault: true });
  useHotkeys('left', () => step(-1), { preventDefault: true });
  useHotkeys('down', () => shelfStep(1), { preventDefault: true });
  useHotkeys('up', () => shelfStep(-1), { preventDefault: true });

  const next = (from: RoundPot) => {
    setSettled((old) => ({ view, ids: new Set([...(old.view === view ? old.ids : []), from.id]) }));
    const i = pots.findIndex((p) => p.id === from.id);
    const rest = [...pots.slice(i + 1), ...pots.slice(0, i)].filter((p) => toDo.some((t) => t.id === p.id));
    // After one logged as planned, what wants a mix nobody made, or a soak, is passed by while another can be logged, and that is said.
    const loggable = canBeLogged(from, view.mixes) ? rest.findIndex((p) => canBeLogged(p, view.mixes)) : 0;
    setPassed(loggable > 0 ? rest.slice(0, loggable) : []);
    setChosen(rest[Math.max(0, loggable)]?.id);
  };

  const selectedId = selected?.id;
  const { cardRef, focusLog } = useFocusOnLog(selectedId, view);
  const select = (id: string) => (id === selectedId ? focusLog() : (setPassed([]), setChosen(id)));
  return { pots, toDo, waiting, selected, passed, cardRef, next, select, undoLast: canUndo ? undoLast : undefined };
}

/** Enter logs at once: the card's button has the focus unless the grower is somewhere else on the page. */
function useFocusOnLog(selectedId: string | undefined, view: RoundView) {
  const cardRef = useRef<HTMLElement>(null);
  const focusLog = () => cardRef.current?.querySelector<HTMLElement>('[data-log]')?.focus({ preventScroll: true });
  const focusedFor = useRef<string | undefined>(undefined);
  useEffect(() => {
    // What the server sends meanwhile does not take a half-typed reading's field away.
    const typing = focusedFor.current === selectedId && document.activeElement instanceof HTMLInputElement;
    focusedFor.current = selectedId;
    if (typing) return;
    const elsewhere =
      document.activeElement &&
      document.activeElement !== document.body &&
      !cardRef.current?.contains(document.activeElement) &&
      !document.activeElement.matches('.shelf-pot');
    if (!elsewhere) focusLog();
  }, [selectedId, view.mixes]);

  return { cardRef, focusLog };
}
