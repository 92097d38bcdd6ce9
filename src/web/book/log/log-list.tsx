import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useEffectEvent, useId, useRef, useState, type KeyboardEvent } from 'react';
import Button from 'react-bootstrap/Button';
import type { BookEntry } from '../../../contract/book.ts';
import { weekdayDayMonth, dayMonthYear } from '../../shell/format.ts';
import { wordsOf } from '../../shell/states.tsx';
import { useNarrow } from '../../shell/use-narrow.ts';
import { EntryCells, LineCells } from './log-line.tsx';
import type { LogItem, More } from './use-log.ts';

const COLUMNS = ['When', 'Kind', 'Where', 'What', 'Reads', 'pH', ''] as const;
/** So many rows before the end the next ones are fetched. */
const AHEAD = 20;
const [WIDE, TALL, NARROW, DAY] = [38, 52, 100, 32];
/** Letters that go on one line. */
const ON_A_LINE = 62;
const isTall = (item: LogItem) =>
  (item.kind === 'line' && item.line.what.length + (item.line.was?.length ?? 0) > ON_A_LINE) ||
  (item.kind === 'entry' && item.entry.what.length + item.entry.standsOut.join(' · ').length > ON_A_LINE);

type Props = {
  items: readonly LogItem[];
  total: number;
  today: string;
  more: More;
  toggle(key: string): void;
  undo(id: string): void;
  correct(id: string): void;
  look(entry: BookEntry): void;
};

/** The log, only the rows in sight drawn. Arrow keys go from row to row; Enter opens, U takes back. */
export function LogList({ items, total, today, more, toggle, undo, correct, look }: Props) {
  const narrow = useNarrow();
  const id = useId();
  const scroller = useRef<HTMLDivElement>(null);
  const [at, setAt] = useState<string>();
  const rows = useVirtualizer({
    count: items.length,
    getScrollElement: () => scroller.current,
    estimateSize: (i) => (items[i]!.kind === 'day' ? DAY : narrow ? NARROW : isTall(items[i]!) ? TALL : WIDE),
    overscan: 12,
    getItemKey: (i) => items[i]!.key,
  });
  const drawn = rows.getVirtualItems();
  const lastDrawn = drawn.at(-1)?.index ?? 0;
  const { has, busy, error } = more;
  const wants = has && !busy && !error && lastDrawn >= items.length - AHEAD;
  const fetchMore = useEffectEvent(() => more.fetch());
  useEffect(() => {
    if (wants) fetchMore();
    // Lines may come before anybody saw that they were on their way: then their number alone tells.
  }, [wants, items.length]);
  const go = (to: number) => {
    let i = to;
    const by = to < items.findIndex(({ key }) => key === at) ? -1 : 1;
    while (items[i]?.kind === 'day' || items[i]?.kind === 'wait') i += by;
    const item = items[i];
    if (!item) return;
    setAt(item.key);
    rows.scrollToIndex(i);
  };
  const keys = (event: KeyboardEvent) => {
    if (event.target !== scroller.current) return;
    const i = items.findIndex(({ key }) => key === at);
    const item = items[i];
    const does: Partial<Record<string, () => void>> = {
      ArrowDown: () => go(i + 1),
      ArrowUp: () => go(Math.max(0, i - 1)),
      Home: () => go(0),
      ...(item?.kind === 'entry' ? { Enter: () => toggle(item.key), ' ': () => toggle(item.key) } : {}),
      ...(item?.kind === 'entry' && !item.open ? { ArrowRight: () => toggle(item.key) } : {}),
      ...(item?.kind === 'entry' && item.open ? { ArrowLeft: () => toggle(item.key) } : {}),
      ...(item?.kind === 'line' && item.line.undoable ? { u: () => undo(item.line.id) } : {}),
    };
    const act = does[event.key];
    if (!act) return;
    event.preventDefault();
    act();
  };
  const active = items.findIndex(({ key }) => key === at);
  return (
    <>
      <div
        className="log-scroll"
        ref={scroller}
        role="treegrid"
        aria-label="Log, newest first"
        aria-rowcount={total + 1}
        aria-activedescendant={
          active >= 0 && drawn.some(({ index }) => index === active) ? `${id}-${active}` : undefined
        }
        tabIndex={0}
        onKeyDown={keys}
      >
        <div role="rowgroup" className="log-head">
          <div role="row" className="log-row">
            {COLUMNS.map((c) => (
              <span key={c} role="columnheader" className={c === 'Reads' || c === 'pH' ? 'text-end' : ''}>
                {c || <span className="visually-hidden">What can be done</span>}
              </span>
            ))}
          </div>
        </div>
        <div role="rowgroup" className="log-body" style={{ height: rows.getTotalSize() }}>
          {drawn.map(({ key, index, start, size }) => {
            const item = items[index]!;
            return (
              <div
                key={key}
                id={`${id}-${index}`}
                role="row"
                aria-rowindex={index + 2}
                aria-level={item.kind === 'line' && item.step ? 2 : 1}
                {...(item.kind === 'entry' ? { 'aria-expanded': item.open } : {})}
                className={`log-row ${classOf(item)} ${isTall(item) ? 'tall' : ''} ${item.key === at ? 'at' : ''}`}
                style={{ transform: `translateY(${start}px)`, height: size }}
              >
                {item.kind === 'day' ? (
                  <span role="gridcell" className="day-name">
                    {item.on === today ? 'Today, ' : ''}
                    {item.on.slice(0, 4) === today.slice(0, 4) ? weekdayDayMonth(item.on) : dayMonthYear(item.on)}
                  </span>
                ) : item.kind === 'wait' ? (
                  <span role="gridcell" className="small">
                    Fetching its steps …
                  </span>
                ) : item.kind === 'entry' ? (
                  <EntryCells entry={item.entry} open={item.open} toggle={() => toggle(item.key)} />
                ) : (
                  <LineCells entry={item.line} undo={undo} correct={correct} look={look} />
                )}
              </div>
            );
          })}
        </div>
      </div>
      {error && <MoreFailed error={error} again={more.fetch} />}
    </>
  );
}

/** Earlier lines did not come: nothing is asked again unsaid. */
function MoreFailed({ error, again }: { error: Error; again(): void }) {
  return (
    <p className="log-failed small" role="alert">
      What was before did not come: {wordsOf(error)}
      <Button size="sm" variant="outline-secondary" onClick={again}>
        Fetch what was before
      </Button>
    </p>
  );
}

const classOf = (item: LogItem): string =>
  item.kind === 'line'
    ? `${item.line.undone ? 'undone' : ''} ${item.step ? 'step' : ''}`
    : item.kind === 'entry'
      ? `entry ${item.open ? 'open' : ''}`
      : item.kind;
