import { useQuery } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import Modal from 'react-bootstrap/Modal';
import type { Correctable } from '../../contract/book.ts';
import { GROWTH, GROWTH_KEYS } from '../../contract/growth.ts';
import { parseReading, type Reading, type ReadingQuantity } from '../../core/quantity/index.ts';
import { get } from '../shell/api.ts';
import { inLargeUnit, inSmallUnit, largeSign, readLarge, readSmall, smallSign } from '../shell/format.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { useAct } from '../shell/use-act.ts';

type Payload = Record<string, unknown>;
type Kind = ReadingQuantity | 'small' | 'large' | 'count' | 'figure' | 'words' | 'yes';
type Figure = { label: string; path: readonly string[]; kind: Kind };

const reading = (label: string, kind: ReadingQuantity, ...path: string[]): Figure => ({ label, path, kind });
/** The figures each kind of act can have put right, where they stand in it. */
const FIGURES: Partial<Record<Correctable['kind'], readonly Figure[]>> = {
  potFilled: [
    reading('Old reservoir, ppm', 'ppm', 'oldReservoir', 'ppm'),
    reading('Old reservoir, pH', 'pH', 'oldReservoir', 'ph'),
    { label: 'Left in it', path: ['oldReservoir', 'leftMl'], kind: 'small' },
    { label: 'Flushed with', path: ['flushMl'], kind: 'small' },
    { label: 'Filled with', path: ['pouredMl'], kind: 'small' },
  ],
  potReread: [
    reading('ppm', 'ppm', 'ppm'),
    reading('pH', 'pH', 'ph'),
    { label: 'Left in it', path: ['leftMl'], kind: 'small' },
  ],
  potMeasured: GROWTH_KEYS.map((key): Figure => ({
    label: `${GROWTH[key].label}${GROWTH[key].unit ? `, ${GROWTH[key].unit}` : ''}`,
    path: ['figures', key],
    kind: 'figure',
  })),
  potSkipped: [{ label: 'Why', path: ['reason'], kind: 'words' }],
  batchBase: [reading('Plain water, ppm', 'ppm', 'reading')],
  batchReading: [reading('The mix, ppm', 'ppm', 'reading')],
  batchPortion: [
    { label: 'Drops or marks', path: ['dose', 'steps'], kind: 'count' },
    reading('The mix after it, ppm', 'ppm', 'reading'),
  ],
  batchThinned: [
    { label: 'Poured off', path: ['pourOffL'], kind: 'large' },
    { label: 'Water added', path: ['addL'], kind: 'large' },
    reading('The mix after it, ppm', 'ppm', 'reading'),
  ],
  batchPh: [reading('pH', 'pH', 'reading')],
  batchCorrection: [
    { label: 'Drops or marks', path: ['dose', 'steps'], kind: 'count' },
    reading('pH after it', 'pH', 'reading'),
  ],
  waterRead: [reading('ppm', 'ppm', 'ppm'), reading('pH', 'pH', 'ph')],
  clayRead: [reading('ppm', 'ppm', 'ppm'), reading('pH', 'pH', 'ph')],
  clayFilled: [
    { label: 'Poured off', path: ['pouredOffL'], kind: 'large' },
    { label: 'Where it went', path: ['to'], kind: 'words' },
    { label: 'Fresh water on', path: ['freshL'], kind: 'large' },
  ],
  clayDrained: [
    { label: 'Drained', path: ['pouredOffL'], kind: 'large' },
    { label: 'Where it went', path: ['to'], kind: 'words' },
  ],
  potHoldRead: [reading('ppm', 'ppm', 'reading')],
  noteWritten: [
    { label: 'What was done', path: ['words'], kind: 'words' },
    { label: 'It changed what lasts: show it among the turns', path: ['lasts'], kind: 'yes' },
  ],
  waterCounted: [{ label: 'In the tank', path: ['litres'], kind: 'large' }],
};

/** Puts the figures of one act right. The old ones stay in the log, struck through, and can be put back. */
export function CorrectDialog({ eventId, onClose }: { eventId: string; onClose(): void }) {
  const act = useQuery({
    queryKey: ['correctable', eventId],
    queryFn: () => get<Correctable>(`/api/book/acts/${eventId}`),
    staleTime: 0,
  });
  return (
    <Modal show onHide={onClose} animation={false} centered aria-labelledby="correct-title">
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="correct-title">
          Put it right
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {act.data ? (
          <Figures act={act.data} onClose={onClose} />
        ) : act.error ? (
          <p className="field-error mb-0">{act.error.message}</p>
        ) : (
          <p className="mb-0">Fetching it …</p>
        )}
      </Modal.Body>
    </Modal>
  );
}

