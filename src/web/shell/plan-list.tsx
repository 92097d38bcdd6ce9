import { useQuery } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { Link } from 'react-router';
import type { PlanAct, PlannedActView } from '../../contract/shell.ts';
import { Icon } from '../drawing/icon.tsx';
import { get, newId } from './api.ts';
import { weekdayDayMonth } from './format.ts';
import { LabelledField } from './labelled-field.tsx';
import { problemAt, otherProblems, useAct } from './use-act.ts';
import { DateInput } from './date-input.tsx';

export const plansQuery = {
  queryKey: ['plans'],
  queryFn: () => get<{ today: string; plans: PlannedActView[] }>('/api/shell/plans'),
};
const ORIGIN_WORDS: Record<PlannedActView['origin'], string> = {
  grower: 'your own',
  round: 'from the round',
  bench: 'from the bench',
  drift: 'from the drift room',
  clay: 'from the clay',
  season: 'from the season',
  shelf: 'from the shelf',
};
/** Days ahead that the round shows of what is planned. */
const SHOWN_DAYS = 7;

/** What is planned beside the fillings: ticked off here, moved a day, or dropped. */
export function PlanList() {
  const list = useQuery(plansQuery);
  const [adding, setAdding] = useState(false);
  const { send } = useAct('/api/shell/plans/acts');
  if (!list.data) return null;
  const { today } = list.data;
  const plans = list.data.plans.filter((p) => p.daysLate >= -SHOWN_DAYS);
  const act = (body: PlanAct, words: string) => void send(body, words);
  return (
    <section className="sheet plan-list" aria-label="Also planned">
      <header>
        <h2>Also planned</h2>
        {plans.length === 0 && <span className="small">nothing in the next week</span>}
        <Button
          size="sm"
          variant="outline-secondary"
          className="push"
          aria-expanded={adding}
          onClick={() => setAdding(!adding)}
        >
          <Icon name="plus" /> Plan something
        </Button>
      </header>
      {adding && <PlanForm today={today} onDone={() => setAdding(false)} />}
      {plans.length > 0 && (
        <ul>
          {plans.map((plan) => (
            <PlanLine key={plan.id} plan={plan} act={act} today={today} />
          ))}
        </ul>
      )}
    </section>
  );
}

function PlanLine({
  plan,
  act,
  today,
}: {
  plan: PlannedActView;
  act: (body: PlanAct, words: string) => void;
  today: string;
}) {
  return (
    <li className={plan.doneOn ? 'done' : ''}>
      <input
        type="checkbox"
        className="form-check-input"
        aria-label={`Done: ${plan.words} ${plan.about}`}
        checked={plan.doneOn !== null}
        disabled={plan.doneOn !== null}
        onChange={() => act({ kind: 'done', planId: plan.id }, `Done: ${plan.words}`)}
      />
      <span className="min-0">
        {plan.doneOn ? <s>{plan.words}</s> : plan.words}
        {plan.about && (
          <>, {plan.subjectKind === 'pot' ? <Link to={`/pots/${plan.subjectId}`}>{plan.about}</Link> : plan.about}</>
        )}{' '}
        <Leads plan={plan} />
      </span>
      <span className={`push nowrap small ${plan.daysLate > 0 && !plan.doneOn ? 'late' : ''}`}>{whenOf(plan)}</span>
      {!plan.doneOn && (
        <>
          <button
            type="button"
            className="btn btn-link btn-sm p-0"
            aria-label={`Tomorrow: ${plan.words}`}
            onClick={() => act({ kind: 'moveTo', planId: plan.id, onDate: dayAfter(today) }, `Tomorrow: ${plan.words}`)}
          >
            Tomorrow
          </button>
          <button
            type="button"
            className="btn btn-link btn-sm p-0"
            aria-label={`Drop: ${plan.words}`}
            onClick={() => act({ kind: 'drop', planId: plan.id }, `Dropped: ${plan.words}`)}
          >
            Drop
          </button>
        </>
      )}
    </li>
  );
}

/** Where it is begun, or where it came from. */
function Leads({ plan }: { plan: PlannedActView }) {
  return plan.origin === 'clay' && plan.subjectKind === 'pot' && /^Hold|^Salt/.test(plan.words) && !plan.doneOn ? (
    <Link className="small" to={`/clay?hold=${plan.subjectId}`}>
      start it
    </Link>
  ) : plan.origin === 'clay' && plan.subjectKind === 'collection' && !plan.doneOn ? (
    <Link className="small" to="/clay">
      to the clay
    </Link>
  ) : (
    <span className="small">{ORIGIN_WORDS[plan.origin]}</span>
  );
}

function whenOf({ doneOn, daysLate, onDate }: PlannedActView): string {
  if (doneOn) return 'done';
  if (daysLate > 0) return `${daysLate} d late`;
  return daysLate === 0 ? 'today' : weekdayDayMonth(onDate);
}

/** Plans an act for a pot, or for the collection, on a day. */
export function PlanForm({
  today,
  pot,
  onDone,
}: {
  today: string;
  pot?: { id: string; code: string };
  onDone(): void;
}) {
  const [words, setWords] = useState('');
  const [onDate, setOnDate] = useState(today);
  const { send, problems, setProblems, busy } = useAct('/api/shell/plans/acts');
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (words.trim() === '') return setProblems({ words: 'Say what is to be done, such as look at the roots.' });
    if (onDate === '') return setProblems({ onDate: 'Choose the day.' });
    const body: PlanAct = {
      kind: 'plan',
      planId: newId(),
      subjectKind: pot ? 'pot' : 'collection',
      subjectId: pot?.id ?? null,
      words: words.trim(),
      onDate,
      origin: 'grower',
    };
    if (await send(body, `Planned: ${words.trim()}`)) onDone();
  };
  return (
    <form className="plan-form" noValidate onSubmit={(e) => void submit(e)}>
      <LabelledField
        label={pot ? `What, for ${pot.code}` : 'What'}
        error={problemAt(problems, 'words') ?? otherProblems(problems, ['words', 'onDate'])}
      >
        {(a) => (
          <Form.Control
            {...a}
            autoFocus
            autoComplete="off"
            maxLength={120}
            value={words}
            onChange={(e) => setWords(e.target.value)}
          />
        )}
      </LabelledField>
      <LabelledField label="On" error={problemAt(problems, 'onDate')}>
        {(a) => <DateInput {...a} min={today} value={onDate} onChange={(e) => setOnDate(e.target.value)} />}
      </LabelledField>
      <Button type="submit" disabled={busy}>
        Plan it
      </Button>
    </form>
  );
}

function dayAfter(date: string): string {
  return new Date(new Date(`${date}T12:00:00Z`).getTime() + 86_400_000).toISOString().slice(0, 10);
}
