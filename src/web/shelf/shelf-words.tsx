import { WATER_KIND_WORDS } from '../../contract/kinds.ts';
import type { ShelfRoom, ShelfValues } from '../../contract/shelf.ts';
import { dayMonth, litres } from '../shell/format.ts';

/** What is known of a water: its note, its last reading, its tank. */
export function WaterWords({ water }: { water: ShelfRoom['waters'][number] }) {
  const { values, stock, readings } = water;
  const last = readings[0];
  return (
    <>
      {values.note || WATER_KIND_WORDS[values.kind]}
      {last && ` · read ${dayMonth(last.on)}${last.from === 'alone' ? '' : ' at a mix'}`}
      {values.tankL !== null && (
        <span className="d-block">
          {stock ? (
            <>
              about <b className="ink nowrap">{litres(stock.litres)}</b> of {litres(values.tankL)}:{' '}
              {litres(stock.countedL)} on {dayMonth(stock.countedOn)}
              {stock.madeL > 0 && `, ${litres(stock.madeL)} made since`}
              {stock.usedL > 0 && `, ${litres(stock.usedL)} mixed`}
            </>
          ) : (
            `tank of ${litres(values.tankL)}, not looked into yet`
          )}
          {values.perDayL !== null && ` · ${litres(values.perDayL)} a day`}
        </span>
      )}
    </>
  );
}

/** A pen's scale, and whether it is a guess. */
export function ScaleWords({ values }: { values: ShelfValues<'meter'> }) {
  if (values.unit !== 'ppm') return <>{values.unit}</>;
  const scale = values.scale === 0.5 ? '½' : String(values.scale);
  return values.scaleFrom === 'guess' ? <span className="chip soon">{scale} scale, a guess</span> : <>{scale} scale</>;
}

/** The size of a measure, or that nobody knows it. */
export function ToolWords({ values }: { values: ShelfValues<'tool'> }) {
  const unknown = (words: string) => <span className="chip soon">{words}</span>;
  switch (values.kind) {
    case 'dropper':
      return values.dropsPerMl === null ? (
        unknown('not counted')
      ) : (
        <>
          <b className="num">{values.dropsPerMl}</b> drops to 1 mL
        </>
      );
    case 'syringe':
      return (
        <>
          <b className="num">{values.capacityMl}</b> mL by {values.stepMl}
        </>
      );
    case 'spoon':
      return values.capacityMl === null ? (
        unknown('size not known')
      ) : (
        <>
          <b className="num">{values.capacityMl}</b> mL
        </>
      );
    case 'scale':
      return (
        <>
          to <b className="num">{values.stepG}</b> g
        </>
      );
  }
}

/** How long what is left lasts at the rate it was used lately; past two years nobody counts days. */
export function lastsFor(days: number): string {
  return days > MOST_DAYS ? 'for years' : `${days} day${days === 1 ? '' : 's'}`;
}
export const MOST_DAYS = 730;
