import { useQuery } from '@tanstack/react-query';
import type { FormEvent } from 'react';
import Button from 'react-bootstrap/Button';
import { Link, useSearchParams } from 'react-router';
import type { ClayRoom } from '../../contract/clay.ts';
import type { PotsView, PotView } from '../../contract/pots.ts';
import { Icon } from '../drawing/icon.tsx';
import { EMPTY_POT, potsQuery } from '../pots/index.ts';
import { get } from '../shell/api.ts';
import { litres, upperFirst } from '../shell/format.ts';
import { Failed, Loading } from '../shell/states.tsx';
import { otherProblems } from '../shell/use-act.ts';
import { clayQuery } from './clay-query.ts';
import { FirstFeed, IntoWhat, Roots, Settle, WhichPlant } from './pot-up-steps.tsx';
import { usePotUp, type PotUpDraft } from './use-pot-up.ts';

/** What is wrong with these is said at their fields. */
const WITH_A_FIELD = [...Object.keys(EMPTY_POT), 'clayId', 'roots', 'bacteria', 'weakDays', 'clayL'];

/** Potting up, or converting from soil: led through step by step, kept as one act. */
export function PotUpPage() {
  const [params] = useSearchParams();
  const potId = params.get('pot');
  const clay = useQuery(clayQuery);
  const pots = useQuery(potsQuery);
  const pot = useQuery({
    queryKey: ['pot', potId],
    queryFn: () => get<PotView>(`/api/pots/${potId}`),
    enabled: potId !== null,
  });
  if (clay.isPending || pots.isPending || (potId !== null && pot.isPending))
    return <Loading what="the potting bench" />;
  if (!clay.data || !pots.data || (potId !== null && !pot.data))
    return (
      <Failed
        error={clay.error ?? pots.error ?? pot.error}
        retry={() => void Promise.all([clay.refetch(), pots.refetch(), pot.refetch()])}
      />
    );
  return <PotUp key={potId ?? 'new'} room={clay.data} pots={pots.data} pot={potId === null ? undefined : pot.data} />;
}

function PotUp(props: { room: ClayRoom; pots: PotsView; pot: PotView | undefined }) {
  const up = usePotUp(props);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    void up.keep(false);
  };
  return (
    <form className="page pot-up" noValidate onSubmit={submit}>
      <header>
        <div>
          <h1>Pot up</h1>
          <div className="small">
            From soil, bark or other clay into leached clay over a reservoir; one act, and it can be taken back whole
          </div>
        </div>
        <Link className="push btn btn-outline-secondary btn-sm" to="/clay">
          Back to the clay
        </Link>
      </header>
      <section className="cols">
        <ol className="guided">
          <WhichPlant up={up} />
          <Roots up={up} />
          <IntoWhat up={up} />
          <Settle up={up} />
          <FirstFeed up={up} />
        </ol>
        <aside className="right">
          <Now up={up} />
          <section className="sheet p-3 small">
            <h2>Afterwards</h2>
            <ul className="mb-0">
              <li>Out of strong sun for two weeks; harden it off by steps.</li>
              <li>A gentle tug that holds says it has rooted: then it may take constant feed.</li>
              <li>Many house plants are toxic to pets and people: keep trimmings out of reach.</li>
            </ul>
          </section>
        </aside>
      </section>
    </form>
  );
}

function Now({ up }: { up: PotUpDraft }) {
  const { batch, texts, title, start, code, problems, busy, keep, clear } = up;
  const clayWords = texts.medium === 'water' ? 'water only' : 'clay that is not kept here';
  const asks = code === 'not-ready';
  const unfit = Object.keys(problems).length > 0 && !asks;
  return (
    <section className="now" aria-label="Now">
      <small>{batch ? `${upperFirst(batch.values.name)}, ${litres(batch.leftL)} left` : clayWords}</small>
      <div className="say">{title || 'A new plant'}</div>
      <small>
        {start === 'weak' ? 'A weak start, then its regimen.' : 'Fed at once.'} Its first feed goes on today’s round;
        the brand-new clay lifts pH, so read it at the first visits.
      </small>
      {asks ? (
        <>
          <div className="caution" role="alert">
            <Icon name="exclamationTriangle" />
            <span>{problems['']}</span>
          </div>
          <div className="d-flex gap-2 flex-wrap">
            <Button variant="outline-light" disabled={busy} onClick={() => void keep(true)}>
              Pot up all the same
            </Button>
            <Button variant="clay" onClick={clear}>
              Choose other clay
            </Button>
          </div>
        </>
      ) : (
        <Button type="submit" variant="clay" size="lg" disabled={busy}>
          It is potted up
        </Button>
      )}
      {unfit && (
        <p className="field-error mb-0" role="alert">
          {otherProblems(problems, WITH_A_FIELD) ??
            'Something in the steps does not fit yet: see the field that is marked.'}
        </p>
      )}
    </section>
  );
}
