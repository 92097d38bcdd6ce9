import { useState, type FormEvent } from 'react';
import Form from 'react-bootstrap/Form';
import type { ClayBatchView, ClayRoom, ClayValues } from '../../contract/clay.ts';
import { CLAY_PREP_WORDS, CLAY_PREPS } from '../../contract/kinds.ts';
import { newId } from '../shell/api.ts';
import { typedNumber } from '../shell/field-reader.ts';
import { inLargeUnit, largeSign, readLarge } from '../shell/format.ts';
import { FormModal } from '../shell/form-modal.tsx';
import { LabelledField } from '../shell/labelled-field.tsx';
import { otherProblems, problemAt } from '../shell/use-act.ts';
import { useClayAct } from './send-clay.ts';

type Texts = Record<keyof ClayValues, string>;
const GATES = [
  { ppm: 30, words: 'tender' },
  { ppm: 40, words: 'usual' },
  { ppm: 60, words: 'hardy' },
] as const;

function firstTexts(room: ClayRoom, name: string | undefined): Texts {
  const numbers = room.batches.map((b) => Number(/(\d+)$/.exec(b.values.name)?.[1] ?? 0));
  const last = room.batches[0]?.values;
  return {
    name: name ?? `batch ${Math.max(0, ...numbers) + 1}`,
    grainLowMm: String(last?.grainLowMm ?? ''),
    grainHighMm: String(last?.grainHighMm ?? ''),
    volumeL: '',
    origin: '',
    price: '',
    openedOn: name === undefined ? room.today : '',
    prep: name === undefined ? 'new' : 'unleached',
    gatePpm: String(Math.round(40 * room.scale * 2)),
    coverL: '',
    lookEveryHours: String(last?.lookEveryHours ?? 24),
    way: 'own',
    note: '',
  };
}

function textsOf(values: ClayValues): Texts {
  const text = (value: string | number | null) => (value === null ? '' : String(value));
  return {
    ...(Object.fromEntries(Object.entries(values).map(([key, value]) => [key, text(value)])) as Texts),
    volumeL: inLargeUnit(values.volumeL * 1000),
    coverL: values.coverL === null ? '' : inLargeUnit(values.coverL * 1000),
  };
}

/** What was typed as the act's values; what is no figure goes as typed, to be refused with its message at the field. */
function valuesOf(t: Texts): ClayValues {
  const volume = (typed: string) => {
    const read = readLarge(typed);
    return read.kind === 'volume' ? read.ml / 1000 : read.kind === 'empty' ? null : typed;
  };
  return {
    ...t,
    grainLowMm: typedNumber(t.grainLowMm),
    grainHighMm: typedNumber(t.grainHighMm),
    volumeL: volume(t.volumeL),
    price: typedNumber(t.price),
    openedOn: t.openedOn || null,
    gatePpm: typedNumber(t.gatePpm),
    coverL: volume(t.coverL),
    lookEveryHours: Number(t.lookEveryHours),
  } as unknown as ClayValues;
}

/** A bag opened, or what is known of one put right. */
export function BatchForm({
  room,
  existing,
  name,
  onClose,
}: {
  room: ClayRoom;
  existing?: ClayBatchView;
  name?: string;
  onClose(id?: string): void;
}) {
  const [id] = useState(() => existing?.id ?? newId());
  const [texts, setTexts] = useState<Texts>(() => (existing ? textsOf(existing.values) : firstTexts(room, name)));
  const { send, problems, busy } = useClayAct();
  const change = (part: Partial<Texts>) => setTexts((old) => ({ ...old, ...part }));
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const done = await send(
      { kind: 'put', clayId: id, values: valuesOf(texts) },
      existing ? `Changed ${texts.name}` : `Added ${texts.name}`,
    );
    if (done) onClose(id);
  };
  const typed = (
    label: string,
    key: keyof Texts,
    more: { numeric?: boolean; hint?: string; type?: string; placeholder?: string; autoFocus?: boolean } = {},
  ) => (
    <LabelledField label={label} hint={more.hint} error={problemAt(problems, key)}>
      {(a) => (
        <Form.Control
          {...a}
          type={more.type ?? 'text'}
          autoComplete="off"
          autoFocus={more.autoFocus}
          placeholder={more.placeholder}
          {...(more.numeric ? { inputMode: 'decimal' as const } : {})}
          value={texts[key]}
          onChange={(e) => change({ [key]: e.target.value })}
        />
      )}
    </LabelledField>
  );
  return (
    <FormModal
      title={existing ? `Change ${existing.values.name}` : name === undefined ? 'Open a new bag' : `Keep ${name}`}
      keep={existing ? 'Keep the change' : 'Add'}
      busy={busy}
      submit={(e) => void submit(e)}
      onClose={() => onClose()}
      wrong={otherProblems(problems, Object.keys(texts))}
      large
    >
      {typed('What you call it', 'name', {
        hint: existing && existing.pots.length > 0 ? 'its pots take the new name' : 'pots name their clay by it',
      })}
      {typed(`Clay in it, ${largeSign()}`, 'volumeL', { numeric: true, placeholder: '10', autoFocus: true })}
      {typed('Pebbles from, mm', 'grainLowMm', { numeric: true, placeholder: '8' })}
      {typed('to, mm', 'grainHighMm', { numeric: true, placeholder: '16' })}
      <LabelledField label="How it comes" error={problemAt(problems, 'prep')}>
        {(a) => (
          <Form.Select {...a} value={texts.prep} onChange={(e) => change({ prep: e.target.value })}>
            {CLAY_PREPS.map((prep) => (
              <option key={prep} value={prep}>
                {CLAY_PREP_WORDS[prep]}
              </option>
            ))}
          </Form.Select>
        )}
      </LabelledField>
      {typed('Opened', 'openedOn', { type: 'date' })}
      {typed('Where it comes from, as the bag says', 'origin')}
      {typed('Price', 'price', { numeric: true })}
      <LabelledField
        label="Ready when four weeks of still water stay under, ppm over base"
        error={problemAt(problems, 'gatePpm')}
        hint="the flat reading that is expected, never an early one"
      >
        {(a) => (
          <div className="d-flex gap-1">
            <Form.Control
              {...a}
              inputMode="decimal"
              value={texts.gatePpm}
              onChange={(e) => change({ gatePpm: e.target.value })}
            />
            {GATES.map((gate) => (
              <button
                key={gate.words}
                type="button"
                className="btn btn-sm btn-outline-secondary"
                onClick={() => change({ gatePpm: String(Math.round(gate.ppm * room.scale * 2)) })}
              >
                {gate.words}
              </button>
            ))}
          </div>
        )}
      </LabelledField>
      {typed(`Water that covers it, ${largeSign()}`, 'coverL', { numeric: true, hint: 'empty: by its first water' })}
      <LabelledField label="I look at it" error={problemAt(problems, 'lookEveryHours')}>
        {(a) => (
          <Form.Select {...a} value={texts.lookEveryHours} onChange={(e) => change({ lookEveryHours: e.target.value })}>
            <option value="24">once a day</option>
            <option value="12">twice a day</option>
          </Form.Select>
        )}
      </LabelledField>
      <LabelledField label="Note" error={problemAt(problems, 'note')} wide>
        {(a) => (
          <Form.Control
            {...a}
            as="textarea"
            rows={2}
            value={texts.note}
            onChange={(e) => change({ note: e.target.value })}
          />
        )}
      </LabelledField>
    </FormModal>
  );
}
