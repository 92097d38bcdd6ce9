import { useState, type FormEvent } from 'react';
import Form from 'react-bootstrap/Form';
import type { TrialView } from '../../../contract/trials.ts';
import { FormModal } from '../../shell/form-modal.tsx';
import { LabelledField } from '../../shell/labelled-field.tsx';
import { otherProblems, problemAt, useAct } from '../../shell/use-act.ts';

/** Ends a trial, and says what its pots follow from now on. */
export function EndTrial({ trial, onClose }: { trial: TrialView; onClose(): void }) {
  const { send, problems, busy } = useAct('/api/book/trials/acts');
  const [after, setAfter] = useState<'back' | 'keep' | 'all'>(trial.change.kind === 'own' ? 'keep' : 'back');
  const [why, setWhy] = useState('');
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (await send({ kind: 'end', trialId: trial.id, why, after }, 'Ended the trial')) onClose();
  };
  const ways = [
    ['back', `All ${trial.arms[1]}`],
    ['keep', 'Each stays as it is now'],
    ['all', `All ${trial.arms[0]}`],
  ] as const;
  return (
    <FormModal
      title="End the trial"
      keep="End it"
      busy={busy}
      submit={(e) => void submit(e)}
      onClose={onClose}
      wrong={otherProblems(problems, ['why', 'after'])}
    >
      {trial.state === 'running' && (
        <p className="small mb-0">
          {trial.weeksGone} of {trial.weeks} weeks are over. Ended now, only a difference that chance brings once in a
          thousand is called real: whoever stops when it looks good finds differences that are none.
        </p>
      )}
      {trial.change.kind !== 'own' && (
        <fieldset>
          <legend>Its pots from now on</legend>
          {ways.map(([way, words]) => (
            <Form.Check
              key={way}
              type="radio"
              id={`after-${way}`}
              name="after"
              label={words}
              checked={after === way}
              onChange={() => setAfter(way)}
            />
          ))}
        </fieldset>
      )}
      <LabelledField label="Why now" error={problemAt(problems, 'why')}>
        {(a) => (
          <Form.Control
            {...a}
            autoComplete="off"
            maxLength={200}
            value={why}
            onChange={(e) => setWhy(e.target.value)}
          />
        )}
      </LabelledField>
    </FormModal>
  );
}
