import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Dropdown from 'react-bootstrap/Dropdown';
import { Link, useSearchParams } from 'react-router';
import type { ClayBatchView, ClayRoom } from '../../contract/clay.ts';
import { BRIM_PER_CLAY } from '../../core/clay/index.ts';
import type { PotView } from '../../contract/pots.ts';
import { get } from '../shell/api.ts';
import { Icon } from '../drawing/icon.tsx';
import { dayMonthYear, litres, upperFirst } from '../shell/format.ts';
import { Empty, Failed, Loading } from '../shell/states.tsx';
import { useShell } from '../shell/use-shell.ts';
import { BatchSheet } from './batch-sheet.tsx';
import { BatchForm } from './batch-form.tsx';
import { BatchSwitcher } from './batch-switcher.tsx';
import { clayQuery } from './clay-query.ts';
import { grainWords, stateWords } from './clay-words.ts';
import { HoldDialog, type HeldPot } from './hold-dialog.tsx';
import { NeverLeached } from './never-leached.tsx';
import { PlanHolds } from './plan-holds.tsx';

/** Clay: preparing medium, pots whose clay was never leached, potting up. */
export function ClayPage() {
  const room = useQuery(clayQuery);
  const shell = useShell();
  if (room.isPending || !shell.data) return <Loading what="the clay" />;
  if (!room.data) return <Failed error={room.error} retry={() => void room.refetch()} />;
  return <Clay room={room.data} zone={shell.data.zone} />;
}

/** Batches that stand side by side in the header; older ones are in the menu beside them. */
const SIDE_BY_SIDE = 4;

/** The batch that wants something: soaking before rinsed before the newest. */
function firstChoice(batches: readonly ClayBatchView[]): ClayBatchView | undefined {
  const order = ['soaking', 'rinsed', 'bag', 'ready', 'drained'];
  const rank = (b: ClayBatchView) => (order.indexOf(b.state) + 1 || 9) + (b.retiredOn ? 20 : 0);
  return [...batches].sort((a, b) => rank(a) - rank(b))[0];
}

/** The form that is open: of a batch there is, or a new one, perhaps by a name that pots carry. */
type OpenForm = { existing?: ClayBatchView; name?: string };

function Clay({ room, zone }: { room: ClayRoom; zone: string }) {
  const [params, setParams] = useSearchParams();
  const [form, setForm] = useState<OpenForm>();
  const [showGone, setShowGone] = useState(false);
  const [planning, setPlanning] = useState<string>();
  const set = (changes: Record<string, string | null>) => {
    const next = new URLSearchParams(params);
    for (const [key, value] of Object.entries(changes)) {
      if (value === null) next.delete(key);
      else next.set(key, value);
    }
    setParams(next, { replace: true });
  };
  const chosen = room.batches.find((b) => b.id === params.get('batch')) ?? firstChoice(room.batches);
  const kept = room.batches.filter((b) => b.retiredOn === null || showGone || b.id === chosen?.id);
  const shown = kept.filter((b, i) => i < SIDE_BY_SIDE || b.id === chosen?.id);
  const older = kept.filter((b) => !shown.includes(b));
  const gone = room.batches.length - room.batches.filter((b) => b.retiredOn === null).length;
  const heldId = params.get('hold');
  // Any pot may be checked: one that is not listed is asked for.
  const listed = heldId ? heldPotOf(room, heldId) : undefined;
  const asked = useQuery({
    queryKey: ['pot', heldId],
    queryFn: () => get<PotView>(`/api/pots/${heldId}`),
    enabled: heldId !== null && !listed,
  });
  const held = listed ?? (heldId !== null && asked.data ? heldPotFrom(asked.data) : undefined);
  const planned = room.unleached.find((p) => p.potId === planning);
  return (
    <div className="page clay-page">
      <Head
        chosen={chosen}
        shown={shown}
        set={set}
        setForm={setForm}
        older={older}
        gone={gone}
        setShowGone={setShowGone}
        showGone={showGone}
        room={room}
      />
      {chosen ? (
        <BatchSheet
          key={chosen.id}
          room={room}
          batch={chosen}
          zone={zone}
          edit={() => setForm({ existing: chosen })}
          quiet={held !== undefined || form !== undefined}
        />
      ) : (
        <NoClay setForm={setForm} room={room} />
      )}
      <NeverLeached room={room} open={(id) => set({ hold: id })} plan={setPlanning} />
      {form && (
        <BatchForm
          room={room}
          {...form}
          onClose={(id) => {
            setForm(undefined);
            if (id) set({ batch: id });
          }}
        />
      )}
      {held && (
        <HoldDialog
          room={room}
          pot={held}
          known={room.unleached.find((p) => p.potId === held.id)}
          onClose={() => set({ hold: null })}
        />
      )}
      {planned && <PlanHolds room={room} pot={planned} onClose={() => setPlanning(undefined)} />}
    </div>
  );
}

