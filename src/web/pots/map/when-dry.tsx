import { daysBetween, plusDays } from '../../../core/regimen/index.ts';
import { weekdayDayMonth } from '../../shell/format.ts';
import type { PlacedPot } from '../pot-filters.ts';
import type { MapProps } from './how-they-stand.tsx';
import { PotMark } from './pot-mark.tsx';

const DAYS = 7;
const SIZE = { w: 268, h: 290 };
const BASE = 236;
const STEP = 25;
/** As many as stand above each other before the rest is a figure. */
const HIGH = 7;
const HEADROOM = 34;

/** The days to come, and the pots that are down to their last on each: thick feet are due by then. */
export function WhenDry({
  pots,
  today,
  chosen,
  toggle,
  open,
  narrow,
}: Pick<MapProps, 'pots' | 'chosen' | 'toggle' | 'open' | 'narrow'> & { today: string }) {
  const known = pots.filter((pot) => pot.stand.dryInDays !== null);
  const columns = Array.from({ length: DAYS + 1 }, (_, day) => {
    const here = known.filter((pot) => (day === DAYS ? pot.stand.dryInDays! >= DAYS : pot.stand.dryInDays === day));
    return { day, pots: here.sort((a, b) => b.due.daysLate - a.due.daysLate) };
  });
  const early = known
    .filter((pot) => pot.stand.signs.includes('drySoon'))
    .sort((a, b) => a.stand.dryInDays! - b.stand.dryInDays!)
    .at(0);
  const x = (day: number) => (day === DAYS ? SIZE.w - 28 : 14 + day * 29);
  const y = (row: number) => BASE - 13 - row * STEP;
  const nameOf = (day: number) => (day === DAYS ? 'later' : weekdayDayMonth(plusDays(today, day)).slice(0, 3));
  const most = Math.max(0, ...columns.slice(0, DAYS).map((c) => Math.min(HIGH, c.pots.length)));
  // On the phone nothing stands above it that would have its height.
  const tallest = Math.min(
    HIGH,
    Math.max(2, ...columns.map((c) => Math.ceil(c.pots.length / (c.day === DAYS ? 2 : 1)))),
  );
  const top = narrow ? Math.max(0, BASE - tallest * STEP - HEADROOM) : 0;
  const summary = columns.map((c) => `${nameOf(c.day)} ${c.pots.length}`).join(', ');
  return (
    <figure className="when-dry">
      <figcaption>
        <h2>When they run dry</h2>
        <span className="small push">down to 15 %</span>
      </figcaption>
      <svg
        viewBox={`0 ${top} ${SIZE.w} ${SIZE.h - top}`}
        role="group"
        aria-label={`Pots down to 15 % by day: ${summary}`}
      >
        <rect
          className="soon-days"
          x={0}
          y={BASE - Math.max(2, most) * STEP - 8}
          width={58}
          height={Math.max(2, most) * STEP + 8}
          rx="4"
        />
        <path className="shelf-line" d={`M0 ${BASE}H${SIZE.w}`} />
        {columns.map(({ day, pots: here }) => (
          <g key={day}>
            {placesOf(here.length, day === DAYS).map(({ row, side }, i) => {
              const pot = here[i]!;
              return (
                <g
                  key={pot.id}
                  className="pot-mark"
                  role="button"
                  tabIndex={-1}
                  aria-label={dryLabel(pot, today)}
                  aria-pressed={chosen.has(pot.id)}
                  onClick={(e) => (e.shiftKey || e.ctrlKey || e.metaKey ? toggle(pot.id) : open(pot.id))}
                >
                  <title>{dryLabel(pot, today)}</title>
                  <PotMark pot={pot} x={x(day) + side * 14} y={y(row)} chosen={chosen.has(pot.id)} scale={0.95} />
                </g>
              );
            })}
            {here.length > roomIn(day === DAYS) && (
              <text className="more" x={x(day)} y={y(HIGH - 1) + 4} textAnchor="middle">
                +{here.length - roomIn(day === DAYS)}
              </text>
            )}
            <text className={`day ${day < 2 ? 'near' : ''}`} x={x(day)} y={BASE + 18} textAnchor="middle">
              {nameOf(day)}
            </text>
            <text className="count" x={x(day)} y={BASE + 37} textAnchor="middle">
              {here.length}
            </text>
          </g>
        ))}
        {early && (
          <g className="name late" aria-hidden>
            <text x="0" y="14" className="strong">
              {early.code} {early.name}
            </text>
            <text x="0" y="30">
              {early.stand.dryInDays === 0
                ? 'dry today'
                : early.stand.dryInDays === 1
                  ? 'dry tomorrow'
                  : `dry in ${early.stand.dryInDays} days`}
              , not due for {daysBetween(today, early.due.dueOn)} d
            </text>
          </g>
        )}
      </svg>
      {known.length < pots.length && (
        <p className="small mb-0">
          {pots.length - known.length} not forecast: never filled with a mix that is known, or past what is looked
          ahead.
        </p>
      )}
    </figure>
  );
}

/** How many marks a column has room for: two abreast for all that is later. */
const roomIn = (twoAbreast: boolean) => (twoAbreast ? 2 : 1) * (HIGH - 1);

function placesOf(count: number, twoAbreast: boolean): { row: number; side: number }[] {
  const room = twoAbreast ? 2 * HIGH : HIGH;
  const shown = count > room ? roomIn(twoAbreast) : count;
  return Array.from({ length: shown }, (_, i) =>
    twoAbreast ? { row: Math.floor(i / 2), side: i % 2 === 0 ? -1 : 1 } : { row: i, side: 0 },
  );
}

function dryLabel(pot: PlacedPot, today: string): string {
  return `${pot.code} ${pot.name}, down to its last on ${weekdayDayMonth(plusDays(today, pot.stand.dryInDays!))}, ${pot.due.words}`;
}
