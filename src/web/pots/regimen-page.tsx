import { useQuery } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import type { PotsView } from '../../contract/pots.ts';
import type { RegimenValues, SchoolsView, SchoolView } from '../../contract/regimens.ts';
import { get, newId } from '../shell/api.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { Failed, Loading } from '../shell/states.tsx';
import { otherProblems, problemAt, useAct } from '../shell/use-act.ts';
import { potsQuery } from './pots-page.tsx';
import { FeedsFields, Figure, SoaksFields } from './regimen-parts.tsx';
import { toRegimenTexts, toRegimenValues, type RegimenTexts } from './regimen-texts.ts';

export const schoolsQuery = {
  queryKey: ['schools'],
  queryFn: () => get<SchoolsView>('/api/pots/schools'),
  staleTime: Infinity,
};

/** A regimen composed of its parts: begun from a school, or changed. */
export function RegimenPage() {
  const { regimenId } = useParams();
  const [params] = useSearchParams();
  const pots = useQuery(potsQuery);
  const schools = useQuery(schoolsQuery);
  if (pots.isPending || schools.isPending) return <Loading what="the schools" />;
  if (!pots.data || !schools.data)
    return <Failed error={pots.error ?? schools.error} retry={() => (void pots.refetch(), void schools.refetch())} />;
  const existing = pots.data.regimens.find((r) => r.id === regimenId);
  if (regimenId && !existing)
    return <Failed error={new Error('That regimen is not in use any more.')} retry={() => void pots.refetch()} />;
  const school = schools.data.schools.find((s) => s.school === params.get('school')) ?? schools.data.schools[0]!;
  return (
    <RegimenEditor
      key={existing?.id ?? 'new'}
      existing={existing}
      schools={schools.data}
      first={existing?.values ?? ownName(school)}
    />
  );
}

const ownName = (school: SchoolView): RegimenValues => ({ ...school.values, name: '' });

