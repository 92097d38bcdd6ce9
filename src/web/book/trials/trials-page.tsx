import { useState } from 'react';
import Table from 'react-bootstrap/Table';
import Form from 'react-bootstrap/Form';
import { Link } from 'react-router';
import type { TrialView } from '../../../contract/trials.ts';
import { dayMonth } from '../../shell/format.ts';
import { FormModal } from '../../shell/form-modal.tsx';
import { LabelledField } from '../../shell/labelled-field.tsx';
import { Empty, Failed, Loading } from '../../shell/states.tsx';
import { otherProblems, problemAt, useAct } from '../../shell/use-act.ts';
import { BookTabs } from '../book-tabs.tsx';
import { TrialCard } from './trial-card.tsx';
import { figure } from './trial-words.ts';
import { useTrials } from './use-trials.ts';

/** Every trial, those that run first. */
export function TrialsPage() {
  const trials = useTrials();
  if (trials.isPending) return <Loading what="the trials" />;
  if (!trials.data) return <Failed error={trials.error} retry={() => void trials.refetch()} />;
  return (
    <div className="page trials-page">
      <header>
        <div>
          <h1>Book</h1>
          <div className="small">Questions put to the pots, and what they answered</div>
        </div>
        <BookTabs />
        <Link className="btn btn-primary" to="/book/trials/new">
          Start a trial
        </Link>
      </header>
      {trials.data.trials.length === 0 ? (
        <Empty title="No trial yet">
          <p className="mb-0">
            Half of some pots get one thing otherwise, by lot; before it starts you are told how large a difference so
            many pots can show.
          </p>
        </Empty>
      ) : (
        trials.data.trials.map((trial) => (
          <div key={trial.id} className="trial-whole">
            <TrialCard trial={trial} whole />
            <TrialPots trial={trial} />
          </div>
        ))
      )}
    </div>
  );
}

/** The pots of a trial in their pairs. */
function TrialPots({ trial }: { trial: TrialView }) {
  const [leaving, setLeaving] = useState<TrialView['pots'][number]>();
  const open = trial.endedOn === null;
  return (
    <section className="sheet trial-pots" aria-label={`Pots of: ${trial.question}`}>
      {trial.alike.length > 0 && <p className="small mb-2">What must stay equal: {trial.alike.join(', ')}.</p>}
      <Table responsive className="mb-0">
        <thead>
          <tr>
            <th scope="col">Pair</th>
            <th scope="col">Pot</th>
            <th scope="col">Gets</th>
            <th scope="col">Read</th>
            <th scope="col">Less its own past</th>
            <th scope="col">
              <span className="visually-hidden">Leave</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {trial.pots.map((pot) => (
            <tr key={pot.id}>
              <td className="num">{pot.pair + 1}</td>
              <td>
                <Link to={`/pots/${pot.id}`}>{pot.code}</Link> <span className="small">{pot.name}</span>
              </td>
              <td>{trial.arms[pot.arm]}</td>
              <td className="num">
                {pot.read} of {pot.visits}
              </td>
              <td className="num">{pot.outcome === null ? '—' : figure(trial.measure, pot.outcome)}</td>
              <td>
                {pot.leftOn ? (
                  <span className="small">
                    left {dayMonth(pot.leftOn)}: {pot.leftWhy}
                  </span>
                ) : (
                  open && (
                    <button type="button" className="btn btn-link btn-sm p-0" onClick={() => setLeaving(pot)}>
                      Take {pot.code} out
                    </button>
                  )
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      {leaving && <LeaveForm trial={trial} pot={leaving} onClose={() => setLeaving(undefined)} />}
    </section>
  );
}

function LeaveForm({ trial, pot, onClose }: { trial: TrialView; pot: TrialView['pots'][number]; onClose(): void }) {
  const { send, problems, busy } = useAct('/api/book/trials/acts');
  const [why, setWhy] = useState('');
  return (
    <FormModal
      title={`Take ${pot.code} out of the trial`}
      keep="Take it out"
      busy={busy}
      submit={(event) => {
        event.preventDefault();
        void send({ kind: 'leave', trialId: trial.id, potId: pot.id, why }, `${pot.code} is out of the trial`).then(
          (sent) => sent && onClose(),
        );
      }}
      onClose={onClose}
      wrong={otherProblems(problems, ['why'])}
    >
      <p className="small mb-0">What was read of it until today still counts, and it is told that it left.</p>
      <LabelledField label="Why" error={problemAt(problems, 'why')}>
        {(a) => (
          <Form.Control
            {...a}
            autoFocus
            autoComplete="off"
            maxLength={120}
            placeholder="repotted"
            value={why}
            onChange={(e) => setWhy(e.target.value)}
          />
        )}
      </LabelledField>
    </FormModal>
  );
}
