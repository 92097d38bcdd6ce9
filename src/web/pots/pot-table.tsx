import { createColumnHelper, flexRender, tableFeatures, useTable, type Row } from '@tanstack/react-table';
import { useVirtualizer } from '@tanstack/react-virtual';
import { memo, useCallback, useEffect, useRef } from 'react';
import { Link } from 'react-router';
import { phSide } from '../../core/quantity/index.ts';
import { plusDays } from '../../core/regimen/index.ts';
import { PotSection } from '../drawing/index.ts';
import { dayMonth, mL, phText, weekdayDay } from '../shell/format.ts';
import { useNarrow } from '../shell/use-narrow.ts';
import { PhSparkline } from './ph-sparkline.tsx';
import type { PlacedPot, PotFilter, Sort } from './pot-filters.ts';
import { SIGN_WORDS } from './sign-words.ts';

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
        <PotSection drawing={pot.drawing} seed={pot.code} size={29} decorative />
        <span className="min-0">
          <Link to={`/pots/${pot.id}`}>
            {pot.code} {pot.name}
          </Link>
          <span className="small d-block fw-normal">{[pot.place, pot.spot].filter(Boolean).join(', ')}</span>
        </span>
      </span>
    ),
  }),
  helper.accessor((pot) => pot.due.words, {
    id: 'due',
    header: 'Due',
    cell: ({ row: { original: pot } }) => <b className={pot.due.daysLate > 0 ? 'late' : ''}>{pot.due.words}</b>,
  }),
  helper.accessor((pot) => pot.stand.ran?.ratio ?? null, {
    id: 'out',
    header: 'Poured → at change',
    cell: ({ row: { original: pot } }) => <Ran pot={pot} />,
  }),
  helper.accessor((pot) => pot.lastCameOut?.ph ?? null, {
    id: 'ph',
    header: 'pH at change',
    cell: ({ row: { original: pot } }) => <PhCourse pot={pot} />,
  }),
  helper.accessor((pot) => pot.stand.dryInDays, {
    id: 'dry',
    header: 'Dry by',
    cell: ({ row: { original: pot } }) => <DryBy pot={pot} />,
  }),
  helper.accessor('regimen', { id: 'regimen', header: 'Regimen' }),
  helper.accessor((pot) => pot.stand.trouble, {
    id: 'worst',
    header: 'Worst first',
    cell: ({ row: { original: pot } }) => (
      <span className="d-flex gap-1">
        {pot.oddLines > 0 && (
          <span
            className="chip late"
            title="Lines of its log cannot be understood and are left out. They are marked in the Book."
          >
            cannot be reckoned
          </span>
        )}
        {pot.stand.signs.slice(0, 2).map((sign) => (
          <span key={sign} className={`chip ${SIGN_WORDS[sign].tone}`} title={SIGN_WORDS[sign].means}>
            {SIGN_WORDS[sign].words}
          </span>
        ))}
        {pot.stand.signs.length > 2 && (
          <span className="small" title={pot.stand.signs.map((sign) => SIGN_WORDS[sign].words).join(', ')}>
            +{pot.stand.signs.length - 2}
          </span>
        )}
      </span>
    ),
  }),
]);
const SORTED: Partial<Record<string, Sort>> = {
  code: 'code',
  due: 'due',
  out: 'out',
  ph: 'ph',
  dry: 'dry',
  regimen: 'regimen',
  worst: 'worst',
};

/** What was poured, and what came out of it. */
function Ran({ pot }: { pot: PlacedPot }) {
  const { ran } = pot.stand;
  if (!ran) {
    const { lastPouredPpm, lastCameOut } = pot;
    return lastPouredPpm === null && (lastCameOut?.ppm ?? null) === null ? (
      <>—</>
    ) : (
      <span className="num small">{`${lastPouredPpm ?? '—'} → ${lastCameOut?.ppm ?? '—'} ppm`}</span>
    );
  }
  return (
    <span title={`${ran.ratio.toFixed(1)} times the pour, on ${dayMonth(ran.on)}`}>
      <b className={`num ${ran.ratio >= 1.6 ? 'late' : ''}`}>
        {ran.pouredPpm} → {ran.cameOutPpm}
      </b>
      <span className="small"> ppm</span>
    </span>
  );
}

/** pH visit by visit against where it should be, and the last in figures. */
function PhCourse({ pot }: { pot: PlacedPot }) {
  const { phs } = pot.stand;
  const last = phs.at(-1);
  if (!last) return <>—</>;
  const { phLow, phHigh } = pot.drawing;
  const out = phSide(last.ph, { low: phLow, high: phHigh }) !== 'inside';
  return (
    <span className="ph-course">
      <PhSparkline phs={phs.map((p) => p.ph)} low={phLow} high={phHigh} />
      <b className={`num ${out ? 'late' : ''}`}>{phText(last.ph)}</b>
    </span>
  );
}

/** The day a pot is down to its last, as it is spoken of: "today", "Fri 27". */
function DryBy({ pot }: { pot: PlacedPot }) {
  const { dryInDays, leftMl } = pot.stand;
  const early = pot.stand.signs.includes('drySoon');
  return (
    <span className="min-0">
      <b className={early ? 'late' : ''}>
        {dryInDays === null
          ? '—'
          : dryInDays === 0
            ? 'today'
            : dryInDays === 1
              ? 'tomorrow'
              : weekdayDay(plusDays(pot.today, dryInDays))}
      </b>
      {leftMl !== null && <span className="small d-block fw-normal">{mL(Math.round(leftMl / 5) * 5)} left</span>}
    </span>
  );
}

/** The worst come first by themselves: that order falls. */
const falling = (sort: Sort, down: boolean) => (sort === 'worst' ? !down : down);

/** The collection as a table: only the rows in sight are drawn, so that it scrolls as well with 5,000 pots as with 50. */
export function PotTable({ pots, filter, chosen, choose, chooseAll, sortBy }: Props) {
  const narrow = useNarrow();
  const table = useTable({ features, columns, data: pots, getRowId: (pot) => pot.id });
  const scroller = useRef<HTMLDivElement>(null);
  const rows = table.getRowModel().rows;
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => (narrow ? 96 : 47),
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
    <div
      className="sheet pot-table"
      ref={scroller}
      role="table"
      aria-label="Pots"
      aria-rowcount={rows.length + 1}
      tabIndex={0}
    >
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
                <span
                  role="columnheader"
                  key={header.id}
                  className={`c-${header.id}`}
                  aria-sort={on ? (falling(sort, filter.down) ? 'descending' : 'ascending') : undefined}
                >
                  {sort ? (
                    <button type="button" onClick={() => sortBy(sort)}>
                      <table.FlexRender header={header} /> {on && (falling(sort, filter.down) ? '↓' : '↑')}
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
          return (
            <PotRow
              key={row.id}
              row={row}
              index={item.index}
              start={item.start}
              size={item.size}
              chosen={chosen.has(row.id)}
              choose={chooseNow}
            />
          );
        })}
      </div>
    </div>
  );
}

type PotRowProps = {
  row: Row<typeof features, PlacedPot>;
  index: number;
  start: number;
  size: number;
  chosen: boolean;
  choose(id: string, on: boolean): void;
};

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
