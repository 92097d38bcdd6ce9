import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import type { UnsteadyView } from '../../contract/advice.ts';
import { get, newId } from '../shell/api.ts';
import { Failed, Loading } from '../shell/states.tsx';
import { useAct } from '../shell/use-act.ts';

type Step = UnsteadyView['steps'][number];
const MARKS: Record<Step['verdict'], { mark: string; words: string }> = {
  found: { mark: '!', words: 'here it is' },
  cleared: { mark: '✓', words: 'not this' },
  ask: { mark: '?', words: 'look' },
};

/** Why what comes out swings, in the order of practice: what the log clears is cleared, the rest is asked. */
export function UnsteadyCheck({ potId, code }: { potId: string; code: string }) {
  const check = useQuery({
    queryKey: ['advice', potId, 'unsteady'],
    queryFn: () => get<UnsteadyView>(`/api/advice/pots/${potId}/unsteady`),
  });
  const [said, setSaid] = useState<Partial<Record<Step['id'], boolean>>>({});
  const [planned, setPlanned] = useState<ReadonlySet<Step['id']>>(new Set());
  const { send, busy } = useAct('/api/shell/plans/acts');
  if (check.isPending) return <Loading what="what its log says" />;
  if (!check.data) return <Failed error={check.error} retry={() => void check.refetch()} />;
  const steps = check.data.steps.map((step) => {
    const answer = said[step.id];
    return {
      ...step,
      verdict: answer === undefined ? step.verdict : answer ? ('found' as const) : ('cleared' as const),
      answered: answer !== undefined,
    };
  });
  const found = steps.filter((s) => s.verdict === 'found');
  const open = steps.filter((s) => s.verdict === 'ask');
  const plan = async (step: Step, today: string) => {
    const words = `${step.title}: ${step.then.split(/[.:]/)[0]!.trim()}`.slice(0, 118);
    const body = {
      kind: 'plan',
      planId: newId(),
      subjectKind: 'pot',
      subjectId: potId,
      words,
      onDate: today,
      origin: 'round',
    };
    if (await send(body, `On the list of ${code}: ${words}`)) setPlanned(new Set([...planned, step.id]));
  };
  return (
    <section className="unsteady" aria-label="Why does it swing?">
      <p className="mb-0" aria-live="polite">
        <b>
          {found.length > 0
            ? `Most likely: ${found[0]!.title.toLowerCase()}.`
            : open.length > 0
              ? `${open.length} left to look at.`
              : 'None of these. Then it is the plant: growth, rest or bloom change what it takes.'}
        </b>{' '}
        The first that is so is the one to mend first; the ones after it may follow from it.
      </p>
      <ol>
        {steps.map((step, i) => (
          <li key={step.id} className={`sheet unsteady-step ${step.verdict}`}>
            <b className="n" aria-hidden>
              {MARKS[step.verdict].mark}
            </b>
            <div className="min-0">
              <h2>
                {i + 1}. {step.title} <span className="small">{MARKS[step.verdict].words}</span>
              </h2>
              <p>{step.seen}</p>
              {(step.verdict === 'ask' || step.answered) && (
                <div className="d-flex flex-wrap gap-2 align-items-center" role="group" aria-label={step.ask}>
                  <span>{step.ask}</span>
                  {[true, false].map((yes) => (
                    <Button
                      key={String(yes)}
                      size="sm"
                      variant={said[step.id] === yes ? 'primary' : 'outline-secondary'}
                      aria-pressed={said[step.id] === yes}
                      onClick={() => setSaid({ ...said, [step.id]: yes })}
                    >
                      {yes ? 'Yes' : 'No'}
                    </Button>
                  ))}
                </div>
              )}
              {step.verdict === 'found' && (
                <p className="d-flex flex-wrap gap-2 align-items-center">
                  <span>{step.then}</span>
                  <Button
                    size="sm"
                    variant="outline-secondary"
                    disabled={busy || planned.has(step.id)}
                    onClick={() => void plan(step, check.data.today)}
                  >
                    {planned.has(step.id) ? 'On the list' : 'Put it on the list'}
                  </Button>
                </p>
              )}
            </div>
          </li>
        ))}
      </ol>
    </section>
  );
}
