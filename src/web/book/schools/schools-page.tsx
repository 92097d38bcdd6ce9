import { keepPreviousData, useQuery } from '@tanstack/react-query';
import Form from 'react-bootstrap/Form';
import { Link, useSearchParams } from 'react-router';
import type { RegimenCompared, RegimensCompared } from '../../../contract/regimens-compared.ts';
import { FEWEST_TRIAL_POTS } from '../../../contract/trials.ts';
import { get } from '../../shell/api.ts';
import { dayMonth } from '../../shell/format.ts';
import { Empty, Failed, Loading } from '../../shell/states.tsx';
import { BookTabs } from '../book-tabs.tsx';
import { addressOf } from '../log/use-log.ts';
import { RegimenTable } from './regimen-table.tsx';
import { leftOut, unlikeWords } from './schools-words.ts';

const WEEKS = [8, 12, 26, 52] as const;
const USUAL_WEEKS = 12;

/** The collection's pots by the regimen they follow, set against pots of the same plant and place. */
export function SchoolsPage() {
  const [params, setParams] = useSearchParams();
  const set = (some: Record<string, string>) =>
    setParams({ ...Object.fromEntries(params), ...some }, { replace: true });
  const asked = { weeks: params.get('weeks') ?? USUAL_WEEKS, against: params.get('against') ?? undefined };
  const compared = useQuery({
    queryKey: ['book', 'schools', asked],
    queryFn: () => get<RegimensCompared>(addressOf('/api/book/schools', asked)),
    placeholderData: keepPreviousData,
  });
  if (compared.isPending) return <Loading what="what your regimens come to" />;
  if (!compared.data) return <Failed error={compared.error} retry={() => void compared.refetch()} />;
  const view = compared.data;
  return (
    <div className="page schools-page">
      <header>
        <div>
          <h1>Book</h1>
          <div className="small">Your regimens side by side, on your own pots</div>
        </div>
        <BookTabs />
      </header>
      {view.against === null ? (
        <Empty
          title={
            view.regimens.every(({ pots }) => pots === 0)
              ? 'No pot follows a regimen yet'
              : 'All your pots follow one regimen'
          }
        >
          <p className="mb-0">
            Where some pots follow another, what became of both stands here side by side. To find out what another would
            do, <Link to="/book/trials/new">try it on half of them</Link>.
          </p>
        </Empty>
      ) : (
        <>
          <section className="sheet schools" aria-label="Regimens side by side">
            <div className="turns-top">
              <h2>Regimens side by side</h2>
              <span className="small">
                Since {dayMonth(view.from)}, each pot since it follows its regimen where it stands. A dot is a pot.
              </span>
              <Form.Select
                size="sm"
                className="weeks"
                aria-label="Over"
                value={view.weeks}
                onChange={(e) => set({ weeks: e.target.value })}
              >
                {[...new Set([...WEEKS, view.weeks])]
                  .sort((a, b) => a - b)
                  .map((n) => (
                    <option key={n} value={n}>
                      the last {n} weeks
                    </option>
                  ))}
              </Form.Select>
              <Form.Select
                size="sm"
                className="which"
                aria-label="Set against"
                value={view.against ?? ''}
                onChange={(e) => set({ against: e.target.value })}
              >
                {view.regimens
                  .filter(({ pots }) => pots > 0)
                  .map(({ id, name }) => (
                    <option key={id} value={id}>
                      against {name}
                    </option>
                  ))}
              </Form.Select>
            </div>
            <RegimenTable view={view} />
            <p className="small mb-0">
              A difference is that between pots of the same plant and place, or of the same place where too few are of
              one plant, with the range it lies in 95 times in 100. Of twenty such ranges one misses by chance. Cost is
              by today’s prices.
            </p>
          </section>
          <MayComeFrom view={view} />
        </>
      )}
    </div>
  );
}

/** Nobody drew these pots by lot: what else they differ in may be what made the difference. */
function MayComeFrom({ view }: { view: RegimensCompared }) {
  const reference = view.regimens.find(({ id }) => id === view.against)!;
  const ownPots = view.measures
    .find(({ key }) => key === 'onTime')
    ?.arms.find(({ regimenId }) => regimenId === reference.id);
  const potIds = (ownPots?.pots ?? []).map(({ id }) => id);
  return (
    <section className="sheet schools-why" aria-label="What a difference may come from">
      <h2>What a difference may come from</h2>
      <p>
        You chose which pot follows which regimen, so what else they differ in is in the figures too. A trial draws by
        lot and is the way to know.
      </p>
      <div className="whys">
        {view.regimens
          .filter(({ id }) => id !== reference.id)
          .map((one) => (
            <Why key={one.id} one={one} reference={reference} potIds={potIds} />
          ))}
      </div>
    </section>
  );
}

function Why({
  one,
  reference,
  potIds,
}: {
  one: RegimenCompared;
  reference: RegimenCompared;
  potIds: readonly string[];
}) {
  const out = leftOut(one);
  return (
    <article>
      <h3>{one.name}</h3>
      <dl>
        <dt>The regimen</dt>
        <dd>{one.differs?.length ? one.differs.join('; ') : `says the same as ${reference.name}`}</dd>
        <dt>The pots</dt>
        <dd>
          {one.unlike.length
            ? one.unlike.map(unlikeWords).join('; ')
            : 'much like the others in place, plant, size and clay'}
        </dd>
        {out.length > 0 && (
          <>
            <dt>Not here</dt>
            <dd>{out.join('; ')}</dd>
          </>
        )}
      </dl>
      {potIds.length >= FEWEST_TRIAL_POTS && (
        <Link
          className="btn btn-outline-secondary btn-sm"
          aria-label={`Try ${one.name} on half of the pots of ${reference.name}`}
          to={`/book/trials/new?regimen=${one.id}&pots=${potIds.join()}`}
        >
          Try it on half of {reference.name}
        </Link>
      )}
    </article>
  );
}