function Figures({ act, onClose }: { act: Correctable; onClose(): void }) {
  const figures = FIGURES[act.kind] ?? [];
  const payload = act.payload as Payload;
  const [texts, setTexts] = useState<string[]>(() =>
    figures.map((figure) => toText(at(payload, figure.path), figure.kind)),
  );
  const [errors, setErrors] = useState<(string | undefined)[]>([]);
  const { send, problems, busy } = useAct('/api/book/corrections');
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const wrong: (string | undefined)[] = [];
    let next = structuredClone(payload);
    for (const [i, figure] of figures.entries()) {
      // A figure that was left as it stands is passed on as it stands: written out and read again it might be rounded.
      if (texts[i] === toText(at(payload, figure.path), figure.kind)) continue;
      const read = FROM_TEXT[figure.kind](texts[i] ?? '');
      if (isMistake(read)) wrong[i] = read.message;
      else next = withFigure(next, figure.path, read);
    }
    setErrors(wrong);
    if (wrong.some(Boolean)) return;
    if (await send({ targetId: act.eventId, payload: next }, 'Put right; the old figures stay in the Book')) onClose();
  };
  const messages = Object.entries(problems);
  const messageAt = (figure: Figure) =>
    messages.find(
      ([path]) => path !== '' && (path.startsWith(figure.path.join('.')) || figure.path.join('.').startsWith(path)),
    )?.[1];
  const shown = figures.map(messageAt);
  const other = messages.find(([, message]) => !shown.includes(message))?.[1];
  return (
    <form noValidate onSubmit={(e) => void submit(e)} className="thing-form">
      <p className="small mb-0">{act.words}</p>
      {figures.map((figure, i) =>
        figure.kind === 'yes' ? (
          <Form.Check
            key={figure.label}
            id={`correct-${figure.path.join('-')}`}
            label={figure.label}
            checked={texts[i] === 'yes'}
            onChange={(e) =>
              setTexts((old) => old.map((text, j) => (j === i ? (e.target.checked ? 'yes' : '') : text)))
            }
          />
        ) : (
          <LabelledField
            key={figure.label}
            label={`${figure.label}${UNITS[figure.kind]()}`}
            error={errors[i] ?? messageAt(figure)}
          >
            {(a) => (
              <Form.Control
                {...a}
                autoFocus={i === 0}
                autoComplete="off"
                {...(figure.kind === 'words' ? {} : { inputMode: 'decimal' as const })}
                placeholder={
                  figure.kind === 'ppm' || figure.kind === 'pH' || figure.path[1] === 'leftMl' ? 'not measured' : ''
                }
                value={texts[i]}
                onChange={(e) => setTexts((old) => old.map((text, j) => (j === i ? e.target.value : text)))}
              />
            )}
          </LabelledField>
        ),
      )}
      {other && (
        <p className="field-error mb-0" role="alert">
          {other}
        </p>
      )}
      <div className="d-flex gap-2 justify-content-end">
        <Button variant="outline-secondary" onClick={onClose}>
          Leave it
        </Button>
        <Button type="submit" disabled={busy}>
          Keep the right figures
        </Button>
      </div>
    </form>
  );
}

const UNITS: Record<Kind, () => string> = {
  ppm: () => '',
  pH: () => '',
  count: () => '',
  figure: () => '',
  words: () => '',
  yes: () => '',
  small: () => `, ${smallSign()}`,
  large: () => `, ${largeSign()}`,
};

const isMistake = (read: unknown): read is { message: string } =>
  typeof read === 'object' && read !== null && 'message' in read;

function at(payload: Payload, path: readonly string[]): unknown {
  return path.reduce<unknown>((value, key) => (value as Payload | null)?.[key], payload);
}

/** A payload with one figure replaced; the volume of a dose follows its count. */
function withFigure(payload: Payload, [key, ...rest]: readonly string[], value: unknown): Payload {
  if (key === undefined) return payload;
  if (rest.length === 0) {
    if (key === 'steps' && typeof payload['doseMl'] === 'number' && typeof payload['steps'] === 'number')
      return { ...payload, steps: value, doseMl: (payload['doseMl'] / payload['steps']) * (value as number) };
    return { ...payload, [key]: value };
  }
  return { ...payload, [key]: withFigure(payload[key] as Payload, rest, value) };
}

function toText(value: unknown, kind: Kind): string {
  if (value === null || value === undefined) return '';
  if (kind === 'yes') return value === true ? 'yes' : '';
  if (kind === 'small') return inSmallUnit(value as number);
  if (kind === 'large') return inLargeUnit((value as number) * 1000);
  if (kind === 'ppm' || kind === 'pH') {
    const read = value as Reading;
    if (read.kind === 'value') return String(read.value);
    if (read.kind === 'range') return `${read.low} to ${read.high}`;
    return read.kind === 'overRange' ? 'over' : '';
  }
  return typeof value === 'number' ? String(value) : typeof value === 'string' ? value : '';
}

/** A figure that may be left out. */
function figureFrom(text: string): unknown {
  if (text.trim() === '') return undefined;
  const figure = Number(text.trim().replace(',', '.'));
  return figure >= 0 ? figure : { message: 'Give a figure, such as 18.5, or leave it empty.' };
}

const readAs = (text: string, quantity: ReadingQuantity): unknown => {
  const parsed = parseReading(text, quantity);
  return parsed.ok ? parsed.reading : { message: parsed.message };
};
const volume = (text: string, read: typeof readSmall, ofMl: (ml: number) => number): unknown => {
  const found = read(text);
  if (found.kind === 'unclear') return { message: found.message };
  return found.kind === 'empty' ? null : ofMl(found.ml);
};
function countFrom(text: string): unknown {
  const count = Number(text);
  return Number.isInteger(count) && count > 0 ? count : { message: 'Count whole ones, such as 12.' };
}
/** What was typed, as it stands in an act; a `message` where it cannot. */
const FROM_TEXT: Record<Kind, (text: string) => unknown> = {
  ppm: (text) => readAs(text, 'ppm'),
  pH: (text) => readAs(text, 'pH'),
  small: (text) => volume(text, readSmall, (ml) => ml),
  large: (text) => volume(text, readLarge, (ml) => ml / 1000),
  count: countFrom,
  figure: figureFrom,
  words: (text) => text,
  yes: (text) => (text === 'yes' ? true : undefined),
};
