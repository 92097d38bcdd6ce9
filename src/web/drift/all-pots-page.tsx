import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import ProgressBar from 'react-bootstrap/ProgressBar';
import { Link } from 'react-router';
import type { DriftPot, DriftRoom, PotModelWire } from '../../contract/drift.ts';
import { DRY_SHARE, SALT_TIMES, type Band } from '../../core/drift/index.ts';
import { daysBetween, plusDays } from '../../core/regimen/index.ts';
import { Z90 } from '../../core/statistics/index.ts';
import { PotSection } from '../drawing/index.ts';
import { Term } from '../shell/term.tsx';
import { inSmallUnit, mL, phText, ppmText, weekdayDayMonth } from '../shell/format.ts';
import { Failed, Loading } from '../shell/states.tsx';
import { driftQuery, modelsQuery } from './drift-query.ts';
import { useBands, type Bands } from './use-drift-worker.ts';
import { DateInput } from '../shell/date-input.tsx';

const DAYS_AHEAD = 14;
/** The Sunday that comes; a Sunday's own is the next. */
const nextSunday = (today: string) => plusDays(today, 7 - new Date(`${today}T00:00:00Z`).getUTCDay());

/** Every pot: who pushes hardest, who is salting up, who will be dry by a day. */
export function AllPotsPage() {
  const room = useQuery(driftQuery);
  const models = useQuery(modelsQuery);
  if (room.isPending || models.isPending) return <Loading what="every pot" />;
  if (!room.data || !models.data)
    return <Failed error={room.error ?? models.error} retry={() => (void room.refetch(), void models.refetch())} />;
  return <AllPots room={room.data} models={models.data} />;
}

type Sort = 'dry' | 'salts' | 'push';
const SORTS: Record<Sort, string> = {
  dry: 'Who will be dry',
  salts: 'Who is salting up',
  push: 'Whose clay lifts pH most',
};

function AllPots({ room, models }: { room: DriftRoom; models: readonly PotModelWire[] }) {
  const [by, setBy] = useState(() => nextSunday(room.today));
  const [sort, setSort] = useState<Sort>('dry');
  const state = useBands(models, DAYS_AHEAD);
  const gone = useMemo(() => new Map(models.map((m) => [m.potId, m.daysGone])), [models]);
  const ahead = daysBetween(room.today, by);
  const bands = state.state === 'ready' ? state.bands : undefined;
  const rows = room.pots.map((pot) => rowOf(pot, bands, (gone.get(pot.id) ?? 0) + ahead, room.scale));
  const sorted = [...rows].sort(ORDER[sort]);
  const dry = rows.filter((r) => r.dry === 'surely' || r.dry === 'likely');
  const before = room.pots.filter(dryFirst);
  const salty = rows.filter((r) => r.times >= SALT_TIMES);
  return (
    <div className="page drift-page all">
      <header>
        <div className="min-0">
          <h1>Drift, every pot</h1>
          <div className="small">
            {before.length} dry before their own day · {bands ? `${dry.length} by` : 'counting those by'}{' '}
            {weekdayDayMonth(by)} if nobody fills them · {salty.length} salting up
          </div>
        </div>
        <div className="push d-flex gap-2 align-items-center flex-wrap all-drift-head">
          <div className="seg" role="group" aria-label="In the order of">
            {(Object.keys(SORTS) as Sort[]).map((s) => (
              <button
                key={s}
                type="button"
                aria-pressed={s === sort}
                className={s === sort ? 'on' : ''}
                onClick={() => setSort(s)}
              >
                {SORTS[s]}
              </button>
            ))}
          </div>
          <label className="d-flex gap-2 align-items-center">
            <span className="small">by</span>
            <DateInput
              size="sm"
              aria-label="By which day"
              min={plusDays(room.today, 1)}
              max={plusDays(room.today, DAYS_AHEAD)}
              value={by}
              onChange={(e) => e.target.value && setBy(e.target.value)}
            />
          </label>
          <Link className="btn btn-sm btn-outline-secondary" to="/drift">
            One pot
          </Link>
        </div>
      </header>
      {state.state === 'working' && (
        <div className="sheet p-2 d-flex gap-3 align-items-center" role="status">
          <span className="small nowrap">
            Drawing how sure it is: {state.done} of {state.of} pots
          </span>
          {/* The bar inside is what has the role, and so takes the name. */}
          <ProgressBar className="flex-fill">
            <ProgressBar now={state.of === 0 ? 0 : (100 * state.done) / state.of} aria-label="Pots drawn" />
          </ProgressBar>
          <button type="button" className="btn btn-sm btn-outline-secondary" onClick={() => state.stop()}>
            Stop
          </button>
        </div>
      )}
      {state.state === 'stopped' && (
        <div className="sheet p-2 d-flex gap-3 align-items-center" role="status">
          <span className="small">Stopped: what is shown is the middle of each forecast, without its range.</span>
          <button type="button" className="btn btn-sm btn-outline-secondary push" onClick={() => state.again()}>
            Draw the ranges
          </button>
        </div>
      )}
      <div className="sheet all-pots" tabIndex={0} role="group" aria-label="Pots">
        <table className="table mb-0">
          <thead>
            <tr>
              <th scope="col">Pot</th>
              <th scope="col">Due</th>
              <th scope="col">Left by {weekdayDayMonth(by)}</th>
              <th scope="col">Strength then, ppm</th>
              <th scope="col">pH then</th>
              <th scope="col">
                <Term of="alkali">Alkali it gives</Term>, µeq a week
              </th>
              <th scope="col">Flush it with</th>
            </tr>
          </thead>
          <tbody>
            {sorted.map((r) => (
              <PotRow key={r.pot.id} row={r} today={room.today} />
            ))}
          </tbody>
        </table>
        {room.unknown.length > 0 && (
          <p className="small m-2">
            Nothing can be foretold of {room.unknown.map((p) => p.code).join(', ')}: never filled with a mix that is
            known, or with one past what the chemistry reaches (a label or a reading that is wrong).
          </p>
        )}
      </div>
    </div>
  );
}

