import { polygonContains } from 'd3-polygon';
import { useMemo, useRef, useState, type KeyboardEvent, type PointerEvent, type RefObject } from 'react';
import { PotSection } from '../../drawing/index.ts';
import type { PlacedPot } from '../pot-filters.ts';
import { standLabel, standWords } from '../sign-words.ts';
import {
  COMFORTABLE,
  isRead,
  layOut,
  leastCovered,
  nextTo,
  scalesOf,
  type Box,
  type Frame,
  type Placed,
} from './stand-layout.ts';
import { MARK, PotMark } from './pot-mark.tsx';

export type MapProps = {
  pots: readonly PlacedPot[];
  chosen: ReadonlySet<string>;
  toggle(id: string): void;
  /** Adds to what is chosen. */
  chooseAll(ids: readonly string[]): void;
  open(id: string): void;
  narrow: boolean;
};

const RATIO_TICKS = [0.6, 0.8, 1, 1.4, 2, 2.5];
const PH_TICKS = [5.5, 6, 6.5, 7, 7.5];
const SECTION = { width: 42, height: 61 };
/** More pots than so many are drawn smaller. */
const MANY = 120;
/** On a narrower map the words of the axis would meet. */
const NARROW_FRAME = 400;
/** A drag shorter than this, px, is a slip. */
const LEAST_DRAG = 12;

type Point = readonly [number, number];

/** The collection as one picture: what came out against what was poured, and its pH. Dragged round, pots are chosen. */
export function HowTheyStand({ pots, chosen, toggle, chooseAll, open, narrow }: MapProps) {
  const size = narrow ? { w: 360, h: 330 } : { w: 618, h: 290 };
  const frame: Frame = useMemo(() => ({ left: 34, right: size.w - 6, top: 14, bottom: size.h - 40 }), [size.w, size.h]);
  const scale = pots.length > MANY ? 0.62 : narrow ? 0.85 : 1;
  const standing = useMemo(() => layOut(pots, frame, MARK * scale), [pots, frame, scale]);
  const svg = useRef<SVGSVGElement>(null);
  const [focused, setFocused] = useState<string>();
  const named = useMemo(() => labelsOf(standing, frame), [standing, frame]);

  const { path, lasso } = useLasso(svg, { size, narrow, standing, chooseAll });
  const keys = (event: KeyboardEvent, at: Placed) => {
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
    if (way) {
      event.preventDefault();
      const next = nextTo(at, standing, way[0]!, way[1]!);
      if (next) svg.current?.querySelector<SVGGElement>(`[data-id="${next.pot.id}"]`)?.focus();
    } else if (event.key === 'Enter') open(at.pot.id);
    else if (event.key === 'x' || event.key === ' ') {
      event.preventDefault();
      toggle(at.pot.id);
    }
  };
  const entry = focused && standing.some((s) => s.pot.id === focused) ? focused : standing[0]?.pot.id;
  return (
    <figure className="how-they-stand">
      <figcaption>
        <h2>How they stand</h2>
        <span className="small">
          {narrow
            ? 'at the last change; tap to open'
            : 'at the last change, nudged apart; drag round pots to choose them, X chooses one'}
        </span>
      </figcaption>
      <svg
        ref={svg}
        viewBox={`0 0 ${size.w} ${size.h}`}
        role="group"
        aria-label={`${standing.length} pots by the old reservoir over what was poured and by pH at the change. Arrow keys go from pot to pot, Enter opens, X chooses.`}
        {...lasso}
      >
        <Axes frame={frame} unread={narrow ? [] : pots.filter((pot) => !isRead(pot))} />
        {standing.map((s) => (
          <g
            key={s.pot.id}
            data-id={s.pot.id}
            data-pot={s.pot.code}
            className="pot-mark"
            role="button"
            tabIndex={s.pot.id === entry ? 0 : -1}
            aria-label={standLabel(s.pot)}
            aria-pressed={chosen.has(s.pot.id)}
            onFocus={() => setFocused(s.pot.id)}
            onKeyDown={(e) => keys(e, s)}
            onClick={(e) => (e.shiftKey || e.ctrlKey || e.metaKey ? toggle(s.pot.id) : open(s.pot.id))}
          >
            <Mark at={s} chosen={chosen.has(s.pot.id)} scale={scale} />
          </g>
        ))}
        {named.map((name) => (
          <Named key={name.pot.id} {...name} />
        ))}
        {path.length > 1 && <path className="lasso" d={`M${path.map((p) => p.join(' ')).join('L')}Z`} />}
      </svg>
    </figure>
  );
}

