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
import { FeedsFields, SoaksFields } from './regimen-parts.tsx';
import { toRegimenTexts, toRegimenValues, type RegimenTexts } from './regimen-texts.ts';
import { PlantFields, WaterFields } from './regimen-lines.tsx';

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
        <Schools schools={schools} chosen={texts.school} begin={begin} />
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
          <WaterFields {...part} />
          <SoaksFields {...part} />
          <PlantFields {...part} />
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

/** The ready-made ways to begin from, and where growers disagree. */
function Schools(props: { schools: SchoolsView; chosen: RegimenTexts['school']; begin(school: SchoolView): void }) {
  const { schools, chosen, begin } = props;
  return (
    <section className="sheet schools" aria-label="Schools">
      <h2>Schools</h2>
      <ul>
        {schools.schools.map((s) => (
          <li key={s.school}>
            <button type="button" aria-pressed={chosen === s.school} onClick={() => begin(s)}>
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
  );
}
