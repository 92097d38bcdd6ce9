import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import type { RoundPot, RoundView } from '../../contract/round.ts';
import { someOf } from '../../core/quantity/index.ts';
import { Link } from 'react-router';
import { ShelfPicture, type ShelfPlace } from '../drawing/index.ts';
import { litres, weekdayDayMonth, durationWords } from '../shell/format.ts';
import { PlanList } from '../shell/plan-list.tsx';
import { Empty, Failed, Loading } from '../shell/states.tsx';
import { useNarrow } from '../shell/use-narrow.ts';
import { AskedLists } from './asked-lists.tsx';
import { alike, LogMany } from './log-many.tsx';
import { MixCard, MixNotes } from './mix-card.tsx';
import { PotCard } from './pot-card.tsx';
import { ReadingChoice, ReadStrip, ReadWords } from './reading-choice.tsx';
import { roundQuery } from './round-query.ts';
import { useRoundWalk } from './use-round-walk.ts';
import { readTag } from './what-is-asked.ts';

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
  const narrow = useNarrow();
  const { pots, toDo, waiting, selected, passed, cardRef, next, select, undoLast } = useRoundWalk(view);
  const places = useMemo(() => shelvesOf(view, waiting), [view, waiting]);
  const [many, setMany] = useState<RoundPot>();
  if (pots.length === 0) {
    return (
      <Empty title="No pots yet">
        <p className="mb-0">When pots stand on your shelves, this page says which are due.</p>
      </Empty>
    );
  }
  const mix = selected ? view.mixes.find((m) => m.key === selected.mixKey) : undefined;
  const card = selected && (
    <PotCard
      key={`${selected.id}:${selected.due.dueOn}`}
      ref={cardRef}
      pot={selected}
      mix={mix}
      view={view}
      waiting={waiting.has(selected.id)}
      others={alike(view, toDo, selected.mixKey).length - 1}
      onMany={() => setMany(selected)}
      onDone={() => next(selected)}
      onUndo={undoLast}
      below={narrow && toDo.length > 0 && <ReadingChoice reading={view.reading} />}
    />
  );
  return (
    <div className="page round">
      <Head view={view} left={toDo.length} />
      {narrow && card}
      <ReadStrip reading={view.reading} due={view.due} />
      <Mixes view={view} />
      <section className="cols">
        <div className="sheet shelves-sheet">
          {passed.length > 0 && <Passed pots={passed} mixes={view.mixes} onSelect={select} />}
          <ShelfPicture places={places} selectedId={selected?.id} onSelect={select} />
          <AskedLists view={view} toDo={toDo} onSelect={select} />
          <PlanList />
        </div>
        {!narrow && card}
      </section>
      {many && <LogMany view={view} toDo={toDo} from={many} onClose={() => setMany(undefined)} />}
    </div>
  );
}

/** Which pots Enter went past, and what each waits for. */
function Passed({
  pots,
  mixes,
  onSelect,
}: {
  pots: readonly RoundPot[];
  mixes: RoundView['mixes'];
  onSelect(id: string): void;
}) {
  const letterOf = (pot: RoundPot) =>
    mixes.find((m) => m.key === (pot.soak && !pot.soak.given ? pot.soak.mixKey : pot.mixKey))?.letter;
  const named = pots.map((pot) => `${pot.code}${letterOf(pot) ? ` (${letterOf(pot)})` : ''}`);
  return (
    <p className="small passed mb-0" role="status">
      Passed by, for what is not made yet: {someOf(named, MOST_NAMED)}.{' '}
      <button type="button" className="btn btn-link btn-sm p-0" onClick={() => onSelect(pots[0]!.id)}>
        Back to {pots[0]!.code}
      </button>
    </p>
  );
}

function Head({ view, left }: { view: RoundView; left: number }) {
  const narrow = useNarrow();
  return (
    <header>
      <div>
        <div className="d-flex gap-3 align-items-baseline">
          <h1>{view.weekday}’s round</h1>
          {left > 0 && !narrow && <PaperLinks />}
        </div>
        <div className="small">{standsWords(view, left)}</div>
        {narrow && left > 0 && <ReadWords reading={view.reading} due={view.due} />}
      </div>
      {narrow && <Progress done={view.done} left={left} />}
      {!narrow && left > 0 && <ReadingChoice reading={view.reading} />}
      {!narrow && left > 0 && <WaterWanted view={view} />}
    </header>
  );
}

