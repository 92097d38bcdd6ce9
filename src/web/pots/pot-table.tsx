import { createColumnHelper, flexRender, tableFeatures, useTable, type Row } from '@tanstack/react-table';
import { useVirtualizer } from '@tanstack/react-virtual';
import { memo, useCallback, useEffect, useRef } from 'react';
import { Link } from 'react-router';
import { PotSection } from '../drawing/index.ts';
import { dayMonth, phText } from '../shell/format.ts';
import { useNarrow } from '../shell/use-narrow.ts';
import type { PlacedPot, PotFilter, Sort } from './pot-filters.ts';

type Props = {
  pots: readonly PlacedPot[];
  filter: PotFilter;
  chosen: ReadonlySet<string>;
  choose(id: string, on: boolean): void;
  chooseAll(on: boolean): void;
  sortBy(sort: Sort): void;
};

const features = tableFeatures({});
const helper = createColumnHelper<typeof features, PlacedPot>();
/** Which column each order belongs to. */
const columns = helper.columns([
  helper.accessor('code', {
    id: 'code',
    header: 'Pot',
    cell: ({ row: { original: pot } }) => (
      <span className="d-flex align-items-center gap-2">
        <PotSection drawing={pot.drawing} seed={pot.code} size={40} decorative />
        <span className="min-0">
          <Link to={`/pots/${pot.id}`}>
            {pot.code} {pot.name}
          </Link>
          <span className="small d-block fw-normal">
            {pot.drawing.stage}
            {pot.spot && `, ${pot.spot}`}
          </span>
        </span>
      </span>
    ),
  }),
  helper.accessor('place', { id: 'shelf', header: 'Place' }),
  helper.accessor((pot) => pot.due.words, {
    id: 'due',
    header: 'Due',
    cell: ({ row: { original: pot } }) => <span className={pot.due.daysLate > 0 ? 'late' : ''}>{pot.due.words}</span>,
  }),
  helper.accessor('lastPouredPpm', {
    id: 'poured',
    header: 'Poured',
    cell: ({ getValue }) => <b className="num">{getValue() ?? '—'}</b>,
  }),
  helper.accessor((pot) => pot.lastCameOut?.ppm ?? null, {
    id: 'out',
    header: 'Came out, ppm',
    cell: ({ row: { original: pot }, getValue }) => (
      <>
        <b className="num">{getValue() ?? '—'}</b>
        {pot.lastCameOut && <span className="small"> {dayMonth(pot.lastCameOut.on)}</span>}
      </>
    ),
  }),
  helper.accessor((pot) => pot.lastCameOut?.ph ?? null, {
    id: 'ph',
    header: 'pH',
    cell: ({ getValue }) => {
      const ph = getValue();
      return <span className="num">{ph === null ? '—' : phText(ph)}</span>;
    },
  }),
  helper.accessor('regimen', { id: 'regimen', header: 'Regimen' }),
  helper.accessor((pot) => pot.clay ?? 'none', { id: 'clay', header: 'Clay' }),
]);
const SORTED: Partial<Record<string, Sort>> = { code: 'code', shelf: 'shelf', due: 'due', poured: 'poured', out: 'out', ph: 'ph', regimen: 'regimen' };

/** The collection as a table: only the rows in sight are drawn, so that it scrolls as well with 5,000 pots as with 50. */
export function PotTable({ pots, filter, chosen, choose, chooseAll, sortBy }: Props) {
  const narrow = useNarrow();
  const table = useTable({ features, columns, data: pots, getRowId: (pot) => pot.id });
  const scroller = useRef<HTMLDivElement>(null);
  const rows = table.getRowModel().rows;
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => (narrow ? 96 : 62),
    overscan: 8,
    getItemKey: (i) => rows[i]!.id,
  });
  const latest = useRef(choose);
  useEffect(() => {
    latest.current = choose;
  });
  const chooseNow = useCallback((id: string, on: boolean) => latest.current(id, on), []);
  const all = pots.length > 0 && pots.every((p) => chosen.has(p.id));
  return (
    <div className="sheet pot-table" ref={scroller} role="table" aria-label="Pots" aria-rowcount={rows.length + 1} tabIndex={0}>
      <div role="rowgroup" className="pot-table-head">
        {table.getHeaderGroups().map((group) => (
          <div role="row" className="pot-row" key={group.id}>
            <span role="columnheader" className="box">
              <input
                type="checkbox"
                className="form-check-input"
                aria-label={`Choose all ${pots.length} found`}
                checked={all}
                onChange={(e) => chooseAll(e.target.checked)}
              />
            </span>
            {group.headers.map((header) => {
              const sort = SORTED[header.id];
              const on = sort !== undefined && filter.sort === sort;
              return (
                <span role="columnheader" key={header.id} className={`c-${header.id}`} aria-sort={on ? (filter.down ? 'descending' : 'ascending') : undefined}>
                  {sort ? (
                    <button type="button" onClick={() => sortBy(sort)}>
                      <table.FlexRender header={header} /> {on && (filter.down ? '↓' : '↑')}
                    </button>
                  ) : (
                    <table.FlexRender header={header} />
                  )}
                </span>
              );
            })}
          </div>
        ))}
      </div>
      <div role="rowgroup" className="pot-table-body" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map((item) => {
          const row = rows[item.index]!;
          return <PotRow key={row.id} row={row} index={item.index} start={item.start} size={item.size} chosen={chosen.has(row.id)} choose={chooseNow} />;
        })}
      </div>
    </div>
  );
}

type PotRowProps = { row: Row<typeof features, PlacedPot>; index: number; start: number; size: number; chosen: boolean; choose(id: string, on: boolean): void };

/** One row; drawn once, however often the table is scrolled. */
const PotRow = memo(function PotRow({ row, index, start, size, chosen, choose }: PotRowProps) {
  const pot = row.original;
  return (
    <div
      role="row"
      aria-rowindex={index + 2}
      aria-selected={chosen}
      className={`pot-row ${chosen ? 'chosen' : ''}`}
      style={{ transform: `translateY(${start}px)`, height: size }}
    >
      <span role="cell" className="box">
        <input
          type="checkbox"
          className="form-check-input"
          aria-label={`Choose ${pot.code}`}
          checked={chosen}
          onChange={(e) => choose(pot.id, e.target.checked)}
        />
      </span>
      {row.getAllCells().map((cell) => (
        <span role={cell.column.id === 'code' ? 'rowheader' : 'cell'} key={cell.id} className={`c-${cell.column.id}`}>
          {flexRender(cell.column.columnDef.cell, cell.getContext())}
        </span>
      ))}
    </div>
  );
});
