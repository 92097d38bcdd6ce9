import { useQuery } from '@tanstack/react-query';
import { useRef, useState, type ReactNode } from 'react';
import Button from 'react-bootstrap/Button';
import ButtonGroup from 'react-bootstrap/ButtonGroup';
import Dropdown from 'react-bootstrap/Dropdown';
import { Link, useSearchParams } from 'react-router';
import { PRODUCT_KIND, WATER_KIND_WORDS } from '../../contract/kinds.ts';
import { SHELF_KINDS, type ShelfAct, type ShelfKind, type ShelfRoom, type ShelfValues } from '../../contract/shelf.ts';
import { useActs } from '../shell/acts.tsx';
import { newId, ProblemError } from '../shell/api.ts';
import { Failed, Loading } from '../shell/states.tsx';
import { useNarrow } from '../shell/use-narrow.ts';
import { ConversionCard } from './conversion-card.tsx';
import { CheckMeter, CountDrops, MarkMeter, StandWater } from './instrument-forms.tsx';
import { MeterSheet, standing } from './meter-sheet.tsx';
import { ProductSheet } from './product-sheet.tsx';
import { Sheet, type SmallKind } from './sheet.tsx';
import { ShelfBoards } from './shelf-boards.tsx';
import { MOST_DAYS, ScaleWords, lastsFor } from './shelf-words.tsx';
import { shelfQuery } from './shelf-query.ts';
import { ShelfList } from './shelf-list.tsx';
import { CountWater, OpenBottle, ReadWater } from './small-forms.tsx';
import { StillCard } from './still-card.tsx';
import { TaintCard } from './taint-card.tsx';
import { ThingForm } from './thing-form.tsx';
import { ToolSheet, VesselSheet } from './tool-sheet.tsx';
import { WaterSheet, readWhen } from './water-sheet.tsx';
import { TITLES } from './texts.ts';
import type { RoomProduct, RoomMeter } from './chemistry.ts';

type Editing = { what: ShelfKind; id: string | undefined };
type Small = { kind: SmallKind; id: string; offBy?: number | null };

/** Shelf: what the grower waters, feeds and measures with, how much is left, and how far each can be trusted. */
export function ShelfPage() {
  const shelf = useQuery(shelfQuery);
  if (shelf.isPending) return <Loading what="the shelf" />;
  if (!shelf.data) return <Failed error={shelf.error} retry={() => void shelf.refetch()} />;
  return <Shelf room={shelf.data} />;
}

function Shelf({ room }: { room: ShelfRoom }) {
  const { put, say } = useActs();
  const [params, setParams] = useSearchParams();
  const [editing, setEditing] = useState<Editing>();
  const [small, setSmall] = useState<Small>();
  const showRetired = params.get('retired') === '1';
  const asList = params.get('view') === 'list';
  const set = (changes: Record<string, string | null>) => {
    const next = new URLSearchParams(params);
    for (const [key, value] of Object.entries(changes)) {
      if (value === null) next.delete(key);
      else next.set(key, value);
    }
    setParams(next, { replace: true });
  };
  const act = async (body: ShelfAct, words: string) => {
    const id = newId();
    try {
      await put({ id, url: `/api/shelf/acts/${id}`, body, words }, { toast: words });
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      say(error.problem.detail);
    }
  };
  const retired = SHELF_KINDS.flatMap((what) => listOf(room, what).filter((thing) => thing.retiredOn !== null)).length;
  const narrow = useNarrow();
  const sheetRef = useRef<HTMLDivElement>(null);
  const choose = (what: ShelfKind, id: string) => {
    set({ thing: `${what}:${id}` });
    // On a phone the sheet lies below the boards: what was pressed would seem to do nothing.
    if (narrow) requestAnimationFrame(() => sheetRef.current?.scrollIntoView({ block: 'start' }));
  };
  const chosen = chosenOf(room, params.get('thing'));
  const due = room.meters.filter((m) => m.retiredOn === null && ['due', 'off'].includes(standing(m, room)));
  const edit = (what: ShelfKind, id: string | undefined) => setEditing({ what, id });
  const open = (kind: SmallKind, id: string) => setSmall({ kind, id });
  const close = () => setSmall(undefined);
  return (
    <div className="page shelf-page">
      <Head
        due={due}
        choose={choose}
        room={room}
        retired={retired}
        showRetired={showRetired}
        set={set}
        asList={asList}
        edit={edit}
      />
      <div className={chosen ? 'shelf-main' : 'shelf-main alone'}>
        {asList ? (
          <ShelfList room={room} showRetired={showRetired} act={act} edit={edit} small={open} choose={choose} />
        ) : (
          <ShelfBoards room={room} chosen={chosen} choose={choose} showRetired={showRetired} />
        )}
        {chosen && (
          <div ref={sheetRef} className="sheet-place">
            <ChosenSheet
              key={`${chosen.what}:${chosen.id}`}
              room={room}
              chosen={chosen}
              edit={() => edit(chosen.what, chosen.id)}
              small={(kind) => open(kind, chosen.id)}
              act={act}
              choose={choose}
            />
          </div>
        )}
      </div>
      <div className="sheet card-strip">
        <ConversionCard room={room} />
        <TaintCard room={room} check={(id) => open('check', id)} choose={(id) => choose('meter', id)} />
        <StillCard room={room} />
      </div>
      {editing && (
        <Edit
          key={editing.id ?? editing.what}
          room={room}
          {...editing}
          onClose={(id) => {
            setEditing(undefined);
            if (id) choose(editing.what, id);
          }}
        />
      )}
      {small && (
        <SmallForm
          room={room}
          small={small}
          mark={(id, offBy) => setSmall({ kind: 'mark', id, offBy })}
          onClose={close}
        />
      )}
    </div>
  );
}

