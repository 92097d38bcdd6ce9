import { useState, type FormEvent } from 'react';
import Form from 'react-bootstrap/Form';
import type { Turn } from '../../../contract/turns.ts';
import { FormModal } from '../../shell/form-modal.tsx';
import { dayMonthYear } from '../../shell/format.ts';
import { LabelledField } from '../../shell/labelled-field.tsx';
import { otherProblems, problemAt, useAct } from '../../shell/use-act.ts';

/** A name of one's own for a turn, and whether it is part of another. */
export function TurnForm({ turn, others, onClose }: { turn: Turn; others: readonly Turn[]; onClose(): void }) {
  const { send, problems, busy } = useAct('/api/book/turns/marks');
  const [name, setName] = useState(turn.named ? turn.title : '');
  const [joinedTo, setJoinedTo] = useState('');
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const mark = { id: turn.id, name: name.trim(), ...(joinedTo ? { joinedTo } : {}) };
    if (await send(mark, joinedTo ? 'Joined' : 'Named')) onClose();
  };
  return (
    <FormModal
      title="Name a turn"
      keep="Keep it"
      busy={busy}
      submit={(e) => void submit(e)}
      onClose={onClose}
      wrong={otherProblems(problems, ['name', 'joinedTo'])}
    >
      <LabelledField label="Call it" error={problemAt(problems, 'name')} hint="Empty: as it was found in the log.">
        {(a) => (
          <Form.Control
            {...a}
            autoFocus
            autoComplete="off"
            maxLength={80}
            placeholder={turn.named ? '' : turn.title}
            value={name}
            onChange={(e) => setName(e.target.value)}
          />
        )}
      </LabelledField>
      {others.length > 0 && turn.joined.length === 0 && (
        <LabelledField
          label="Part of"
          error={problemAt(problems, 'joinedTo')}
          hint="Joined, two turns are one: their pots are taken together, and the day is the other’s."
        >
          {(a) => (
            <Form.Select {...a} value={joinedTo} onChange={(e) => setJoinedTo(e.target.value)}>
              <option value="">no other: it stands by itself</option>
              {others.map(({ id, title, on }) => (
                <option key={id} value={id}>
                  {title}, {dayMonthYear(on)}
                </option>
              ))}
            </Form.Select>
          )}
        </LabelledField>
      )}
    </FormModal>
  );
}
