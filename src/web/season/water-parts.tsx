import { useState, type FormEvent } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import type { YearView } from '../../contract/season-pages.ts';
import type { SeasonAct } from '../../contract/season.ts';
import { newId } from '../shell/api.ts';
import { DateInput } from '../shell/date-input.tsx';
import { typedNumber } from '../shell/field-reader.ts';
import { FormModal } from '../shell/form-modal.tsx';
import { dayMonthYear } from '../shell/format.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { otherProblems, problemAt, useAct } from '../shell/use-act.ts';

type Part = YearView['parts'][number];

/** What wears in making still water: cartridges, a membrane. Noted, put in new, used no more. */
export function WaterParts({ parts, today }: { parts: readonly Part[]; today: string }) {
  const [asking, setAsking] = useState(false);
  const { send, busy } = useAct('/api/season/acts');
  return (
    <section className="sheet" aria-label="What wears in making still water">
      <h2>What wears</h2>
      {parts.length === 0 && (
        <p className="small">
          Cartridges and membranes that are past their days let minerals through, and the base reads higher. Note them,
          and their months stand in the strip.
        </p>
      )}
      {parts.map(({ id, name, everyDays, dueOn }) => (
        <div key={id} className="away-days">
          <span>
            {name}, every {everyDays} days:{' '}
            {dueOn <= today ? <b>due since {dayMonthYear(dueOn)}</b> : dayMonthYear(dueOn)}
          </span>
          <span>
            <Button
              variant="outline-secondary"
              size="sm"
              disabled={busy}
              onClick={() =>
                void send({ kind: 'partChanged', partId: id, on: today } satisfies SeasonAct, `${name}: put in new`)
              }
            >
              New today
            </Button>{' '}
            <Button
              variant="link"
              size="sm"
              className="p-0"
              disabled={busy}
              onClick={() => void send({ kind: 'dropPart', partId: id } satisfies SeasonAct, `${name}: used no more`)}
            >
              Used no more
            </Button>
          </span>
        </div>
      ))}
      <Button variant="outline-secondary" size="sm" onClick={() => setAsking(true)}>
        Note one …
      </Button>
      {asking && <PartForm today={today} onClose={() => setAsking(false)} />}
    </section>
  );
}

function PartForm({ today, onClose }: { today: string; onClose(): void }) {
  const [name, setName] = useState('');
  const [days, setDays] = useState('');
  const [changedOn, setChangedOn] = useState(today);
  const { send, problems, setProblems, busy } = useAct('/api/season/acts');
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (changedOn === '') return setProblems({ changedOn: 'Choose the day it was put in.' });
    const body = { kind: 'part', partId: newId(), name, everyDays: typedNumber(days), changedOn };
    if (await send(body, `${name}: noted`)) onClose();
  };
  return (
    <FormModal
      title="A cartridge or membrane"
      keep="Note it"
      busy={busy}
      submit={(e) => void submit(e)}
      onClose={onClose}
      wrong={otherProblems(problems, ['name', 'everyDays', 'changedOn'])}
    >
      <LabelledField label="Name" error={problemAt(problems, 'name')}>
        {(a) => <Form.Control {...a} autoFocus value={name} onChange={(e) => setName(e.target.value)} />}
      </LabelledField>
      <LabelledField
        label="Good for so many days"
        hint="As its label says: a sediment or carbon cartridge often 180, a membrane 730."
        error={problemAt(problems, 'everyDays')}
      >
        {(a) => <Form.Control {...a} inputMode="numeric" value={days} onChange={(e) => setDays(e.target.value)} />}
      </LabelledField>
      <LabelledField label="Put in new on" error={problemAt(problems, 'changedOn')}>
        {(a) => <DateInput {...a} max={today} value={changedOn} onChange={(e) => setChangedOn(e.target.value)} />}
      </LabelledField>
    </FormModal>
  );
}
