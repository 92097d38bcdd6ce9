import { useInfiniteQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { memo, useCallback, useEffect, useRef, useState } from 'react';
import { Link } from 'react-router';
import type { BookEntry, BookPage as Page } from '../../contract/book.ts';
import { useActs } from '../shell/acts.tsx';
import { get } from '../shell/api.ts';
import { Hollow } from '../shell/hollow.tsx';
import { dayMonthYear, phText, ppmText, whenText } from '../shell/format.ts';
import { Empty, Failed, Loading } from '../shell/states.tsx';
import { useNarrow } from '../shell/use-narrow.ts';
import { Icon, type IconName } from '../drawing/icon.tsx';
import { BookTabs } from './book-tabs.tsx';
import { CorrectDialog } from './correct-dialog.tsx';

const ICONS: Record<BookEntry['group'], IconName> = {
  Round: 'flower',
  Mix: 'eyedropper',
  Skip: 'skipForward',
  Check: 'check2Square',
  Shelf: 'archive',
  Pots: 'flower',
  Plan: 'calendarCheck',
  Clock: 'stopwatch',
  Settings: 'sliders',
  Clay: 'pebbles',
  Advice: 'check2Square',
  Drift: 'graphUp',
  Bench: 'eyedropper',
  Undo: 'arrowCounterclockwise',
};
const COLUMNS = ['When', 'Kind', 'Where', 'What', 'Reads', 'pH', ''] as const;

/** Book: the log of everything, newest first, each act undoable. */
export function BookPage() {
  const narrow = useNarrow();
  const { undo } = useActs();
  const undoNow = useCallback((id: string) => void undo(id), [undo]);
  const [correcting, setCorrecting] = useState<string>();
  const log = useInfiniteQuery({
    queryKey: ['book'],
    queryFn: ({ pageParam }) => get<Page>(`/api/book${pageParam ? `?before=${pageParam}` : ''}`),
    initialPageParam: 0,
    getNextPageParam: (last) => last.next ?? undefined,
  });
  const scroller = useRef<HTMLDivElement>(null);
  const entries = log.data?.pages.flatMap((p) => p.entries) ?? [];
  const rows = useVirtualizer({
    count: entries.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => (narrow ? 100 : 38),
    overscan: 12,
    getItemKey: (i) => entries[i]!.id,
  });
  const items = rows.getVirtualItems();
  const lastIndex = items.at(-1)?.index ?? 0;
  const { hasNextPage, isFetchingNextPage, fetchNextPage } = log;
  useEffect(() => {
    if (hasNextPage && !isFetchingNextPage && lastIndex >= entries.length - 20) void fetchNextPage();
  }, [hasNextPage, isFetchingNextPage, fetchNextPage, lastIndex, entries.length]);
  if (log.isPending) return <Loading what="the book" />;
  const first = log.data?.pages[0];
  if (!first) return <Failed error={log.error} retry={() => void log.refetch()} />;
  return (
    <div className="page book">
      <header>
        <div>
          <h1>Book</h1>
          <div className="small">
            What was done · {first.total.toLocaleString('en-GB')} lines
            {first.since && ` since ${dayMonthYear(first.since)}`}
          </div>
        </div>
        <BookTabs />
      </header>
      <section className="sheet log">
        <h2>Log</h2>
        {entries.length === 0 ? (
          <Empty title="An empty book">
            <p className="mb-0">Everything you log is written here, and can be taken back from here.</p>
          </Empty>
        ) : (
          <div
            className="log-scroll"
            ref={scroller}
            role="table"
            aria-label="Log, newest first"
            aria-rowcount={first.total + 1}
            tabIndex={0}
          >
            <div role="rowgroup" className="log-head">
              <div role="row" className="log-row">
                {COLUMNS.map((c) => (
                  <span key={c} role="columnheader" className={c === 'Reads' || c === 'pH' ? 'text-end' : ''}>
                    {c || <span className="visually-hidden">Undo</span>}
                  </span>
                ))}
              </div>
            </div>
            <div role="rowgroup" className="log-body" style={{ height: rows.getTotalSize() }}>
              {items.map((item) => {
                const entry = entries[item.index]!;
                return (
                  <Row
                    key={entry.id}
                    entry={entry}
                    today={first.today}
                    index={item.index}
                    start={item.start}
                    size={item.size}
                    undo={undoNow}
                    correct={setCorrecting}
                  />
                );
              })}
            </div>
          </div>
        )}
      </section>
      {correcting && <CorrectDialog eventId={correcting} onClose={() => setCorrecting(undefined)} />}
    </div>
  );
}

type RowProps = {
  entry: BookEntry;
  today: string;
  index: number;
  start: number;
  size: number;
  undo(id: string): void;
  correct(id: string): void;
};

/** One line of the log; drawn once, however often the log is scrolled. */
const Row = memo(function Row({ entry: e, today, index, start, size, undo, correct }: RowProps) {
  return (
    <div
      role="row"
      aria-rowindex={index + 2}
      className={`log-row ${e.undone ? 'undone' : ''}`}
      style={{ transform: `translateY(${start}px)`, height: size }}
    >
      <span role="cell" className="nowrap when">
        {whenText(e.on, e.time, today)}
      </span>
      <span role="cell" className="kind">
        <Icon name={ICONS[e.group]} /> <b>{e.group}</b>
      </span>
      <span role="cell" className="where">
        {e.potId ? (
          <Link to={`/pots/${e.potId}`}>{e.where}</Link>
        ) : e.batchId ? (
          <Link to={`/bench/${e.batchId}`}>{e.where}</Link>
        ) : (
          e.where
        )}
      </span>
      <span role="cell" className="what">
        {e.undone ? (
          <>
            <s>{e.what}</s> <span className="small">{e.corrected ? 'put right' : 'taken back'}</span>
          </>
        ) : (
          <>
            {e.ahead && (
              <span className="chip soon me-1" title="Dated ahead of now: it counts once its time has come">
                ahead
              </span>
            )}
            {e.what}
          </>
        )}
        {e.was && (
          <span className="small">
            {' '}
            put right, was <s>{e.was}</s>
          </span>
        )}
      </span>
      <span role="cell" className="text-end nowrap reads">
        {e.readsPpm !== null && (
          <>
            <b className="num">
              <Hollow tainted={e.tainted.ppm}>{ppmText(e.readsPpm)}</Hollow>
            </b>{' '}
            <small>ppm</small>
          </>
        )}
      </span>
      <span role="cell" className="text-end ph">
        {e.ph !== null && (
          <b className="num">
            <Hollow tainted={e.tainted.ph}>{phText(e.ph)}</Hollow>
          </b>
        )}
      </span>
      <span role="cell" className="text-end">
        {e.correctable && (
          <button
            type="button"
            className="btn btn-link btn-sm p-0 me-2"
            onClick={() => correct(e.id)}
            aria-label={`Put right: ${e.what}, ${e.where}`}
          >
            Put right
          </button>
        )}
        {e.undoable && (
          <button
            type="button"
            className="btn btn-link btn-sm p-0"
            onClick={() => undo(e.id)}
            aria-label={`${e.kind === 'undone' ? 'Put back' : 'Undo'}: ${e.what}, ${e.where}`}
          >
            {e.kind === 'undone' ? 'Put back' : 'Undo'}
          </button>
        )}
      </span>
    </div>
  );
});