/** Dry before its own due day. */
const dryFirst = (pot: DriftPot) => pot.dryOn !== null && pot.dryOn < pot.dueOn;

type Dry = 'surely' | 'likely' | 'maybe' | 'no';
type Row = {
  pot: DriftPot;
  left: Band | undefined;
  ppm: Band | undefined;
  ph: Band | undefined;
  dry: Dry;
  times: number;
};
const RANK: Record<Dry, number> = { surely: 3, likely: 2, maybe: 1, no: 0 };
const DRY_WORDS: Record<Dry, string> = { surely: 'dry by then', likely: 'likely dry', maybe: 'may be dry', no: '' };
const ORDER: Record<Sort, (a: Row, b: Row) => number> = {
  dry: (a, b) =>
    Number(dryFirst(b.pot)) - Number(dryFirst(a.pot)) ||
    RANK[b.dry] - RANK[a.dry] ||
    (a.pot.dryOn ?? '9').localeCompare(b.pot.dryOn ?? '9'),
  salts: (a, b) => b.times - a.times,
  push: (a, b) => b.pot.weekUeq.mean - a.pot.weekUeq.mean,
};

/** A pot on a day, as far as it is drawn; before that by its mean path. */
function rowOf(pot: DriftPot, bands: Bands | undefined, day: number, scale: number): Row {
  const drawn = bands?.get(pot.id);
  const at = drawn?.[Math.min(day, drawn.length - 1)];
  const dryMl = DRY_SHARE * pot.fillMl;
  const ppm = at && { low: at.ecUsCm.low * scale, middle: at.ecUsCm.middle * scale, high: at.ecUsCm.high * scale };
  const last = pot.ratios.at(-1) ?? 0;
  const dry: Dry = !at
    ? 'no'
    : at.freeMl.high <= dryMl
      ? 'surely'
      : at.freeMl.middle <= dryMl
        ? 'likely'
        : at.freeMl.low <= dryMl
          ? 'maybe'
          : 'no';
  return { pot, left: at?.freeMl, ppm, ph: at?.ph, dry, times: Math.max(last, pot.now.ppm / Math.max(1, pot.aimPpm)) };
}

