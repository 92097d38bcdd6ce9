import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { RulesView } from '../../contract/advice.ts';
import { get } from '../shell/api.ts';
import { Failed, Loading } from '../shell/states.tsx';

const MATTER_WORDS: Record<RulesView['rules'][number]['matter'], string> = {
  danger: 'Danger',
  water: 'Water',
  salt: 'Salt',
  roots: 'Roots',
  ph: 'pH',
  calcium: 'Calcium',
  magnesium: 'Magnesium',
  feed: 'Feed',
  season: 'Season',
  pest: 'Pests',
  form: 'Form',
};

/** Every rule in plain words, with where it comes from, and the order in which they give way. */
export function RulesPage() {
  const rules = useQuery({
    queryKey: ['rules'],
    queryFn: () => get<RulesView>('/api/advice/rules'),
    staleTime: Infinity,
  });
  if (rules.isPending) return <Loading what="the rules" />;
  if (!rules.data) return <Failed error={rules.error} retry={() => void rules.refetch()} />;
  const { priorities } = rules.data;
  const matters = [...new Set(rules.data.rules.map((r) => r.matter))];
  return (
    <div className="page rules-page">
      <header>
        <div>
          <h1>The rules</h1>
          <div className="small">
            What is seen, what to think, what to do. Often, seen once, never always: they are handed on by growers, and
            where a model computes it is said.
          </div>
        </div>
        <Link className="btn btn-outline-secondary push" to="/pots/advice">
          What they say now
        </Link>
      </header>
      <section className="sheet p-3" aria-label="Which comes first">
        <h2>Which comes first</h2>
        <ol className="mb-0">
          {priorities.map((words) => (
            <li key={words}>{words}</li>
          ))}
        </ol>
      </section>
      <section className="sheet p-3 table-scroll" aria-label="Rules">
        <table className="table table-sm">
          <thead>
            <tr>
              <th>About</th>
              <th>Seen</th>
              <th>Think</th>
              <th>Do</th>
              <th>From</th>
            </tr>
          </thead>
          <tbody>
            {matters.flatMap((matter) =>
              rules.data.rules
                .filter((r) => r.matter === matter)
                .map((r) => (
                  <tr key={r.id}>
                    <th scope="row">{MATTER_WORDS[matter]}</th>
                    <td>
                      {r.seen}
                      {r.danger && <span className="chip late ms-1">one is enough</span>}
                    </td>
                    <td>{r.think}</td>
                    <td>{r.act}</td>
                    <td className="small">{r.source}</td>
                  </tr>
                )),
            )}
          </tbody>
        </table>
      </section>
    </div>
  );
}
