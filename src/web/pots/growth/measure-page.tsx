import { useQuery } from '@tanstack/react-query';
import { useState, type KeyboardEvent } from 'react';
import Form from 'react-bootstrap/Form';
import { Link, useSearchParams } from 'react-router';
import { GROWTH, GROWTH_KEYS, type GrowthKey } from '../../../contract/growth.ts';
import type { LastMeasured, PotsView } from '../../../contract/pots.ts';
import { get } from '../../shell/api.ts';
import { DateInput } from '../../shell/date-input.tsx';
import { dayMonth } from '../../shell/format.ts';
import { readGrowth } from '../../shell/read-growth.ts';
import { Empty, Failed, Loading } from '../../shell/states.tsx';
import { problemAt, useAct } from '../../shell/use-act.ts';
import { potsQuery } from '../pots-page.tsx';
import { GrowthField } from './measure-form.tsx';

const FIRST: readonly GrowthKey[] = ['leaves', 'leafCm', 'growths', 'flowers'];

/** A day for measuring: every pot of a place in the order it stands, one row each; Enter goes on, and keeps the row at its end. */
export function MeasurePage() {
  const pots = useQuery(potsQuery);
  const last = useQuery({ queryKey: ['pots', 'measured'], queryFn: () => get<LastMeasured>('/api/pots/measured') });
  if (pots.isPending || last.isPending) return <Loading what="your pots" />;
  if (!pots.data || !last.data)
    return <Failed error={pots.error ?? last.error} retry={() => void Promise.all([pots.refetch(), last.refetch()])} />;
  return <Measure view={pots.data} last={last.data} />;
}

function Measure({ view, last }: { view: PotsView; last: LastMeasured }) {
  const [params, setParams] = useSearchParams();
  const [on, setOn] = useState(view.today);
  const placeId = params.get('place') ?? view.places[0]?.id ?? '';
  const place = view.places.find(({ id }) => id === placeId);
  const keys = (params.get('what')?.split(',') ?? FIRST).filter((key): key is GrowthKey => key in GROWTH);
  const set = (key: string, value: string) =>
    setParams(
      (before) => {
        before.set(key, value);
        return before;
      },
      { replace: true },
    );
  const before = new Map(last.pots.map(({ potId, last: figures }) => [potId, figures]));
  return (
    <div className="page measure-page">
      <header>
        <div>
          <h1>Pots</h1>
          <div className="small">
            A day for measuring. <Link to="/pots">Back to the pots</Link>
          </div>
        </div>
      </header>
      <section className="sheet" aria-label="What is measured, where, and on which day">
        <div className="measure-top">
          <Form.Select aria-label="Place" value={placeId} onChange={(e) => set('place', e.target.value)}>
            {view.places.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </Form.Select>
          <DateInput aria-label="Day" value={on} max={view.today} onChange={(e) => setOn(e.target.value)} />
        </div>
        <div className="look" role="group" aria-label="What is measured">
          {GROWTH_KEYS.map((key) => (
            <button
              key={key}
              type="button"
              aria-pressed={keys.includes(key)}
              onClick={() =>
                set('what', GROWTH_KEYS.filter((k) => (k === key ? !keys.includes(k) : keys.includes(k))).join(','))
              }
            >
              {GROWTH[key].label}
            </button>
          ))}
        </div>
        {!place || place.pots.length === 0 || keys.length === 0 ? (
          <Empty title={keys.length === 0 ? 'Choose what to measure' : 'No pots stand here'}>
            <p className="mb-0">
              {keys.length === 0 ? 'One thing at the least, from those above.' : 'Choose another place.'}
            </p>
          </Empty>
        ) : (
          <div className="table-scroll">
            <table className="measure-table">
              <thead>
                <tr>
                  <th scope="col">Pot</th>
                  {keys.map((key) => (
                    <th key={key} scope="col">
                      {GROWTH[key].label}
                      {GROWTH[key].unit && `, ${GROWTH[key].unit}`}
                    </th>
                  ))}
                  <th scope="col">
                    <span className="visually-hidden">Kept</span>
                  </th>
                </tr>
              </thead>
              <tbody>
                {place.pots.map((pot) => (
                  <MeasureRow key={`${pot.id} ${on}`} pot={pot} on={on} keys={keys} last={before.get(pot.id) ?? []} />
                ))}
              </tbody>
            </table>
          </div>
        )}
      </section>
    </div>
  );
}

type RowProps = {
  pot: PotsView['places'][number]['pots'][number];
  on: string;
  keys: readonly GrowthKey[];
  last: LastMeasured['pots'][number]['last'];
};

function MeasureRow({ pot, on, keys, last }: RowProps) {
  const { send, problems, setProblems, busy } = useAct(`/api/pots/${pot.id}/measures`);
  const [typed, setTyped] = useState<Partial<Record<GrowthKey, string>>>({});
  const [kept, setKept] = useState(false);
  const keep = async () => {
    const read = readGrowth(typed);
    if (Object.keys(read.errors).length > 0) return setProblems(read.errors);
    if (!read.any) return;
    if (!(await send({ figures: read.figures, on, from: null }, `${pot.code} measured`))) return;
    setTyped({});
    setKept(true);
  };
  const next = (event: KeyboardEvent<HTMLElement>) => {
    if (event.key !== 'Enter') return;
    event.preventDefault();
    const fields = [...(event.currentTarget.closest('table')?.querySelectorAll<HTMLElement>('input, select') ?? [])];
    const at = fields.indexOf(event.target as HTMLElement);
    const to = fields[at + 1];
    if (!to || to.closest('tr') !== (event.target as HTMLElement).closest('tr')) void keep();
    to?.focus();
  };
  const wrong =
    keys.map((key) => problemAt(problems, key)).find(Boolean) ?? problemAt(problems, 'on') ?? problems['figures'];
  return (
    <tr onKeyDown={next}>
      <th scope="row">
        <Link to={`/pots/${pot.id}`}>{pot.code}</Link> <span className="small">{pot.name || pot.plant}</span>
      </th>
      {keys.map((key) => {
        const before = last.find((figure) => figure.key === key);
        return (
          <td key={key}>
            <GrowthField
              what={key}
              aria-label={`${pot.code}, ${GROWTH[key].label}${GROWTH[key].unit ? `, ${GROWTH[key].unit}` : ''}`}
              aria-invalid={Boolean(problemAt(problems, key))}
              isInvalid={Boolean(problemAt(problems, key))}
              placeholder={before ? `${before.value} on ${dayMonth(before.on)}` : '–'}
              value={typed[key] ?? ''}
              change={(text) => {
                setTyped({ ...typed, [key]: text });
                setKept(false);
              }}
            />
          </td>
        );
      })}
      <td>
        {wrong ? (
          <span className="field-error" role="alert">
            {wrong}
          </span>
        ) : Object.values(typed).some((text) => text.trim() !== '') ? (
          <button
            type="button"
            className="btn btn-sm btn-outline-secondary"
            disabled={busy}
            onClick={() => void keep()}
          >
            Keep
          </button>
        ) : (
          kept && <span className="chip good">kept</span>
        )}
      </td>
    </tr>
  );
}