function NoClay({ setForm, room }: { setForm(next: OpenForm): void; room: ClayRoom }) {
  return (
    <Empty title="No clay kept yet">
      <p>
        New clay gives its minerals to the first waters it meets. Open a bag here, and its soaks are read, foreseen and
        counted until it is fit to plant.
      </p>
      <Button onClick={() => setForm({})}>Open a new bag</Button>
      {room.named.length > 0 && (
        <p className="small mt-3 mb-0">
          Your pots name {room.named.map((n) => n.name).join(', ')}: keep them too, to say which were never leached.
        </p>
      )}
    </Empty>
  );
}

function Head({
  chosen,
  shown,
  set,
  setForm,
  older,
  gone,
  setShowGone,
  showGone,
  room,
}: {
  chosen: ClayBatchView | undefined;
  shown: readonly ClayBatchView[];
  set: (changes: Record<string, string | null>) => void;
  setForm(next: OpenForm): void;
  older: readonly ClayBatchView[];
  gone: number;
  setShowGone(next: boolean): void;
  showGone: boolean;
  room: ClayRoom;
}) {
  return (
    <header>
      <div className="min-0">
        <h1>Clay</h1>
        <div className="small">
          {chosen ? aboutOf(chosen) : 'From the bag to the pots: rinsed, leached until it reads low, potted up'}
        </div>
      </div>
      <div className="push d-flex gap-2 align-items-center min-0">
        {chosen && <BatchSwitcher batches={shown} chosenId={chosen.id} choose={(id) => set({ batch: id })} />}
        <Dropdown align="end">
          <Dropdown.Toggle size="sm" variant="outline-secondary" aria-label="More about clay">
            <Icon name="plus" />
          </Dropdown.Toggle>
          <Dropdown.Menu>
            <Dropdown.Item as="button" onClick={() => setForm({})}>
              Open a new bag
            </Dropdown.Item>
            <Dropdown.Item as={Link} to={`/clay/pot-up${chosen?.ready ? `?clay=${chosen.id}` : ''}`}>
              Pot something up
            </Dropdown.Item>
            {older.length > 0 && <Dropdown.Divider />}
            {older.map((b) => (
              <Dropdown.Item as="button" key={b.id} onClick={() => set({ batch: b.id })}>
                {upperFirst(b.values.name)}, {stateWords(b)}
              </Dropdown.Item>
            ))}
            {gone > 0 && (
              <Dropdown.Item as="button" onClick={() => setShowGone(!showGone)}>
                {showGone ? 'Hide' : 'Show'} the {gone} put away
              </Dropdown.Item>
            )}
            {room.named.map((n) => (
              <Dropdown.Item as="button" key={n.name} onClick={() => setForm({ name: n.name })}>
                Keep {n.name}, named on {n.pots} pot{n.pots === 1 ? '' : 's'}
              </Dropdown.Item>
            ))}
          </Dropdown.Menu>
        </Dropdown>
      </div>
    </header>
  );
}

/** The pot an address asks to hold: one of the list, or one that is held. */
function heldPotOf(room: ClayRoom, potId: string): HeldPot | undefined {
  const listed = room.unleached.find((p) => p.potId === potId);
  if (listed) return { id: potId, code: listed.code, name: listed.name, waterL: listed.waterL };
  const running = room.holds.find((h) => h.potId === potId);
  return running && { id: potId, code: running.code, name: running.name, waterL: running.waterL };
}

function heldPotFrom({ pot, values }: PotView): HeldPot {
  const clayL = values.clayL ?? (values.reservoirMl * 5) / 1000;
  return {
    id: pot.id,
    code: pot.code,
    name: pot.name,
    waterL: values.brimMl === null ? clayL * BRIM_PER_CLAY : values.brimMl / 1000,
  };
}

function aboutOf({ values, usedL }: ClayBatchView): string {
  return [
    upperFirst(values.name),
    grainWords(values),
    `${litres(values.volumeL)} bag`,
    values.openedOn ? `opened ${dayMonthYear(values.openedOn)}` : '',
    usedL > 0 ? `${litres(usedL)} potted up` : '',
  ]
    .filter(Boolean)
    .join(' · ');
}
