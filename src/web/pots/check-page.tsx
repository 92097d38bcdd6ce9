import { useQuery } from '@tanstack/react-query';
import { Link, useParams, useSearchParams } from 'react-router';
import type { PotView } from '../../contract/pots.ts';
import { GUIDES } from '../../core/judgement/index.ts';
import { get } from '../shell/api.ts';
import { Failed, Loading } from '../shell/states.tsx';
import { GuideCard } from './guide-card.tsx';
import { UnsteadyCheck } from './unsteady-check.tsx';

const UNSTEADY = { id: 'unsteady', title: 'Why does it swing?' } as const;
const CHECKS = [UNSTEADY, ...GUIDES.map(({ id, title }) => ({ id, title }))];

/** A pot gone through step by step: why it reads up and down, or which of two things that look alike it is. */
export function CheckPage() {
  const { potId = '' } = useParams();
  const [params, setParams] = useSearchParams();
  const pot = useQuery({ queryKey: ['pots', potId], queryFn: () => get<PotView>(`/api/pots/${potId}`) });
  if (pot.isPending) return <Loading what="this pot" />;
  if (!pot.data) return <Failed error={pot.error} retry={() => void pot.refetch()} />;
  const { code, name } = pot.data.pot;
  const what = params.get('what') ?? UNSTEADY.id;
  const guide = GUIDES.find((g) => g.id === what);
  return (
    <div className="page check-page">
      <header>
        <div>
          <h1>{guide?.title ?? UNSTEADY.title}</h1>
          <div className="small">
            {code} {name}
          </div>
        </div>
        <div className="stepper push" role="group" aria-label="Which check">
          {CHECKS.map(({ id, title }) => (
            <button
              key={id}
              type="button"
              className={what === id ? 'on' : ''}
              aria-pressed={what === id}
              onClick={() => setParams({ what: id }, { replace: true })}
            >
              {title}
            </button>
          ))}
        </div>
        <Link className="btn btn-outline-secondary" to={`/pots/${potId}`}>
          Back to {code}
        </Link>
      </header>
      {guide ? (
        <GuideCard key={guide.id} guide={guide} potId={potId} code={code} />
      ) : (
        <UnsteadyCheck potId={potId} code={code} />
      )}
    </div>
  );
}
