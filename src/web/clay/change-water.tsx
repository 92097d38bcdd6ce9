import { useId, useState, type FormEvent } from 'react';
import Button from 'react-bootstrap/Button';
import type { ClayBatchView, ClayRoom } from '../../contract/clay.ts';
import { inSentence } from '../../core/quantity/index.ts';
import { inLargeUnit, largeSign, litres, ownUnits, readLarge } from '../shell/format.ts';
import { useDraft } from '../shell/use-draft.ts';
import { useFocusFirst } from '../shell/use-focus-first.ts';
import { problemAt } from '../shell/use-act.ts';
import { useClayAct } from './send-clay.ts';

type Props = {
  room: ClayRoom;
  batch: ClayBatchView;
  /** Its first water: nothing comes off. */
  first?: boolean;
  coverL: number;
  /** Proposed, L. */
  pouredOffL: number;
  freshL: number;
  due?: boolean;
  autoFocus?: boolean;
  /** Draining is the act; changing is the other one. */
  drainFirst?: boolean;
};

/** Water off and on: as proposed with one press, or as it truly was. */
export function ChangeWater(props: Props) {
  const { room, batch, first = false, coverL, freshL } = props;
  const change = useChange(props);
  const { open, water, whole, act } = change;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void act('fill');
  };
  const scarce = water?.stillNowL != null && freshL > water.stillNowL;
  return (
    <form className="change-water" noValidate onSubmit={submit}>
      {open && <Amounts {...props} change={change} places={room.poured} refill={isRefill(batch)} />}
      {water && water.kind !== 'still' && (
        <small>
          {water.name} brings its own minerals{water.basePpm === null ? '' : ` (${Math.round(water.basePpm)} ppm)`}:
          still water leaches deeper, and what stays in the clay is its base.
        </small>
      )}
      {scarce && (
        <small>
          There are about {litres(water.stillNowL!)} of {inSentence(water.name)} in the tank.
        </small>
      )}
      {whole && (
        <div className="field-error" role="alert">
          {whole}
        </div>
      )}
      <Acts {...props} change={change} refill={isRefill(batch)} />
      {first && <small>As a rule of thumb {litres(coverL)} cover it.</small>}
    </form>
  );
}

/** It was drained, and stands dry. */
const isRefill = (batch: ClayBatchView) => batch.leach?.drainedAt != null;
type Part = Props & { change: ReturnType<typeof useChange>; refill: boolean };

function useChange({ room, batch, first = false, pouredOffL, freshL }: Props) {
  const { send, problems, code, busy, clear } = useClayAct();
  // Drafts are kept in the units in which they were typed: other units, another draft.
  const [draft, change, forget] = useDraft(`clay-change:${batch.id}:${ownUnits()}`, {
    off: '',
    on: '',
    to: '',
    waterId: '',
    at: '',
  });
  const [open, setOpen] = useState(first || draft.off !== '' || draft.on !== '');
  const [wrong, setWrong] = useState<Readonly<Record<string, string>>>({});
  const still = room.waters.find((w) => w.kind === 'still') ?? room.waters[0];
  const waterId = draft.waterId || batch.leach?.waterId || still?.id || '';
  const water = room.waters.find((w) => w.id === waterId);
  const to = draft.to || room.poured[0] || '';
  const read = (text: string, proposed: number, path: string): number | undefined => {
    if (text.trim() === '') return proposed;
    const volume = readLarge(text);
    if (volume.kind === 'volume') return volume.ml / 1000;
    setWrong((old) => ({ ...old, [path]: volume.kind === 'unclear' ? volume.message : 'Give the litres, such as 3.' }));
    return undefined;
  };
  const act = async (kind: 'fill' | 'drain') => {
    setWrong({});
    const off = first ? 0 : read(draft.off, pouredOffL, 'pouredOffL');
    const offMeasured = first || draft.off.trim() !== '';
    const on = kind === 'drain' ? 0 : read(draft.on, freshL, 'freshL');
    if (off === undefined || on === undefined) return setOpen(true);
    const when = draft.at ? new Date(draft.at) : null;
    if (when && Number.isNaN(when.getTime()))
      return setWrong({ at: 'Give the day and the time at which it was done.' });
    const doneAt = when?.toISOString() ?? null;
    const name = batch.values.name;
    const done =
      kind === 'drain'
        ? await send(
            { kind: 'drain', clayId: batch.id, pouredOffL: off, offMeasured, to, at: doneAt },
            `Drained ${name}`,
          )
        : await send(
            {
              kind: 'fill',
              clayId: batch.id,
              waterId,
              pouredOffL: off,
              offMeasured,
              to: first ? '' : to,
              freshL: on,
              at: doneAt,
              unread: code === 'not-read',
            },
            first ? `${name} stands in its first water` : `Changed the water on ${name}`,
          );
    if (done) forget();
    else setOpen(true);
  };
  const at = (path: string) => wrong[path] ?? problemAt(problems, path);
  return { draft, change, open, setOpen, waterId, water, to, at, act, whole: problems[''], code, busy, clear };
}