function Head({
  due,
  choose,
  room,
  retired,
  showRetired,
  set,
  asList,
  edit,
}: {
  due: readonly ShelfRoom['meters'][number][];
  choose: (what: ShelfKind, id: string) => void;
  room: ShelfRoom;
  retired: number;
  showRetired: boolean;
  set: (changes: Record<string, string | null>) => void;
  asList: boolean;
  edit: (what: ShelfKind, id: string | undefined) => void;
}) {
  return (
    <header>
      <div className="min-0">
        <h1>Shelf</h1>
        <div className="small">
          What you water, feed and measure with, how much is left, and how far each can be trusted
        </div>
      </div>
      <div className="push d-flex gap-2 align-items-center head-acts">
        {due.map((m) => (
          <button key={m.id} type="button" className="chip soon as-button" onClick={() => choose('meter', m.id)}>
            {m.values.name}: {standing(m, room) === 'off' ? 'reads wrong' : 'due a check'}
          </button>
        ))}
        {retired > 0 && (
          <Button
            size="sm"
            variant="outline-secondary"
            aria-pressed={showRetired}
            onClick={() => set({ retired: showRetired ? null : '1' })}
          >
            {showRetired ? 'Hide' : 'Show'} the {retired} retired
          </Button>
        )}
        <Link className="btn btn-outline-secondary btn-sm" to="/shelf/mix">
          What is in a mix
        </Link>
        <ButtonGroup size="sm" aria-label="Show as">
          <Button
            variant="outline-secondary"
            aria-pressed={!asList}
            active={!asList}
            onClick={() => set({ view: null })}
          >
            Picture
          </Button>
          <Button
            variant="outline-secondary"
            aria-pressed={asList}
            active={asList}
            onClick={() => set({ view: 'list' })}
          >
            List
          </Button>
        </ButtonGroup>
        <Dropdown>
          <Dropdown.Toggle size="sm">Add something</Dropdown.Toggle>
          <Dropdown.Menu align="end">
            {SHELF_KINDS.map((what) => (
              <Dropdown.Item as="button" key={what} onClick={() => edit(what, undefined)}>
                {ADD_WORDS[what]}
              </Dropdown.Item>
            ))}
          </Dropdown.Menu>
        </Dropdown>
      </div>
    </header>
  );
}

/** What is done to a thing in a moment: read, counted, opened, checked, marked. */
function SmallForm({
  room,
  small: { kind, id, offBy = null },
  mark,
  onClose,
}: {
  room: ShelfRoom;
  small: Small;
  mark(id: string, offBy: number | null): void;
  onClose(): void;
}) {
  const all = { room, onClose };
  return {
    read: () => <ReadWater {...all} waterId={id} />,
    count: () => <CountWater {...all} waterId={id} />,
    stand: () => <StandWater {...all} waterId={id} />,
    bottle: () => <OpenBottle {...all} productId={id} />,
    drops: () => <CountDrops {...all} toolId={id} />,
    check: () => <CheckMeter {...all} meterId={id} onMark={(by) => mark(id, by)} />,
    mark: () => <MarkMeter {...all} meterId={id} offBy={offBy} />,
  }[kind]();
}

