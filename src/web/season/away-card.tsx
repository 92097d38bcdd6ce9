import { useState, type FormEvent } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { Link } from 'react-router';
import type { SeasonAct, SeasonView } from '../../contract/season.ts';
import { newId } from '../shell/api.ts';
import { DateInput } from '../shell/date-input.tsx';
import { FormModal } from '../shell/form-modal.tsx';
import { weekdayDayMonth } from '../shell/format.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { otherProblems, problemAt, useAct } from '../shell/use-act.ts';
import { WorkTimesForm, workTimesWords } from './work-times.tsx';

type AwayCardProps = {
  view: SeasonView;
  /** Minutes there are on a day; null where nobody counts them. */
  minutes: number | null;
  busy: boolean;
  onMinutes(minutes: number | null): void;
};

/** Days nobody is there: noted, taken back, and the sheet for whoever looks after the pots meanwhile; and how long work takes. */
export function AwayCard({ view, minutes, busy: mending, onMinutes }: AwayCardProps) {
  const [asking, setAsking] = useState(false);
  const [times, setTimes] = useState(false);
  const { send, busy } = useAct('/api/season/acts');
  return (
    <section className="sheet away-card" aria-label="Days away">
      <h2>Days and minutes</h2>
      {view.away.map(({ id, fromDate, untilDate }) => (
        <div key={id} className="away-days">
          <span>
            {weekdayDayMonth(fromDate)} to {weekdayDayMonth(untilDate)}
          </span>
          <Link className="btn btn-outline-secondary btn-sm" to={`/season/sitter/${id}`}>
            Sitter’s sheet
          </Link>
          <Button
            variant="link"
            size="sm"
            className="p-0"
            disabled={busy}
            onClick={() => void send({ kind: 'notAway', awayId: id } satisfies SeasonAct, 'Not away after all')}
          >
            Not away after all
          </Button>
        </div>
      ))}
      <Button variant="outline-secondary" size="sm" onClick={() => setAsking(true)}>
        I am away …
      </Button>
      <MinutesForm key={minutes} minutes={minutes} busy={mending} onMinutes={onMinutes} />
      <p className="small mb-0">
        {workTimesWords(view.learned.minutes)}.{' '}
        <Button variant="link" size="sm" className="p-0" onClick={() => setTimes(true)}>
          How long things take …
        </Button>
      </p>
      {times && <WorkTimesForm minutes={view.learned.minutes} onClose={() => setTimes(false)} />}
      {asking && <AwayForm today={view.on} onClose={() => setAsking(false)} />}
    </section>
  );
}

/** A day has no more. */
const MOST_MINUTES = 1440;

/** How long there is on a day: longer days are then told and avoided. Empty counts none. */
function MinutesForm({ minutes, busy, onMinutes }: Pick<AwayCardProps, 'minutes' | 'busy' | 'onMinutes'>) {
  const [text, setText] = useState(minutes === null ? '' : String(minutes));
  const [wrong, setWrong] = useState<string>();
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const typed = text.trim() === '' ? null : Number(text);
    if (typed !== null && !(typed > 0 && typed <= MOST_MINUTES))
      return setWrong('Give the minutes there are on a day, such as 60, or leave it empty.');
    setWrong(undefined);
    if (typed !== minutes) onMinutes(typed);
  };
  return (
    <form className="minutes-form" noValidate onSubmit={submit}>
      <LabelledField label="Minutes there are on a day" error={wrong}>
        {(a) => (
          <Form.Control
            {...a}
            size="sm"
            inputMode="numeric"
            placeholder="not counted"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
        )}
      </LabelledField>
      <Button type="submit" variant="outline-secondary" size="sm" disabled={busy}>
        Plan with them
      </Button>
    </form>
  );
}

function AwayForm({ today, onClose }: { today: string; onClose(): void }) {
  const [fromDate, setFrom] = useState('');
  const [untilDate, setUntil] = useState('');
  const { send, problems, setProblems, busy } = useAct('/api/season/acts');
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (fromDate === '') return setProblems({ fromDate: 'Choose the first day you are away.' });
    if (untilDate === '') return setProblems({ untilDate: 'Choose the last day you are away.' });
    const body: SeasonAct = { kind: 'away', awayId: newId(), fromDate, untilDate };
    const words = `Away ${weekdayDayMonth(fromDate)} to ${weekdayDayMonth(untilDate)}`;
    if (await send(body, words)) onClose();
  };
  return (
    <FormModal
      title="Days away"
      keep="Plan round them"
      busy={busy}
      submit={(e) => void submit(e)}
      onClose={onClose}
      wrong={otherProblems(problems, ['fromDate', 'untilDate'])}
    >
      <LabelledField label="First day away" error={problemAt(problems, 'fromDate')}>
        {(a) => <DateInput {...a} min={today} value={fromDate} onChange={(e) => setFrom(e.target.value)} />}
      </LabelledField>
      <LabelledField label="Last day away" error={problemAt(problems, 'untilDate')}>
        {(a) => (
          <DateInput {...a} min={fromDate || today} value={untilDate} onChange={(e) => setUntil(e.target.value)} />
        )}
      </LabelledField>
    </FormModal>
  );
}