function RegimenEditor({
  existing,
  schools,
  first,
}: {
  existing: PotsView['regimens'][number] | undefined;
  schools: SchoolsView;
  first: RegimenValues;
}) {
  const [id] = useState(() => existing?.id ?? newId());
  const [texts, setTexts] = useState<RegimenTexts>(() => toRegimenTexts(first));
  const { send, problems, busy } = useAct('/api/pots/acts');
  const navigate = useNavigate();
  const change = (part: Partial<RegimenTexts>) => setTexts((old) => ({ ...old, ...part }));
  const begin = (school: SchoolView) => setTexts((old) => ({ ...toRegimenTexts(school.values), name: old.name }));
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (
      await send(
        { kind: 'putRegimen', regimenId: id, values: toRegimenValues(texts) },
        `${existing ? 'Changed' : 'Added'} the regimen ${texts.name}`,
      )
    )
      await navigate('/pots/places');
  };
  const part = { texts, change, problems };
  const check = (name: 'wash' | 'morning' | 'dryBeforeSoak' | 'byHeight' | 'soaksOnlyInGrowth', label: string) => (
    <Form.Check
      id={name}
      type="checkbox"
      label={label}
      checked={texts[name]}
      onChange={(e) => change({ [name]: e.target.checked })}
    />
  );
  return (
    <div className="page regimen-page">
      <header>
        <div>
          <h1>{existing ? existing.values.name : 'A new regimen'}</h1>
          <div className="small">
            {existing && existing.pots > 0
              ? `${existing.pots} pot${existing.pots === 1 ? ' follows' : 's follow'} it: a change holds for them from today, and what was done before is judged by what held then.`
              : 'Begin from a school and change what you do otherwise.'}
          </div>
        </div>
        <Link className="btn btn-outline-secondary push" to="/pots/places">
          Back
        </Link>
      </header>
      <div className="regimen-cols">
        <section className="sheet schools" aria-label="Schools">
          <h2>Schools</h2>
          <ul>
            {schools.schools.map((s) => (
              <li key={s.school}>
                <button type="button" aria-pressed={texts.school === s.school} onClick={() => begin(s)}>
                  <b>{s.title}</b> <span className={`tag ${s.source === 'ours' ? 'ours' : ''}`}>{s.source}</span>
                  <span className="small">{s.words}</span>
                </button>
              </li>
            ))}
          </ul>
          <h2>Where growers disagree</h2>
          <dl className="disagree">
            {schools.disagreements.map((d) => (
              <div key={d.about}>
                <dt>{d.about}</dt>
                <dd>{d.one}</dd>
                <dd>{d.other}</dd>
                <dd className="ours">
                  <b>Ours:</b> {d.ours}
                </dd>
              </div>
            ))}
          </dl>
        </section>
        <Form className="sheet regimen-form" noValidate onSubmit={(e) => void submit(e)}>
          <LabelledField label="Name" error={problemAt(problems, 'values.name')}>
            {(a) => (
              <Form.Control
                {...a}
                autoComplete="off"
                placeholder="Dilute 90, magnesium monthly"
                value={texts.name}
                onChange={(e) => change({ name: e.target.value })}
              />
            )}
          </LabelledField>
          <FeedsFields {...part} />
          <fieldset>
            <legend>Water</legend>
            <div className="regimen-row">
              <LabelledField label="Flush" error={undefined}>
                {(a) => (
                  <Form.Select
                    {...a}
                    value={texts.flushAt}
                    onChange={(e) => change({ flushAt: e.target.value as RegimenTexts['flushAt'] })}
                  >
                    <option value="watering">at every watering</option>
                    <option value="change">at the first of the rota only</option>
                    <option value="never">never</option>
                  </Form.Select>
                )}
              </LabelledField>
              <Figure
                label="times the reservoir"
                value={texts.flushTimes}
                at="flushTimes"
                problems={problems}
                set={(flushTimes) => change({ flushTimes })}
              />
              <LabelledField label="with" error={undefined}>
                {(a) => (
                  <Form.Select
                    {...a}
                    value={texts.flushWith}
                    onChange={(e) => change({ flushWith: e.target.value as RegimenTexts['flushWith'] })}
                  >
                    <option value="plentiful">what is plentiful, still to finish</option>
                    <option value="still">still water only</option>
                  </Form.Select>
                )}
              </LabelledField>
              <LabelledField label="Fill with" error={undefined}>
                {(a) => (
                  <Form.Select
                    {...a}
                    value={texts.fillWith ?? ''}
                    onChange={(e) => change({ fillWith: (e.target.value || null) as RegimenTexts['fillWith'] })}
                  >
                    <option value="">as at the bench</option>
                    <option value="still">still water</option>
                    <option value="tap">tap</option>
                  </Form.Select>
                )}
              </LabelledField>
              <Figure
                label="Days at the latest"
                value={texts.latestDays}
                at="latestDays"
                problems={problems}
                hint="empty: none set"
                set={(latestDays) => change({ latestDays })}
              />
            </div>
            <div className="d-flex flex-wrap gap-3">
              {check('wash', 'Wash the reservoir at the change')}
              {check('morning', 'Mornings only')}
            </div>
          </fieldset>
          <SoaksFields {...part} />
          <fieldset>
            <legend>By the plant</legend>
            <div className="regimen-row">
              <Figure
                label="At rest, % of the strength"
                value={texts.restShare}
                at="restShare"
                problems={problems}
                set={(restShare) => change({ restShare })}
              />
              <Figure
                label="Rooting, %"
                value={texts.rootingShare}
                at="rootingShare"
                problems={problems}
                set={(rootingShare) => change({ rootingShare })}
              />
              <Figure
                label="Marked tender, %"
                value={texts.tenderShare}
                at="tenderShare"
                problems={problems}
                set={(tenderShare) => change({ tenderShare })}
              />
              <LabelledField label="In spike and bloom" error={undefined}>
                {(a) => (
                  <Form.Select
                    {...a}
                    value={texts.inBud}
                    onChange={(e) => change({ inBud: e.target.value as RegimenTexts['inBud'] })}
                  >
                    <option value="same">the feed as it is</option>
                    <option value="calmag">calcium–magnesium alone</option>
                  </Form.Select>
                )}
              </LabelledField>
            </div>
            <div className="d-flex flex-wrap gap-3">
              {check('soaksOnlyInGrowth', 'No soaks at rest or while rooting')}
              {check('dryBeforeSoak', 'Let it run dry before a soak')}
              {check('byHeight', 'Strength by height (vegetables and herbs only)')}
            </div>
          </fieldset>
          {Object.keys(problems).length > 0 && (
            <p className="field-error mb-0" role="alert">
              {otherProblems(problems, []) ?? ''}
            </p>
          )}
          <div className="d-flex gap-2">
            <Button type="submit" size="lg" disabled={busy}>
              {existing ? 'Keep the change' : 'Add the regimen'}
            </Button>
          </div>
        </Form>
      </div>
    </div>
  );
}
