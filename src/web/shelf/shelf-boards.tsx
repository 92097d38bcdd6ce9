import { Fragment, type ReactNode } from 'react';
import type { ShelfKind, ShelfRoom } from '../../contract/shelf.ts';
import {
  BenchMeterFigure,
  BottleFigure,
  ButtFigure,
  CanFigure,
  CautionFigure,
  DropperFigure,
  JarFigure,
  KitFigure,
  PenFigure,
  ScaleFigure,
  SpoonFigure,
  SyringeFigure,
  TankFigure,
  TapFigure,
  VesselFigure,
} from '../drawing/shelf-things.tsx';
import { dayMonth, largeSign, litres, phText, ppmText } from '../shell/format.ts';
import { useServerNow } from '../shell/use-server-now.ts';
import { useShell } from '../shell/use-shell.ts';
import { waitWords } from '../shell/wait-words.ts';
import { soundReading, unitOf, type RoomMeter, type RoomProduct, type RoomTool, type RoomWater } from './chemistry.ts';
import { signed, standing } from './meter-sheet.tsx';

/** Of several of a kind so many are drawn. */
const FIGURES = 3;
type Chosen = { what: ShelfKind; id: string } | undefined;
type Props = { room: ShelfRoom; chosen: Chosen; choose(what: ShelfKind, id: string): void; showRetired: boolean };

/** The picture: what is used stands on its boards, each thing showing its state; pressing one lays its sheet beside it. */
export function ShelfBoards({ room, chosen, choose, showRetired }: Props) {
  const seen = <T extends { retiredOn: string | null }>(things: readonly T[]) =>
    things.filter((t) => showRetired || t.retiredOn === null);
  const item = (
    what: ShelfKind,
    thing: { id: string; retiredOn: string | null; values: { name: string } },
    figure: ReactNode,
    side: ReactNode,
    under: ReactNode,
  ) => (
    <li key={thing.id}>
      <button
        type="button"
        className={`shelf-thing${thing.retiredOn ? ' retired' : ''}`}
        aria-pressed={chosen?.what === what && chosen.id === thing.id}
        onClick={() => choose(what, thing.id)}
      >
        <span className="stand">
          {figure}
          <span className="side">{side}</span>
        </span>
        <span className="under">
          <b>{thing.values.name}</b>
          {thing.retiredOn ? <span>retired {dayMonth(thing.retiredOn)}</span> : under}
        </span>
      </button>
    </li>
  );
  /** Several of a kind stand as one: pressing it lays the first one's sheet out, where the others are chosen. */
  const several = <T extends { id: string; retiredOn: string | null; values: { name: string } }>(
    what: ShelfKind,
    title: string,
    things: readonly T[],
    figure: (thing: T) => ReactNode,
    size: (thing: T) => string,
    unit: string,
  ) => {
    const first = things.find((t) => chosen?.id === t.id) ?? things[0];
    if (!first) return null;
    const sized = [...things].map(size).join(', ');
    const words = things.length === 1 ? first.values.name : title;
    return (
      <li key={title}>
        <button
          type="button"
          className="shelf-thing"
          aria-pressed={chosen?.what === what && things.some((t) => t.id === chosen.id)}
          onClick={() => choose(what, first.id)}
        >
          <span className="stand">
            <span className="figures">
              {things.slice(0, FIGURES).map((t) => (
                <Fragment key={t.id}>{figure(t)}</Fragment>
              ))}
            </span>
          </span>
          <span className="under">
            <b>{words}</b>
            <span>
              {sized} {unit}
            </span>
          </span>
        </button>
      </li>
    );
  };
  const board = (title: string, hint: string, things: ReactNode[], none: string, tight = false) => (
    <section aria-label={title} className={tight ? 'shelf-board tight' : 'shelf-board'}>
      <header>
        <h2>{title}</h2> <span className="small">{hint}</span>
      </header>
      {things.every((thing) => thing === null) ? <p className="small mb-0">{none}</p> : <ul>{things}</ul>}
    </section>
  );
  return (
    <div className="sheet shelf-boards">
      {board(
        'Waters',
        'read the base at every mix',
        seen(room.waters).map((w) =>
          item('water', w, <WaterFigure water={w} />, <WaterSide water={w} />, <WaterUnder water={w} />),
        ),
        'No water yet. Add the one you mix with, then read it.',
      )}
      {board(
        'Bottles and jars',
        'what is left, and how many days it lasts at this rate',
        seen(room.products).map((p) =>
          item('product', p, <ProductFigure product={p} />, <ProductSide product={p} />, <ProductUnder product={p} />),
        ),
        'No feed yet. Add the one you use, and copy its label.',
        true,
      )}
      {board(
        'Instruments and measures',
        'a drop has no size until its dropper is counted',
        [
          ...seen(room.meters).map((m) =>
            item('meter', m, <MeterFigure meter={m} />, null, <MeterUnder meter={m} room={room} />),
          ),
          ...seen(room.tools)
            .filter((t) => t.values.kind === 'dropper' || t.values.kind === 'scale')
            .map((t) => item('tool', t, <ToolFigure tool={t} />, <ToolSide tool={t} />, <ToolUnder tool={t} />)),
          several(
            'tool',
            'Syringes',
            seen(room.tools).filter((t) => t.values.kind === 'syringe'),
            (t) => <ToolFigure tool={t} />,
            (t) => `${t.values.capacityMl}`,
            'mL',
          ),
          several(
            'tool',
            'Spoons',
            seen(room.tools).filter((t) => t.values.kind === 'spoon'),
            (t) => <ToolFigure tool={t} />,
            (t) => (t.values.capacityMl === null ? '?' : String(Number(t.values.capacityMl.toFixed(1)))),
            'mL',
          ),
          several(
            'vessel',
            'Vessels',
            seen(room.vessels),
            (v) => <VesselFigure material={v.values.material} />,
            (v) => litres(v.values.capacityL).replace(/\D*$/, ''),
            largeSign(),
          ),
        ],
        'Nothing to measure with yet. Add a pen, and a dropper or a syringe.',
      )}
    </div>
  );
}