function PotRow({ row: { pot, left, ppm, ph, dry, times }, today }: { row: Row; today: string }) {
  return (
    <tr>
      <th scope="row">
        <div className="d-flex gap-2 align-items-center">
          <PotSection drawing={pot.drawing} seed={pot.code} size={30} name={pot.code} />
          <div>
            <Link to={`/drift?pot=${pot.id}`}>
              {pot.code} {pot.name}
            </Link>
            <div className="small">
              {pot.place}
              {pot.atLarge && ' · never read: as most pots do'}
            </div>
          </div>
        </div>
      </th>
      <td data-what="due">
        {pot.dueOn <= today ? (
          <Link to={`/round?pot=${pot.id}`}>{pot.dueOn < today ? 'late' : 'today'}</Link>
        ) : (
          weekdayDayMonth(pot.dueOn)
        )}
      </td>
      <LeftCell left={left} pot={pot} dry={dry} today={today} />
      <StrengthCell ppm={ppm} pot={pot} times={times} />
      <PhCell ph={ph} pot={pot} />
      <td data-what="alkali, µeq">
        {String(Math.round(pot.weekUeq.mean)).replace('-', '−')} <small>± {Math.round(Z90 * pot.weekUeq.sd)}</small>
      </td>
      <td data-what="flush">
        {pot.flush.words}
        <div className="small">
          {pot.flush.afterPpm !== null && `then about ${ppmText(pot.flush.afterPpm)}`}
          {pot.flush.lately &&
            pot.flush.afterPpm !== null &&
            pot.flush.lately.afterPpm > pot.flush.afterPpm * 1.1 &&
            `; ${mL(pot.flush.lately.ml)} as lately leaves ${ppmText(pot.flush.lately.afterPpm)}`}
        </div>
      </td>
    </tr>
  );
}

function PhCell({ ph, pot }: { ph: Band | undefined; pot: DriftPot }) {
  return (
    <td data-what="pH">
      {ph && pot.now.ph !== null ? (
        <>
          {phText(ph.middle)}{' '}
          <small>
            {phText(ph.low)} to {phText(ph.high)}
          </small>
        </>
      ) : pot.atVisit.ph === null ? (
        <span className="small">its mix was not read</span>
      ) : (
        phText(pot.atVisit.ph)
      )}
    </td>
  );
}

function StrengthCell({ ppm, pot, times }: { ppm: Band | undefined; pot: DriftPot; times: number }) {
  return (
    <td data-what="strength">
      {ppm ? (
        <>
          {ppmText(ppm.middle)}{' '}
          <small>
            {ppmText(ppm.low)} to {ppmText(ppm.high)}
          </small>
        </>
      ) : (
        ppmText(pot.atVisit.ppm)
      )}
      {times >= SALT_TIMES && <span className="chip late ms-1">{times.toFixed(1)} × its feed</span>}
      <div className="small">
        feed {ppmText(pot.aimPpm)}; old reservoir {pot.ratios.map((r) => `${r.toFixed(1)}×`).join(', ') || 'never read'}
      </div>
    </td>
  );
}

function LeftCell({ left, pot, dry, today }: { left: Band | undefined; pot: DriftPot; dry: Dry; today: string }) {
  return (
    <td data-what="left">
      {left ? (
        <>
          {mL(Math.round(left.middle / 5) * 5)}{' '}
          <small>
            {inSmallUnit(Math.round(left.low))} to {inSmallUnit(Math.round(left.high))}
          </small>
        </>
      ) : (
        <>{mL(pot.atVisit.leftMl)} at its due day</>
      )}
      {dry !== 'no' && (
        <span className={`chip ${dryFirst(pot) ? 'late' : dry === 'maybe' ? '' : 'soon'} ms-1`}>
          {dryFirst(pot) ? 'dry before its day' : DRY_WORDS[dry]}
        </span>
      )}
      {pot.dryOn !== null && (
        <div className="small">15 % left {pot.dryOn <= today ? 'by now' : `on ${weekdayDayMonth(pot.dryOn)}`}</div>
      )}
    </td>
  );
}
