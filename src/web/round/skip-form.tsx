import { addDays, formatISO, parseISO } from 'date-fns';
import { useState, type FormEvent } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import type { RoundPot } from '../../contract/round.ts';
import { weekdayDayMonth } from '../shell/format.ts';

const REASONS = ['still half full', 'out on loan', 'out of reach', 'resting'] as const;
const AGAIN = [
  { days: 1, words: 'tomorrow' },
  { days: 3, words: 'in 3 days' },
  { days: 7, words: 'in a week' },
] as const;

type Props = { pot: RoundPot; today: string; onSkip(reason: string, lookAgainOn: string): void; onCancel(): void };

/** Skip with a reason, and when to look again. */
export function SkipForm({ pot, today, onSkip, onCancel }: Props) {
  const [reason, setReason] = useState('');
  const [days, setDays] = useState(3);
  const [error, setError] = useState<string>();
  const again = formatISO(addDays(parseISO(today), days), { representation: 'date' });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (!reason.trim()) setError('Say why, in a word: it is the first thing one asks next week.');
    else onSkip(reason.trim(), again);
  };
  return (
    <Form
      className="skip-form"
      onSubmit={submit}
      onKeyDown={(e) => e.key === 'Escape' && onCancel()}
      aria-label={`Skip ${pot.code}`}
    >
      <fieldset>
        <legend>Why skip {pot.code}?</legend>
        <div className="look">
          {REASONS.map((r, i) => (
            <button key={r} type="button" autoFocus={i === 0} aria-pressed={reason === r} onClick={() => setReason(r)}>
              {r}
            </button>
          ))}
        </div>
        <Form.Control
          aria-label="Another reason"
          placeholder="or in your own words"
          maxLength={200}
          value={REASONS.includes(reason as never) ? '' : reason}
          onChange={(e) => setReason(e.target.value)}
          isInvalid={Boolean(error)}
          aria-describedby={error ? 'skip-error' : undefined}
        />
        {error && (
          <div className="field-error" id="skip-error" role="alert">
            {error}
          </div>
        )}
      </fieldset>
      <fieldset>
        <legend>Look again</legend>
        <div className="look">
          {AGAIN.map((a) => (
            <button key={a.days} type="button" aria-pressed={days === a.days} onClick={() => setDays(a.days)}>
              {a.words}
            </button>
          ))}
        </div>
        <div className="small">{weekdayDayMonth(again)}</div>
      </fieldset>
      <div className="d-flex gap-2">
        <Button type="submit" size="lg" className="flex-fill">
          Skip this pot
        </Button>
        <Button type="button" size="lg" variant="outline-secondary" onClick={onCancel}>
          Back
        </Button>
      </div>
    </Form>
  );
}