function useStanding(water: RoomWater): { ends: number; share: number } | undefined {
  const shell = useShell();
  const clock = shell.data?.clocks.find((c) => c.subjectKind === 'water' && c.subjectId === water.id);
  const now = useServerNow(clock !== undefined);
  if (!clock) return undefined;
  const ends = Date.parse(clock.endsAt);
  return { ends: ends - now, share: Math.min(1, 1 - (ends - now) / Math.max(1, ends - Date.parse(clock.startedAt))) };
}

function WaterFigure({ water }: { water: RoomWater }) {
  const stands = useStanding(water);
  const { kind, tankL } = water.values;
  const level = water.stock && tankL ? water.stock.litres / tankL : null;
  if (stands) return <CanFigure />;
  if (kind === 'tap') return <TapFigure />;
  return kind === 'rain' ? <ButtFigure level={level} /> : <TankFigure level={level} />;
}

function WaterSide({ water }: { water: RoomWater }) {
  const stands = useStanding(water);
  const last = soundReading(water);
  const ph = water.readings.find((r) => r.ph !== null && !r.tainted)?.ph;
  if (stands) {
    return (
      <>
        <b className="big num">{stands.ends <= 0 ? 'ready' : waitWords(stands.ends)}</b>
        <span>{stands.ends <= 0 ? 'it stood long enough' : 'still to stand'}</span>
        <span className="thin-bar" aria-hidden="true">
          <svg width={72} height={5}>
            <rect width={72} height={5} rx={2.5} fill="#e4dfd2" />
            <rect width={72 * stands.share} height={5} rx={2.5} fill="#0e5a63" />
          </svg>
        </span>
      </>
    );
  }
  if (water.stock && water.values.tankL !== null) {
    return (
      <>
        <b className="big num">{litres(water.stock.litres)}</b>
        <span>of {litres(water.values.tankL)}</span>
        {water.values.perDayL !== null && <span>+{litres(water.values.perDayL)} a day</span>}
      </>
    );
  }
  return last?.ppm == null ? (
    <span>never read</span>
  ) : (
    <>
      <b className="big num">{ppmText(last.ppm)}</b>
      <span>ppm</span>
      {ph != null && <span>pH {phText(ph)}</span>}
    </>
  );
}

