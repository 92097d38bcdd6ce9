import { useState, type FormEvent } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import Modal from 'react-bootstrap/Modal';
import type { PlanAct } from '../../contract/shell.ts';
import { useActs } from './acts.tsx';
import { newId, ProblemError } from './api.ts';
import { LabelledField } from './labelled-field.tsx';

/** The waits of the trade, common practice; any other can be typed. */
const USUAL = [
  { words: 'Drain', minutes: 3 },
  { words: 'Read again', minutes: 15 },
  { words: 'Soak', minutes: 30 },
  { words: 'Hold for the soak test', minutes: 60 },
  { words: 'Tap water standing open', minutes: 24 * 60 },
] as const;

/** Starts a clock of the grower's own. */
export default function StartClock({ onClose }: { onClose(): void }) {
  const { put } = useActs();
  const [words, setWords] = useState('');
  const [minutes, setMinutes] = useState('');
  const [errors, setErrors] = useState<{ words?: string | undefined; minutes?: string | undefined }>({});
  const start = async (what: string, howLong: number) => {
    const id = newId();
    const body: PlanAct = {
      kind: 'startClock',
      clockId: newId(),
      subjectKind: 'collection',
      subjectId: null,
      words: what,
      minutes: howLong,
      origin: 'grower',
    };
    try {
      await put(
        { id, url: `/api/shell/plans/acts/${id}`, body, words: `Clock: ${what}` },
        { toast: `Clock started: ${what}` },
      );
      onClose();
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      setErrors({
        words: error.at('words'),
        minutes: error.at('minutes') ?? (error.at('words') ? undefined : error.problem.detail),
      });
    }
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const howLong = Number(minutes.trim().replace(',', '.'));
    const wrong = {
      words: words.trim() === '' ? 'Say what it is for, such as soak.' : undefined,
      minutes: howLong > 0 ? undefined : 'Give the minutes, such as 15.',
    };
    if (wrong.words ?? wrong.minutes) setErrors(wrong);
    else void start(words.trim(), howLong);
  };
  return (
    <Modal show onHide={onClose} animation={false} centered aria-labelledby="clock-title">
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="clock-title">
          Start a clock
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <div className="d-flex flex-wrap gap-2 mb-3" role="group" aria-label="Usual waits">
          {USUAL.map((u) => (
            <Button key={u.words} variant="outline-secondary" size="sm" onClick={() => void start(u.words, u.minutes)}>
              {u.words}, {u.minutes >= 60 ? `${u.minutes / 60}\u00a0h` : `${u.minutes}\u00a0min`}
            </Button>
          ))}
        </div>
        <Form noValidate onSubmit={submit} className="d-grid gap-2">
          <LabelledField label="What for" error={errors.words}>
            {(a) => (
              <Form.Control {...a} autoFocus value={words} maxLength={120} onChange={(e) => setWords(e.target.value)} />
            )}
          </LabelledField>
          <LabelledField label="Minutes" error={errors.minutes}>
            {(a) => (
              <Form.Control {...a} inputMode="decimal" value={minutes} onChange={(e) => setMinutes(e.target.value)} />
            )}
          </LabelledField>
          <Button type="submit">Start</Button>
        </Form>
      </Modal.Body>
    </Modal>
  );
}
