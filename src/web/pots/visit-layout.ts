import { max } from 'd3-array';
import { scaleLinear, scaleUtc } from 'd3-scale';
import type { PotView, PotVisit } from '../../contract/pots.ts';
import type { Ahead } from './ahead.ts';

/** Days drawn past today where they can be forecast. */
export const AHEAD_DAYS = 14;
export const TOP = 16;
const DAY = 86_400_000;
export const noon = (date: string) => new Date(`${date}T12:00:00Z`);
export type VisitLayout = ReturnType<typeof visitLayout>;

/** Where everything of a pot's chart stands: what is drawn, its lanes from top to bottom in px, and its scales. */
export function visitLayout(view: PotView, weeks: number, ahead: Ahead | undefined, narrow: boolean) {
  const width = narrow ? 420 : 756;
  const left = narrow ? 40 : 126;
  const laneH = narrow ? 170 : 262;
  const phTop = TOP + laneH + 26;
  const phH = narrow ? 90 : 132;
  const lanesTop = phTop + phH + 20;
  const rowH = narrow ? 19 : 24;
  const today = noon(view.today);
  const from = new Date(today.getTime() - weeks * 7 * DAY);
  const drawn = drawnOf(view, from);
  const { fills, rows } = drawn;
  const x = scaleUtc([from, new Date(today.getTime() + (ahead ? AHEAD_DAYS : 5) * DAY)], [left, width - 8]);
  const y = scaleLinear([0, strongest(view, drawn, ahead)], [TOP + laneH, TOP]).nice(5);
  const phs = phsOf(drawn, ahead);
  const yPh = scaleLinear(
    [Math.min(view.phWindow.low - 0.4, ...phs), Math.max(view.phWindow.high + 0.4, ...phs)],
    [phTop + phH, phTop],
  ).nice(4);
  const dense = fills.length > 16;
  const every = fills.length > (narrow ? 5 : 9) ? 2 : 1;
  const bottom = lanesTop + rows.length * rowH;
  const rowY = (i: number) => lanesTop + i * rowH + rowH / 2;
  return {
    ...drawn,
    ...{ view, ahead, narrow, width, left, phTop, lanesTop, rowH, x, y, yPh, dense, bottom, rowY },
    r: dense ? 3 : 4.8,
    rowOf: (name: string) => rowY(rows.indexOf(name)),
    height: bottom + 28,
    nowX: x(today),
    ticks: dense
      ? x.ticks(narrow ? 4 : 8)
      : fills.filter((_, i) => (fills.length - 1 - i) % every === 0).map((v) => noon(v.on)),
  };
}

type Drawn = ReturnType<typeof drawnOf>;

/** The visits of the stretch, by kind, and the rows of what was done that anything stands in. */
function drawnOf(view: PotView, from: Date) {
  const visits = view.visits.filter((v) => noon(v.on) >= from);
  const ofKind = (...kinds: PotVisit['kind'][]) => visits.filter((v) => kinds.includes(v.kind));
  const soaks = ofKind('soaked', 'sprayed');
  const skips = ofKind('skipped');
  const rows = [
    'Flush',
    'Feed',
    ...(soaks.length ? ['Soak, spray'] : []),
    'Looked over',
    ...(skips.length ? ['Skipped'] : []),
  ];
  return { fills: ofKind('filled'), rereads: ofKind('reread'), soaks, skips, rows };
}

function strongest(view: PotView, { fills, rereads }: Drawn, ahead: Ahead | undefined): number {
  const read = max([...fills, ...rereads], (v) => Math.max(v.pouredPpm ?? 0, v.cameOutPpmOnScale ?? 0)) ?? 0;
  const forecast = [...(ahead?.nowPpm ?? []), ...(ahead?.plan.ppm ?? []), ...(ahead?.lately?.ppm ?? [])];
  return Math.max(view.aim.highPpm * 1.25, read * 1.08, ...forecast.map((p) => p.band.high * 1.04));
}

function phsOf({ fills, rereads }: Drawn, ahead: Ahead | undefined): number[] {
  return [
    ...[...fills, ...rereads].flatMap((v) => [v.pouredPh, phOf(v)]).filter((p): p is number => p !== null),
    ...[...(ahead?.nowPh ?? []), ...(ahead?.plan.ph ?? [])].flatMap((p) => [p.band.low, p.band.high]),
  ];
}

/** What the pen or the kit showed: a range by its middle. */
export function phOf({ cameOutPh }: PotVisit): number | null {
  if (cameOutPh.kind === 'value') return cameOutPh.value;
  return cameOutPh.kind === 'range' ? (cameOutPh.low + cameOutPh.high) / 2 : null;
}