type Lasso = Pick<MapProps, 'narrow' | 'chooseAll'> & { size: { w: number; h: number }; standing: readonly Placed[] };

/** A loop drawn round pots chooses them. */
function useLasso(svg: RefObject<SVGSVGElement | null>, { size, narrow, standing, chooseAll }: Lasso) {
  const [path, setPath] = useState<readonly Point[]>([]);
  const pointOf = (event: PointerEvent): Point => {
    const box = svg.current!.getBoundingClientRect();
    return [((event.clientX - box.left) / box.width) * size.w, ((event.clientY - box.top) / box.height) * size.h];
  };
  // What was drawn last counts, rendered or not.
  const drawn = useRef<readonly Point[]>([]);
  const draw = (next: readonly Point[]) => {
    drawn.current = next;
    setPath(next);
  };
  const ended = () => {
    if (drawn.current.length > 3 && lengthOf(drawn.current) > LEAST_DRAG) {
      const loop = drawn.current.map(([px, py]): [number, number] => [px, py]);
      chooseAll(standing.filter((s) => polygonContains(loop, [s.x, s.y])).map((s) => s.pot.id));
    }
    draw([]);
  };
  const lasso = {
    onPointerDown: (e: PointerEvent<SVGSVGElement>) => {
      if (e.button !== 0 || (e.pointerType === 'touch' && narrow)) return;
      if ((e.target as Element).closest('[data-id]')) return;
      e.currentTarget.setPointerCapture(e.pointerId);
      draw([pointOf(e)]);
    },
    onPointerMove: (e: PointerEvent) => drawn.current.length > 0 && draw([...drawn.current, pointOf(e)]),
    onPointerUp: ended,
    onPointerCancel: () => draw([]),
  };
  return { path, lasso };
}

function Axes({ frame, unread }: { frame: Frame; unread: readonly PlacedPot[] }) {
  const { x, y } = scalesOf(frame);
  return (
    <>
      <rect
        className="comfortable"
        x={x(COMFORTABLE.ratio[0])}
        y={y(COMFORTABLE.ph[1])}
        width={x(COMFORTABLE.ratio[1]) - x(COMFORTABLE.ratio[0])}
        height={y(COMFORTABLE.ph[0]) - y(COMFORTABLE.ph[1])}
        rx="3"
      />
      <path
        className="axis"
        d={`M${frame.left} ${frame.bottom}H${frame.right}M${frame.left} ${frame.bottom}V${frame.top}`}
      />
      <text className="axis-words" x="2" y={frame.top - 3}>
        pH
      </text>
      {PH_TICKS.map((p) => (
        <g key={p}>
          <path className="tick" d={`M${frame.left - 4} ${y(p)}h4`} />
          <text className="tick-words" x={frame.left - 8} y={y(p) + 4.5} textAnchor="end">
            {p.toFixed(1)}
          </text>
        </g>
      ))}
      {RATIO_TICKS.map((r) => (
        <g key={r}>
          <path className="tick" d={`M${x(r)} ${frame.bottom}v4`} />
          <text className="tick-words" x={x(r)} y={frame.bottom + 17} textAnchor="middle">
            {r}
          </text>
        </g>
      ))}
      <g className="axis-words">
        <text x={frame.left} y={frame.bottom + 34}>
          {frame.right < NARROW_FRAME ? 'Old ÷ poured' : 'Old reservoir ÷ poured'}
        </text>
        <text x={x(1)} y={frame.bottom + 34} textAnchor="middle">
          same
        </text>
        <text x={x(2)} y={frame.bottom + 34} textAnchor="middle">
          twice
        </text>
        {unread.length > 0 && (
          <text x={frame.right} y={frame.top - 3} textAnchor="end">
            not read at a change:{' '}
            {unread
              .slice(0, 3)
              .map((pot) => pot.code)
              .join(', ')}
            {unread.length > 3 && ` and ${unread.length - 3} more`}
          </text>
        )}
        <text x={frame.left + 10} y={frame.top + 10}>
          ↑ clay or roots push the pH up
        </text>
        <text x={frame.right - 6} y={frame.bottom - 9} textAnchor="end">
          salts gather →
        </text>
        <text x={frame.left + 10} y={frame.bottom - 9}>
          ← takes more than it gets
        </text>
      </g>
      <text className="comfortable-words" x={x(COMFORTABLE.ratio[1]) - 7} y={y(COMFORTABLE.ph[0]) - 7} textAnchor="end">
        comfortable
      </text>
    </>
  );
}