function WaterUnder({ water }: { water: RoomWater }) {
  const { known, chlorine } = water.values;
  const last = soundReading(water);
  const words = [
    water.values.tankL !== null && last?.ppm != null ? `reads ${ppmText(last.ppm)}` : '',
    known?.method === 'kit'
      ? `${known.alkalinity.value} ${known.alkalinity.unit}`
      : known?.method === 'analysis'
        ? 'analysed'
        : '',
    chlorine === 'chlorine' ? 'chlorinated' : chlorine === 'chloramine' ? 'chloramine' : '',
    isRising(water) ? 'creeping up' : '',
  ].filter(Boolean);
  return <span>{words.join(', ') || (last ? `read ${dayMonth(last.on)}` : 'not read yet')}</span>;
}

/** A base that rose by a fifth, and two ppm, over the months known. */
function isRising(water: RoomWater): boolean {
  const [first, last] = [water.months[0], water.months[water.months.length - 1]];
  return first !== undefined && last !== undefined && last.ppm > first.ppm * 1.2 && last.ppm - first.ppm >= 2;
}

const TINTS: Record<RoomProduct['values']['kind'], readonly [string, string]> = {
  feed: ['#86a86f', '#1e2b2c'],
  calmag: ['#d2a05c', '#c98a68'],
  magnesium: ['#eee9dc', '#b9ad94'],
  silicate: ['#b9c3cf', '#6a6f86'],
  acid: ['#efd98a', '#8c2f39'],
  base: ['#c9b7d8', '#53586e'],
  living: ['#b9a27f', '#2f6b45'],
  other: ['#d8cdb9', '#b9ad94'],
};

function ProductFigure({ product }: { product: RoomProduct }) {
  const { values, bottle } = product;
  const level = bottle?.leftMl != null && bottle.sizeMl ? bottle.leftMl / bottle.sizeMl : bottle ? null : 0;
  const [tint, cap] = TINTS[values.kind];
  const sticker = stickerOf(product);
  return values.analysis?.form === 'powder' || values.kind === 'other' ? (
    <JarFigure level={level} label={sticker} tint={tint} />
  ) : (
    <BottleFigure level={level} label={sticker} tint={tint} cap={cap} />
  );
}

/** "6-3-9": nitrogen, and phosphorus and potassium as their oxides. */
function threeFigures(percent: NonNullable<RoomProduct['values']['analysis']>['percent']): string {
  const { N, P = 0, K = 0, P2O5 = P / 0.4364, K2O = K / 0.8301 } = percent;
  const nitrogen = N ?? (percent['NO3-N'] ?? 0) + (percent['NH4-N'] ?? 0) + (percent['urea-N'] ?? 0);
  return [nitrogen, P2O5, K2O].map((v) => Number(v.toFixed(v < 10 ? 1 : 0))).join('-');
}

/** What a label would say large: "6-3-9", "Ca Mg", "10 %". */
function stickerOf({ values }: RoomProduct): string {
  const percent = values.analysis?.percent;
  if (percent && (values.kind === 'acid' || values.kind === 'base')) return `${Math.max(...Object.values(percent))} %`;
  if (percent && values.kind === 'feed') return threeFigures(percent);
  if (values.kind === 'calmag') return 'Ca Mg';
  if (values.kind === 'silicate') return 'SiO₂';
  return values.shortName.slice(0, 8) || values.name.slice(0, 8);
}

function ProductSide({ product: { bottle } }: { product: RoomProduct }) {
  if (bottle?.daysLeft == null) return null;
  return (
    <>
      <b className="big num">{bottle.daysLeft > 365 ? '365+' : bottle.daysLeft}</b>
      <span>days</span>
    </>
  );
}