function standsWords(view: RoundView, left: number): string {
  const late = view.late === left ? (left === 1 ? ', late' : ', all late') : `, ${view.late} of them late`;
  const due = `${left} pot${left === 1 ? '' : 's'} due${view.late ? late : ''}`;
  return [
    left === 0 ? 'Nothing left to do' : due,
    view.done > 0 ? `, ${view.done} done` : '',
    left > 0 ? ` · about ${durationWords(view.minutes)}` : '',
    view.morning ? ' · mornings, so crowns dry before night' : '',
  ].join('');
}

function PaperLinks() {
  return (
    <nav className="d-flex gap-2 paper-links" aria-label="On paper">
      <Link to="/round/print">Print</Link>
      <Link to="/round/type-in">Type in</Link>
    </nav>
  );
}

/** What the round takes out of the tank, and who waits where it does not reach. */
function WaterWanted({ view: { mixes, still } }: { view: RoundView }) {
  const flushL = mixes.reduce((sum, m) => sum + m.flushL, 0);
  return (
    <div className="push small text-end">
      Flush water for the round <b className="num ink">{litres(flushL)}</b>
      {still && (
        <>
          <br />
          Still-water tank <b className="num ink">{litres(still.litres)}</b>, the round wants {litres(still.needL)}
        </>
      )}
      {still && still.waits.length > 0 && (
        <>
          <br />
          <b className="late-ink">It does not reach: {someOf(still.waits, MOST_NAMED)} wait</b>
        </>
      )}
    </div>
  );
}

/** Five or six stand in two rows of three, so that their names are read whole. */
const rowsOf = (mixes: number) =>
  mixes <= 3 ? 'mixes' : mixes === 5 || mixes === 6 ? 'mixes many by-three' : 'mixes many';

function Mixes({ view }: { view: RoundView }) {
  if (view.mixes.length > 0)
    return (
      <section className={rowsOf(view.mixes.length)} aria-label="Mixes of this round">
        {view.mixes.map((m, i) => (
          <MixCard key={m.key} mix={m} tone={i} />
        ))}
        <MixNotes mixes={view.mixes} pots={view.places.flatMap((place) => place.pots)} />
      </section>
    );
  return (
    <section className="sheet p-3 small" aria-label="Mixes of this round">
      Nothing is due today, so there is nothing to mix.{' '}
      {view.nextDue && (
        <>
          Next: <b className="ink">{weekdayDayMonth(view.nextDue.on)}</b>, {view.nextDue.pots} pot
          {view.nextDue.pots === 1 ? '' : 's'}.
        </>
      )}
    </section>
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
      const read = done || isWaiting || p.due.daysLate < 0 ? undefined : readTag(p, view.reading);
      const mixBadge = i < 0 ? undefined : ({ text: view.mixes[i]!.letter, tone: `mix-${toneOf(i)}` } as const);
      return {
        id: p.id,
        code: p.code,
        name: p.name,
        drawing: p.drawing,
        tag: tagOf(p, isWaiting),
        tone: isWaiting || done ? 'done' : (TONES[p.due.status] ?? 'quiet'),
        badge: done || isWaiting ? doneBadge(done) : mixBadge,
        read,
        words: [
          done ? done.words : i >= 0 ? `${p.due.words}, mix ${view.mixes[i]!.letter}` : p.due.words,
          read && (read.asked ? `read ${read.text}` : 'leave it unread'),
        ]
          .filter(Boolean)
          .join(', '),
      };
    }),
  }));
}

const TONES: Partial<Record<RoundPot['due']['status'], ShelfPlace['pots'][number]['tone']>> = {
  late: 'late',
  due: 'due',
};

function tagOf({ inSoak, done, due }: RoundPot, isWaiting: boolean): string {
  if (inSoak) return 'soaking';
  if (isWaiting) return 'waits';
  if (done) return done.kind === 'skipped' ? 'skipped' : 'done';
  return due.daysLate === -1 ? 'in 1 d' : due.words;
}

function doneBadge(done: RoundPot['done'] | undefined) {
  return done?.kind === 'skipped' ? ({ text: '–', tone: 'skipped' } as const) : ({ text: '✓', tone: 'done' } as const);
}