const ADD_WORDS: Record<ShelfKind, string> = {
  water: 'A water',
  meter: 'A pen, meter or drop kit',
  tool: 'A dropper, syringe, spoon or scale',
  vessel: 'A bucket, can or jug',
  product: 'A bottle or jar',
};

type Chosen = { what: ShelfKind; id: string };
/** What the address names, or the first feed, or whatever there is. */
function chosenOf(room: ShelfRoom, address: string | null): Chosen | undefined {
  const [what, id] = (address ?? '').split(':') as [ShelfKind, string | undefined];
  if (SHELF_KINDS.includes(what) && id && listOf(room, what).some((t) => t.id === id)) return { what, id };
  const feed = room.products.find((p) => p.retiredOn === null && p.values.kind === 'feed');
  if (feed) return { what: 'product', id: feed.id };
  const water = room.waters.find((w) => w.retiredOn === null);
  return water && { what: 'water', id: water.id };
}

function ChosenSheet({
  room,
  chosen,
  edit,
  small,
  act,
  choose,
}: {
  room: ShelfRoom;
  chosen: Chosen;
  edit(): void;
  small(kind: SmallKind): void;
  act(body: ShelfAct, words: string): Promise<void>;
  choose(what: ShelfKind, id: string): void;
}) {
  const props = { room, edit, small, act };
  const sheet = (thing: Thing, about: ReactNode, children: ReactNode) => (
    <Sheet what={chosen.what} thing={thing} about={about} edit={edit} act={act}>
      {children}
    </Sheet>
  );
  switch (chosen.what) {
    case 'water': {
      const thing = room.waters.find((w) => w.id === chosen.id)!;
      return sheet(
        thing,
        `${WATER_KIND_WORDS[thing.values.kind]} · ${readWhen(thing)}`,
        <WaterSheet {...props} thing={thing} />,
      );
    }
    case 'product': {
      const thing = room.products.find((p) => p.id === chosen.id)!;
      return sheet(thing, aboutProduct(thing), <ProductSheet {...props} thing={thing} />);
    }
    case 'meter': {
      const thing = room.meters.find((m) => m.id === chosen.id)!;
      return sheet(thing, <AboutMeter room={room} meter={thing} />, <MeterSheet {...props} thing={thing} />);
    }
    case 'tool': {
      const thing = room.tools.find((t) => t.id === chosen.id)!;
      return sheet(
        thing,
        TITLES.tool.toLowerCase(),
        <ToolSheet {...props} thing={thing} choose={(id) => choose('tool', id)} />,
      );
    }
    case 'vessel': {
      const thing = room.vessels.find((v) => v.id === chosen.id)!;
      return sheet(thing, 'to mix in', <VesselSheet {...props} thing={thing} choose={(id) => choose('vessel', id)} />);
    }
  }
}

/** What it is, how much is left, and how long that lasts. */
function aboutProduct({ values, bottle }: RoomProduct): string {
  const unit = values.analysis?.form === 'powder' ? 'g' : 'mL';
  const left = bottle?.leftMl == null ? '' : `${Math.round(bottle.leftMl)} ${unit} left`;
  const days =
    bottle?.daysLeft == null
      ? ''
      : bottle.daysLeft > MOST_DAYS
        ? 'enough for years'
        : `about ${lastsFor(bottle.daysLeft)} of rounds`;
  return [PRODUCT_KIND[values.kind].words, left, days, values.label].filter(Boolean).join(' · ');
}

function AboutMeter({ room, meter }: { room: ShelfRoom; meter: RoomMeter }) {
  const { values } = meter;
  const main = meter.id === room.mainPpmMeterId || meter.id === room.mainPhMeterId;
  const counts = values.unit === 'ppm' ? <ScaleWords values={values} /> : values.unit;
  return (
    <>
      {main && <span className="chip water">at hand</span>} {values.quantity === 'pH' ? 'pH' : counts}
      {meter.simulated && ', simulated'}
    </>
  );
}

function Edit({ what, id, room, onClose }: Editing & { room: ShelfRoom; onClose(id?: string): void }) {
  const existing = listOf(room, what).find((thing) => thing.id === id);
  return (
    <ThingForm
      what={what}
      room={room}
      existing={existing ? { id: existing.id, values: existing.values } : undefined}
      onClose={onClose}
    />
  );
}

type Thing = { id: string; retiredOn: string | null; uses: number; values: ShelfValues };
function listOf(room: ShelfRoom, what: ShelfKind): readonly Thing[] {
  return { water: room.waters, meter: room.meters, tool: room.tools, vessel: room.vessels, product: room.products }[
    what
  ];
}