function ProductUnder({ product }: { product: RoomProduct }) {
  const { bottle, values, learned } = product;
  const left = bottle?.leftMl != null ? `${Math.round(bottle.leftMl)} of ${bottle.sizeMl} ${unitOf(product)}` : '';
  const low = bottle?.daysLeft != null && bottle.daysLeft <= 21;
  return (
    <>
      {left && <span>{left}</span>}
      {!left && learned && <span>{Math.round(learned.ppmPerMlL)} ppm per mL/L</span>}
      {!left && !learned && <span>{values.analysis ? 'label copied' : 'no label yet'}</span>}
      {low && <span className="state soon">buy another soon</span>}
      {(values.kind === 'acid' || values.kind === 'base') && (
        <span className="acid-mark">
          <CautionFigure /> {values.kind === 'acid' ? 'acid' : 'alkali'}
        </span>
      )}
    </>
  );
}

function MeterFigure({ meter }: { meter: RoomMeter }) {
  const { values } = meter;
  if (values.kind === 'kit') return <KitFigure />;
  const last = meter.checks.find((c) => c.standard !== 'zero');
  const shows = last ? String(last.shown) : '–';
  if (values.quantity === 'ppm' && values.unit !== 'ppm') return <BenchMeterFigure shows={shows} />;
  const off = meter.taints.find((t) => t.to === null);
  const by =
    off?.offBy == null
      ? off
        ? '?'
        : null
      : values.quantity === 'pH'
        ? signed(off.offBy, 1)
        : `${signed(100 * off.offBy, 0)} %`;
  return <PenFigure shows={shows} tint={values.quantity === 'pH' ? '#efd07a' : '#7fb3c2'} off={by} />;
}

function MeterUnder({ meter, room }: { meter: RoomMeter; room: ShelfRoom }) {
  const { values } = meter;
  const state = standing(meter, room);
  const what =
    values.kind === 'kit'
      ? 'pH by colour'
      : values.quantity === 'pH'
        ? 'pH'
        : values.unit === 'ppm'
          ? `${values.scale === 0.5 ? '½' : values.scale} scale${values.scaleFrom === 'guess' ? ', a guess' : ''}`
          : values.unit;
  const words = {
    fine: '✓ fine',
    due: values.condition === 'fine' ? 'due a check' : 'battery or probe',
    off: 'reads wrong',
    unknown: 'never checked',
  }[state];
  return (
    <>
      <span>{what}</span>
      <span className={`state ${state === 'fine' ? 'good' : state === 'off' ? 'late' : 'soon'}`}>{words}</span>
    </>
  );
}

function ToolFigure({ tool }: { tool: RoomTool }) {
  const { values } = tool;
  switch (values.kind) {
    case 'dropper':
      return <DropperFigure known={values.dropsPerMl !== null} />;
    case 'syringe':
      return <SyringeFigure capacityMl={values.capacityMl ?? 5} />;
    case 'spoon':
      return <SpoonFigure />;
    case 'scale':
      return <ScaleFigure shows={`${(values.stepG ?? 0.1) * 20} g`} />;
  }
}

function ToolSide({ tool }: { tool: RoomTool }) {
  if (tool.values.kind !== 'dropper') return null;
  return tool.values.dropsPerMl === null ? (
    <span>guess 20</span>
  ) : (
    <>
      <b className="big num">{Number(tool.values.dropsPerMl.toFixed(1))}</b>
      <span>drops</span>
      <span>in 1 mL</span>
    </>
  );
}

function ToolUnder({ tool }: { tool: RoomTool }) {
  const { values } = tool;
  if (values.kind === 'dropper')
    return values.dropsPerMl === null ? (
      <span className="state soon">not counted</span>
    ) : (
      <span className="state good">✓ counted</span>
    );
  if (values.kind === 'syringe') return <span>by {values.stepMl} mL</span>;
  if (values.kind === 'spoon')
    return values.capacityMl === null ? (
      <span className="state soon">size not known</span>
    ) : (
      <span>{values.capacityMl} mL</span>
    );
  return <span>to {values.stepG} g</span>;
}