function Mark({ at: s, chosen, scale }: { at: Placed; chosen: boolean; scale: number }) {
  return (
    <>
      <title>{standLabel(s.pot)}</title>
      <circle className="touch" cx={s.x} cy={s.y} r={s.named ? 26 : 11 * scale} />
      {s.named ? (
        <>
          {chosen && <circle cx={s.x} cy={s.y + 4} r="27" className="ring" />}
          <g transform={`translate(${s.x - SECTION.width * 0.45} ${s.y - SECTION.height * 0.62})`}>
            <PotSection drawing={s.pot.drawing} seed={s.pot.code} size={SECTION.width} decorative />
          </g>
        </>
      ) : (
        <PotMark pot={s.pot} x={s.x} y={s.y} chosen={chosen} scale={scale} />
      )}
    </>
  );
}

function Named({ pot, box, end, tone, short }: Name) {
  return (
    <g className={`name ${tone}`} aria-hidden>
      <text x={end ? box.x + box.w : box.x} y={box.y + 13} textAnchor={end ? 'end' : 'start'} className="strong">
        {pot.code} {!short && pot.name}
      </text>
      {!short && (
        <text x={end ? box.x + box.w : box.x} y={box.y + 28} textAnchor={end ? 'end' : 'start'}>
          {standWords(pot)}
        </text>
      )}
    </g>
  );
}

const lengthOf = (path: readonly Point[]) =>
  path.slice(1).reduce((sum, p, i) => sum + Math.hypot(p[0] - path[i]![0], p[1] - path[i]![1]), 0);

type Name = { pot: PlacedPot; box: Box; end: boolean; tone: string; short: boolean };
/** Square px of other pots a name may cover. */
const MAY_COVER = 60;

/** Where the names of the worst stand: beside their pots, covering next to nothing; shortened to the code where there is no room for more. */
function labelsOf(standing: readonly Placed[], frame: Frame): Name[] {
  const taken: Box[] = standing.map((s) =>
    s.named ? { x: s.x - 20, y: s.y - 38, w: 42, h: 62 } : { x: s.x - 9, y: s.y - 11, w: 18, h: 22 },
  );
  return standing
    .filter((s) => s.named)
    .sort((a, b) => b.pot.stand.trouble - a.pot.stand.trouble)
    .flatMap((s): Name[] => {
      for (const short of [false, true]) {
        const w = short ? 36 : 7.2 * Math.max(`${s.pot.code} ${s.pot.name}`.length, standWords(s.pot).length * 0.86);
        const h = short ? 17 : 32;
        const beside: Box[] = [-38, -22, -6, 6].flatMap((dy) => [
          { x: s.x - 24 - w, y: s.y + dy, w, h },
          { x: s.x + 26, y: s.y + dy, w, h },
        ]);
        const over: Box[] = [-72, 28].flatMap((dy) => [
          { x: s.x + 14 - w, y: s.y + dy, w, h },
          { x: s.x - 14, y: s.y + dy, w, h },
        ]);
        const places = [...beside, ...over];
        const best = leastCovered(places, taken, frame, MAY_COVER);
        if (best === undefined) continue;
        taken.push(places[best]!);
        return [
          {
            pot: s.pot,
            box: places[best]!,
            end: best % 2 === 0,
            tone: s.pot.stand.trouble >= 6 ? 'late' : 'soon',
            short,
          },
        ];
      }
      return [];
    });
}