function Amounts({
  room,
  first = false,
  pouredOffL,
  freshL,
  change: of,
  places,
  refill,
}: Part & { places: readonly string[] }) {
  const { draft, change, at, waterId, to } = of;
  const list = useId();
  return (
    <div className="amounts">
      {!first && !refill && (
        <Field
          label={`Off, ${largeSign()}`}
          error={at('pouredOffL')}
          value={draft.off}
          proposed={inLargeUnit(pouredOffL * 1000)}
          set={(off) => change({ off })}
        />
      )}
      <Field
        label={`${first ? 'Water' : 'Fresh'} on, ${largeSign()}`}
        error={at('freshL')}
        value={draft.on}
        proposed={inLargeUnit(freshL * 1000)}
        set={(on) => change({ on })}
      />
      <label className="which">
        Of
        <select
          className="form-select form-select-sm"
          value={waterId}
          onChange={(e) => change({ waterId: e.target.value })}
        >
          {room.waters.map((w) => (
            <option key={w.id} value={w.id}>
              {w.name}
            </option>
          ))}
        </select>
      </label>
      <div className="which">
        <label>
          When, if not now
          <input
            type="datetime-local"
            className="form-control form-control-sm"
            value={draft.at}
            onChange={(e) => change({ at: e.target.value })}
          />
        </label>
        {at('at') && (
          <div className="field-error" role="alert">
            {at('at')}
          </div>
        )}
      </div>
      {!first && !refill && (
        <label className="which">
          What comes off goes to
          <input
            className="form-control form-control-sm"
            list={list}
            maxLength={80}
            value={draft.to}
            placeholder={to || 'the garden'}
            onChange={(e) => change({ to: e.target.value })}
          />
          <datalist id={list}>
            {places.map((place) => (
              <option key={place} value={place} />
            ))}
          </datalist>
        </label>
      )}
    </div>
  );
}

/** The words on the one button. */
function changedWords({ first = false, pouredOffL, freshL, change: { code }, refill }: Part): string {
  if (code === 'not-read') return 'Change it unread';
  if (first) return 'It stands in water';
  return refill ? 'Filled again' : `Changed: about ${litres(pouredOffL)} off, ${litres(freshL)} on`;
}

function Acts(part: Part) {
  const { first = false, due = false, autoFocus = false, drainFirst = false, pouredOffL, change, refill } = part;
  const { act, open, setOpen, busy, code, clear } = change;
  const id = useId();
  useFocusFirst(id, autoFocus);
  return (
    <div className="acts">
      {drainFirst ? (
        <Button variant="clay" id={id} disabled={busy} onClick={() => void act('drain')}>
          Drained, about {litres(pouredOffL)} off
        </Button>
      ) : (
        <Button type="submit" variant={due || first ? 'clay' : 'outline-light'} id={id} disabled={busy}>
          {changedWords(part)}
        </Button>
      )}
      {!first && !open && (
        <Button variant="link" className="other" onClick={() => setOpen(true)}>
          it was otherwise
        </Button>
      )}
      {!first && !refill && open && (
        <Button variant="outline-light" disabled={busy} onClick={() => void act(drainFirst ? 'fill' : 'drain')}>
          {drainFirst ? 'Changed once more' : 'Drained instead'}
        </Button>
      )}
      {code === 'not-read' && (
        <Button variant="link" className="other" onClick={clear}>
          read it first
        </Button>
      )}
    </div>
  );
}

function Field({
  label,
  value,
  proposed,
  error,
  set,
}: {
  label: string;
  value: string;
  proposed: string;
  error: string | undefined;
  set(text: string): void;
}) {
  const id = useId();
  return (
    <div className="amount">
      <label htmlFor={id}>{label}</label>
      <input
        id={id}
        className="form-control form-control-sm"
        inputMode="decimal"
        autoComplete="off"
        value={value}
        placeholder={proposed}
        onChange={(e) => set(e.target.value)}
        aria-invalid={Boolean(error)}
        aria-describedby={error ? `${id}-error` : undefined}
      />
      {error && (
        <div className="field-error" id={`${id}-error`} role="alert">
          {error}
        </div>
      )}
    </div>
  );
}
