import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { RoundPot, RoundView } from '../../contract/round.ts';
import { someOf } from '../../core/quantity/index.ts';
import { Link, useSearchParams } from 'react-router';
import { ShelfPicture, type ShelfPlace } from '../drawing/index.ts';
import { useActs } from '../shell/acts.tsx';
import { litres, weekdayDayMonth, durationWords } from '../shell/format.ts';
import { PlanList } from '../shell/plan-list.tsx';
import { Empty, Failed, Loading } from '../shell/states.tsx';
import { useNarrow } from '../shell/use-narrow.ts';
import { MixCard, MixNotes } from './mix-card.tsx';
import { PotCard } from './pot-card.tsx';
import { roundQuery } from './round-query.ts';

/** Pots named in the heading; each says on its own card that it waits. */
const MOST_NAMED = 12;

/** Round: what is due now, by mix, on the shelves; pot by pot. */
export function RoundPage() {
  const round = useQuery(roundQuery);
  if (round.isPending) return <Loading what="the round" />;
  if (!round.data) return <Failed error={round.error} retry={() => void round.refetch()} />;
  return <Round view={round.data} />;
}

function Round({ view }: { view: RoundView }) {
  const { outbox, undo } = useActs();
  const narrow = useNarrow();
  const waiting = useMemo(() => new Set(outbox.waiting.map((act) => act.subject)), [outbox.waiting]);
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
  const cardRef = useRef<HTMLElement>(null);

  const lastDone = useMemo(
    () => pots.filter((p) => p.done).sort((a, b) => (a.done!.at < b.done!.at ? 1 : -1))[0],
    [pots],
  );
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
    setChosen(rest[0]?.id);
  };

  // Enter logs at once: the card's button has the focus unless the grower is somewhere else on the page.
  const selectedId = selected?.id;
  const focusLog = () => cardRef.current?.querySelector<HTMLElement>('[data-log]')?.focus({ preventScroll: true });
  const select = (id: string) => (id === selectedId ? focusLog() : setChosen(id));
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

  const places = useMemo(() => shelvesOf(view, waiting), [view, waiting]);
  if (pots.length === 0) {
    return (
      <Empty title="No pots yet">
        <p className="mb-0">When pots stand on your shelves, this page says which are due.</p>
      </Empty>
    );
  }
  const left = toDo.length;
  const flushL = view.mixes.reduce((sum, m) => sum + m.flushL, 0);
  const mix = selected ? view.mixes.find((m) => m.key === selected.mixKey) : undefined;
  const card = selected && (
    <PotCard
      key={`${selected.id}:${selected.due.dueOn}`}
      ref={cardRef}
      pot={selected}
      mix={mix}
      view={view}
      waiting={waiting.has(selected.id)}
      onDone={() => next(selected)}
      onUndo={lastDone || outbox.waiting.length ? undoLast : undefined}
    />
  );
  return (
    <div className="page round">
      <header>
        <div>
          <h1>{view.weekday}’s round</h1>
          <div className="small">
            {left === 0
              ? 'Nothing left to do'
              : `${left} pot${left === 1 ? '' : 's'} due${view.late ? `, ${view.late} of them late` : ''}`}
            {view.done > 0 && `, ${view.done} done`}
            {left > 0 && ` · about ${durationWords(view.minutes)}`}
            {view.morning && ' · mornings, so crowns dry before night'}
          </div>
        </div>
        {left > 0 && !narrow && (
          <nav className="d-flex gap-2 paper-links" aria-label="On paper">
            <Link to="/round/print">Print</Link>
            <Link to="/round/type-in">Type in</Link>
          </nav>
        )}
        {narrow ? (
          <Progress done={view.done} left={left} />
        ) : (
          left > 0 && (
            <div className="push small text-end">
              Flush water for the round <b className="num ink">{litres(flushL)}</b>
              {view.still && (
                <>
                  <br />
                  Still-water tank <b className="num ink">{litres(view.still.litres)}</b>, the round wants{' '}
                  {litres(view.still.needL)}
                </>
              )}
              {view.still && view.still.waits.length > 0 && (
                <>
                  <br />
                  <b className="late-ink">It does not reach: {someOf(view.still.waits, MOST_NAMED)} wait</b>
                </>
              )}
            </div>
          )
        )}
      </header>
      {narrow && card}
      {view.mixes.length > 0 ? (
        <section className={view.mixes.length > 3 ? 'mixes many' : 'mixes'} aria-label="Mixes of this round">
          {view.mixes.map((m, i) => (
            <MixCard key={m.key} mix={m} tone={i} />
          ))}
          <MixNotes mixes={view.mixes} />
        </section>
      ) : (
        <section className="sheet p-3 small" aria-label="Mixes of this round">
          Nothing is due today, so there is nothing to mix.{' '}
          {view.nextDue && (
            <>
              Next: <b className="ink">{weekdayDayMonth(view.nextDue.on)}</b>, {view.nextDue.pots} pot
              {view.nextDue.pots === 1 ? '' : 's'}.
            </>
          )}
        </section>
      )}
      <section className="cols">
        <div className="sheet shelves-sheet">
          <ShelfPicture places={places} selectedId={selected?.id} onSelect={select} />
          <PlanList />
        </div>
        {!narrow && card}
      </section>
    </div>
  );
}

/** Colours come round again; the letter tells mixes apart. */
export const toneOf = (i: number) => (i % 3) as 0 | 1 | 2;

function Progress({ done, left }: { done: number; left: number }) {
  return (
    <div className="push progress-ticks" role="img" aria-label={`${done} done, ${left} to do`}>
      {Array.from({ length: Math.min(24, done + left) }, (_, i) => (
        <i key={i} className={i < done ? 'done' : i === done ? 'at' : ''} />
      ))}
    </div>
  );
}

/** The shelves as the round shows them: large and lettered what is due, quiet what is not, ticked what is done. */
function shelvesOf(view: RoundView, waiting: ReadonlySet<string | undefined>): ShelfPlace[] {
  const letterOf = (p: RoundPot) =>
    view.mixes.findIndex((m) => m.key === (p.soak && !p.soak.given ? p.soak.mixKey : p.mixKey));
  return view.places.map((place) => ({
    id: place.id,
    name: place.name,
    note: place.note,
    pots: place.pots.map((p) => {
      const i = letterOf(p);
      const done = p.done ?? undefined;
      const isWaiting = waiting.has(p.id);
      return {
        id: p.id,
        code: p.code,
        name: p.name,
        drawing: p.drawing,
        tag: p.inSoak
          ? 'soaking'
          : isWaiting
            ? 'waits'
            : done
              ? done.kind === 'skipped'
                ? 'skipped'
                : 'done'
              : p.due.daysLate === -1
                ? 'in 1 d'
                : p.due.words,
        tone: isWaiting || done ? 'done' : p.due.status === 'late' ? 'late' : p.due.status === 'due' ? 'due' : 'quiet',
        badge:
          done || isWaiting
            ? { text: done?.kind === 'skipped' ? '–' : '✓', tone: done?.kind === 'skipped' ? 'skipped' : 'done' }
            : i >= 0
              ? { text: view.mixes[i]!.letter, tone: `mix-${toneOf(i)}` }
              : undefined,
        words: done ? done.words : i >= 0 ? `${p.due.words}, mix ${view.mixes[i]!.letter}` : p.due.words,
      };
    }),
  }));
}
