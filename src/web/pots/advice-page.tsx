import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { AdviceRoom } from '../../contract/advice.ts';
import { get } from '../shell/api.ts';
import { Empty, Failed, Loading } from '../shell/states.tsx';
import { AdviceCard } from './advice-cards.tsx';
import { PenCard } from './pen-card.tsx';

/** What one would do next in the whole collection, most pressing first. */
export function AdvicePage() {
  const room = useQuery({ queryKey: ['advice'], queryFn: () => get<AdviceRoom>('/api/advice') });
  if (room.isPending) return <Loading what="what to do next" />;
  if (!room.data) return <Failed error={room.error} retry={() => void room.refetch()} />;
  const { pots, pens } = room.data;
  const n = pots.reduce((sum, p) => sum + p.advices.length, 0);
  return (
    <div className="page advice-page">
      <header>
        <div>
          <h1>What I would do next</h1>
          <div className="small">
            {n === 0
              ? 'No pot asks for anything.'
              : `${n} for ${pots.length} pot${pots.length === 1 ? '' : 's'}, most pressing first; each with what it stands on`}
          </div>
        </div>
        <Link className="btn btn-outline-secondary push" to="/pots/rules">
          The rules
        </Link>
      </header>
      {pens.length > 0 && (
        <section className="advice-grid" aria-label="Pens">
          {pens.map((pen) => (
            <PenCard key={pen.meterId + pen.evidenceKey} pen={pen} />
          ))}
        </section>
      )}
      {pots.length === 0 ? (
        <Empty title="All quiet">
          <p className="mb-0">
            Advice needs a few rounds of readings and looks. What is declined comes back only when something new speaks
            for it.
          </p>
        </Empty>
      ) : (
        <div className="advice-grid">
          {pots.map((pot) => (
            <section key={pot.id} aria-label={`${pot.code} ${pot.name}`}>
              <h2>
                <Link to={`/pots/${pot.id}`}>
                  {pot.code} {pot.name}
                </Link>{' '}
                <span className="small">{pot.place}</span>
              </h2>
              {pot.advices.map((a) => (
                <AdviceCard key={a.rule + a.evidenceKey} potId={pot.id} advice={a} code={pot.code} />
              ))}
            </section>
          ))}
        </div>
      )}
    </div>
  );
}
