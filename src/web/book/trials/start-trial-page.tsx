import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useDeferredValue, useState, type FormEvent } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { useNavigate, useSearchParams } from 'react-router';
import { TREATMENTS, type TreatmentKind } from '../../../contract/kinds.ts';
import type { PotsView } from '../../../contract/pots.ts';
import { TRIAL_MEASURES, type TrialMeasure, type TrialPlan } from '../../../contract/trials.ts';
import { ask, newId } from '../../shell/api.ts';
import { potsNow } from '../pots-now.ts';
import { LabelledField } from '../../shell/labelled-field.tsx';
import { Failed, Loading } from '../../shell/states.tsx';
import { otherProblems, problemAt, useAct } from '../../shell/use-act.ts';
import { BookTabs } from '../book-tabs.tsx';
import { ChangeField } from './change-field.tsx';
import { PotChoice } from './pot-choice.tsx';
import { CHANGES, canPlan, EMPTY_TRIAL, trialOf, type TrialTexts } from './trial-form-values.ts';
import { PlanCard } from './plan-card.tsx';
import { TRIAL_MEASURE } from './trial-words.ts';

const FIELDS = [
  'question',
  'change',
  'share',
  'times',
  'timesReservoir',
  'by',
  'regimenId',
  'words',
  'matters',
  'weeks',
  'potIds',
  'alike',
];

/** A question, one thing changed, pots; and beside it what so many pots can show. */
export function StartTrialPage() {
  const pots = useQuery(potsNow);
  if (pots.isPending) return <Loading what="the pots" />;
  if (!pots.data) return <Failed error={pots.error} retry={() => void pots.refetch()} />;
  return <TrialForm view={pots.data} />;
}

function TrialForm({ view }: { view: PotsView }) {
  const [params] = useSearchParams();
  const [texts, setTexts] = useState<TrialTexts>(() => fromAddress(params));
  const { send, problems, busy } = useAct('/api/book/trials/acts');
  const navigate = useNavigate();
  const set = (some: Partial<TrialTexts>) => setTexts((was) => ({ ...was, ...some }));
  const asked = useDeferredValue(texts);
  const plan = useQuery({
    queryKey: ['book', 'trial-plan', { ...trialOf(asked), question: '', alike: [] }],
    queryFn: () => ask<TrialPlan>('/api/book/trials/plan', { ...trialOf(asked), question: '' }),
    enabled: canPlan(asked),
    placeholderData: keepPreviousData,
  });
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (await send({ kind: 'start', trialId: newId(), ...trialOf(texts) }, 'The trial has begun'))
      await navigate('/book/trials');
  };
  const told = canPlan(texts) ? plan.data : undefined;
  const at = (field: string) =>
    problemAt(problems, field) ?? told?.problems.find(({ path }) => path === field)?.message;
  return (
    <div className="page trial-new">
      <header>
        <div>
          <h1>Start a trial</h1>
          <div className="small">One question, one thing changed for half of the pots, by lot</div>
        </div>
        <BookTabs />
      </header>
      <div className="trial-columns">
        <form className="sheet trial-form" noValidate onSubmit={(e) => void submit(e)}>
          <LabelledField label="Question" error={problemAt(problems, 'question')} wide>
            {(a) => (
              <Form.Control
                {...a}
                autoFocus
                autoComplete="off"
                maxLength={120}
                placeholder="Does a flush with still water gather less salt?"
                value={texts.question}
                onChange={(e) => set({ question: e.target.value })}
              />
            )}
          </LabelledField>
          <LabelledField label="What is changed" error={at('change')}>
            {(a) => (
              <Form.Select
                {...a}
                value={texts.kind}
                onChange={(e) => set({ kind: e.target.value as TrialTexts['kind'] })}
              >
                {CHANGES.map(([kind, words]) => (
                  <option key={kind} value={kind}>
                    {words}
                  </option>
                ))}
              </Form.Select>
            )}
          </LabelledField>
          <ChangeField texts={texts} set={set} view={view} at={at} />
          <LabelledField label="What is looked at" error={undefined} hint={TRIAL_MEASURE[texts.measure].of}>
            {(a) => (
              <Form.Select
                {...a}
                value={texts.measure}
                onChange={(e) => {
                  const measure = e.target.value as TrialMeasure;
                  set({ measure, matters: TRIAL_MEASURE[measure].usual });
                }}
              >
                {TRIAL_MEASURES.map((measure) => (
                  <option key={measure} value={measure}>
                    {TRIAL_MEASURE[measure].name}
                  </option>
                ))}
              </Form.Select>
            )}
          </LabelledField>
          <LabelledField
            label={`Least difference that would matter${TRIAL_MEASURE[texts.measure].unit && `, ${TRIAL_MEASURE[texts.measure].unit}`}`}
            error={problemAt(problems, 'matters')}
          >
            {(a) => (
              <Form.Control
                {...a}
                inputMode="decimal"
                autoComplete="off"
                value={texts.matters}
                onChange={(e) => set({ matters: e.target.value })}
              />
            )}
          </LabelledField>
          <LabelledField label="Weeks" error={problemAt(problems, 'weeks')}>
            {(a) => (
              <Form.Control
                {...a}
                inputMode="numeric"
                autoComplete="off"
                value={texts.weeks}
                onChange={(e) => set({ weeks: e.target.value })}
              />
            )}
          </LabelledField>
          <LabelledField
            label="What must stay equal"
            error={problemAt(problems, 'alike')}
            hint="For whoever waters: same mix, same days. Parted by commas."
          >
            {(a) => (
              <Form.Control
                {...a}
                autoComplete="off"
                value={texts.alike}
                onChange={(e) => set({ alike: e.target.value })}
              />
            )}
          </LabelledField>
          <PotChoice view={view} chosen={texts.potIds} choose={(potIds) => set({ potIds })} error={at('potIds')} />
          {otherProblems(problems, FIELDS) && (
            <p className="field-error wide mb-0" role="alert">
              {otherProblems(problems, FIELDS)}
            </p>
          )}
          <div className="wide">
            <Button type="submit" disabled={busy || (told?.problems.length ?? 0) > 0}>
              Begin it today
            </Button>{' '}
            <span className="small">Which pot of a pair gets it is drawn by lot as it begins.</span>
          </div>
        </form>
        <PlanCard texts={texts} plan={told} error={plan.error} />
      </div>
    </div>
  );
}

/** From Drift, a regimen or Pots one comes with something chosen already. */
function fromAddress(params: URLSearchParams): TrialTexts {
  const potIds = params.get('pots')?.split(',').filter(Boolean) ?? [];
  const treatment = params.get('treatment') as TreatmentKind | null;
  const regimenId = params.get('regimen');
  if (treatment && TREATMENTS.includes(treatment))
    return { ...EMPTY_TRIAL, potIds, kind: 'treatment', treatment, measure: 'ph', matters: TRIAL_MEASURE.ph.usual };
  if (regimenId) return { ...EMPTY_TRIAL, potIds, kind: 'regimen', regimenId };
  return { ...EMPTY_TRIAL, potIds };
}
