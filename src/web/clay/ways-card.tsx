import { max } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import { line } from 'd3-shape';
import type { ClayBatchView } from '../../contract/clay.ts';
import type { ClayWay } from '../../contract/kinds.ts';
import type { PathPoint } from '../../core/clay/index.ts';
import { litres, ppmText } from '../shell/format.ts';
import { spanWords } from './clay-words.ts';
import { AIM_SHARE, type WayForecast } from '../../core/clay/index.ts';
import { useClayAct } from './send-clay.ts';

const NAMES: Record<ClayWay, string> = { litres: 'Fewest litres', days: 'Fewest days', own: 'Yours' };
const [WIDTH, HEIGHT] = [92, 42];

/** A way that ends within the day is no nought of days. */
const daysOf = (hours: number) =>
  hours > 0 && hours < 12 ? 'under 1' : String(Math.max(0, Number((hours / 24).toFixed(1))));

/** The ways to the gate from here on, side by side on one time scale; the one that is followed leads the forecast and the next act. */
export function WaysCard({
  batch,
  ways,
  onPen,
  usedL,
  days,
}: {
  batch: ClayBatchView;
  ways: readonly WayForecast[] | undefined;
  onPen(half: number): number;
  usedL: number;
  days: number;
}) {
  const { send, busy } = useClayAct();
  const aim = batch.values.gatePpm * AIM_SHARE;
  const follow = (way: ClayWay) => {
    if (way !== batch.values.way)
      void send(
        { kind: 'put', clayId: batch.id, values: { ...batch.values, way } },
        `${batch.values.name}: ${NAMES[way].toLowerCase()}`,
      );
  };
  if (!ways) return <p className="small m-2">Working the ways out …</p>;
  const least = (of: (w: WayForecast) => number) => Math.min(...ways.filter((w) => w.plan.reached).map(of));
  const best = { litres: least((w) => w.plan.litres), days: least((w) => w.plan.hours) };
  const longest = Math.max(
    72,
    ...ways.map((w) => w.forecast.coming.at(-1)?.toHours ?? 0),
    ...ways.map((w) => w.forecast.past.at(-1)!.toHours),
  );
  const nothing = ways.every((w) => w.plan.changes.length === 0);
  return (
    <table>
      <caption className="visually-hidden">Ways to reach {ppmText(aim)} ppm over the base, from now on</caption>
      <colgroup>
        <col />
        <col />
        <col />
        <col />
        <col />
      </colgroup>
      <thead>
        <tr>
          <th colSpan={2} scope="col" className="title">
            Ways to reach {ppmText(aim)}
          </th>
          <th scope="col">{litres(1).replace(/^[\d.]+\s*/, '') === 'L' ? 'litres' : 'water'}</th>
          <th scope="col">days</th>
          <th scope="col">changes</th>
        </tr>
      </thead>
      <tbody>
        {ways.map((w) => {
          const followed = w.way === batch.values.way;
          return (
            <tr key={w.way} className={followed ? 'followed' : ''}>
              <th scope="row">
                <label>
                  <input
                    type="radio"
                    className="form-check-input"
                    name="way"
                    checked={followed}
                    disabled={busy}
                    onChange={() => follow(w.way)}
                  />
                  <span>
                    {w.way === 'own' && batch.leach ? 'Yours so far' : NAMES[w.way]}
                    <small>{cadence(w)}</small>
                  </span>
                </label>
              </th>
              <td>
                <Mini
                  way={w}
                  longest={longest}
                  onPen={onPen}
                  gate={batch.values.gatePpm}
                  begun={batch.leach !== null}
                />
              </td>
              {w.plan.reached ? (
                <>
                  <td className={Math.abs(w.plan.litres - best.litres) < 0.05 ? 'best' : ''}>
                    {litres(w.plan.litres).replace(/\u00a0L$/, '')}
                    {w.way === 'own' && batch.leach && <small>{litres(usedL).replace(/\u00a0L$/, '')} used</small>}
                  </td>
                  <td className={Math.abs(w.plan.hours - best.days) < 1 ? 'best' : ''}>
                    {daysOf(w.plan.hours)}
                    {w.way === 'own' && batch.leach && <small>{Math.round(days)} gone</small>}
                  </td>
                  <td>
                    {w.plan.changes.length}
                    {w.way === 'own' && batch.leach && <small>{batch.leach.changes} done</small>}
                  </td>
                </>
              ) : (
                <td colSpan={3} className="not">
                  not within four weeks with the water there is: best {ppmText(onPen(w.plan.standardPpm))}
                </td>
              )}
            </tr>
          );
        })}
        {nothing && (
          <tr>
            <td colSpan={5} className="not">
              Nothing more to change: this clay stays under the gate. It only stands now.
            </td>
          </tr>
        )}
      </tbody>
    </table>
  );
}

function cadence({ plan }: WayForecast): string {
  const { changes } = plan;
  if (changes.length === 0) return 'nothing to change';
  if (changes.length === 1)
    return changes[0]!.inHours < 1 ? 'one change, now' : `one change in ${spanWords(changes[0]!.inHours)}`;
  const waits = changes.map((c, i) => c.inHours - (changes[i - 1]?.inHours ?? 0));
  const usual = waits.length > 1 ? waits.slice(1).reduce((a, b) => a + b, 0) / (waits.length - 1) : waits[0]!;
  return `${litres(changes[0]!.freshL)} every ${spanWords(usual)}`;
}

function Mini({
  way,
  longest,
  onPen,
  gate,
  begun,
}: {
  way: WayForecast;
  longest: number;
  onPen(half: number): number;
  gate: number;
  begun: boolean;
}) {
  const { past, standing, coming } = way.forecast;
  const top = Math.max(
    gate * 1.5,
    max([...past, ...coming], (leach) => onPen(leach.points.at(-1)!.mean)) ?? 0,
    onPen(standing.at(-1)?.mean ?? 0),
  );
  const x = scaleLinear([0, longest], [1, WIDTH - 4]);
  const y = scaleLinear([0, top], [HEIGHT - 3, 3]);
  const path = line<PathPoint>()
    .x((p) => x(p.atHours))
    .y((p) => y(onPen(p.mean)));
  const draw = (runs: readonly (readonly PathPoint[])[]) =>
    runs
      .map((points) => path([...points])!)
      .join('L')
      .replaceAll('LM', 'L');
  const done = begun ? past : [];
  const ahead = [standing, ...coming.map((leach) => leach.points)].filter((points) => points.length > 0);
  const end = ahead.at(-1)?.at(-1) ?? past.at(-1)!.points.at(-1)!;
  return (
    <svg width={WIDTH} height={HEIGHT} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} aria-hidden>
      <path d={`M0 ${y(gate)}H${WIDTH}`} stroke="#7fb08e" strokeWidth={1.2} />
      {done.map((s) => (
        <path
          key={s.fromHours}
          d={`${path(s.points)!}L${x(s.toHours)} ${y(0)}H${x(s.fromHours)}Z`}
          fill="#0e5a63"
          opacity={0.16}
        />
      ))}
      {done.length > 0 && (
        <path
          d={draw(done.map((leach) => leach.points))}
          fill="none"
          stroke="#0e5a63"
          strokeWidth={1.5}
          strokeLinejoin="round"
        />
      )}
      {ahead.length > 0 && (
        <path d={draw(ahead)} fill="none" stroke="#a24e2c" strokeWidth={1.3} strokeDasharray="3 2.5" />
      )}
      <circle cx={x(end.atHours)} cy={y(onPen(end.mean))} r={2.8} fill="#2f6b45" />
    </svg>
  );
}
