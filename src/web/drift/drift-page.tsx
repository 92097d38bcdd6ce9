import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { DriftRoom, PotDrift } from '../../contract/drift.ts';
import { ELEMENT_WORDS } from '../../core/solution/index.ts';
import type { PourAim } from '../../core/drift/index.ts';
import { Empty, Failed, Loading } from '../shell/states.tsx';
import { AdviceCard } from './advice-card.tsx';
import { driftQuery, potDriftQuery } from './drift-query.ts';
import { PotSwitcher } from './pot-switcher.tsx';
import { PourCard } from './pour-card.tsx';
import { PushesCard } from './pushes-card.tsx';
import { ReachCard } from './reach-card.tsx';
import { SoakCard } from './soak-card.tsx';
import { TreatmentsCard } from './treatments-card.tsx';
import { usePour } from './use-drift-worker.ts';

/** Drift: what the clay does to pH between rounds. */
export function DriftPage() {
  const room = useQuery(driftQuery);
  if (room.isPending) return <Loading what="what the clay does" />;
  if (!room.data) return <Failed error={room.error} retry={() => void room.refetch()} />;
  return <Drift room={room.data} />;
}

/** Who is looked at where nobody was asked for: a pot in a test, or the one that pushes hardest. */
function firstChoice(room: DriftRoom): string | undefined {
  return room.soaking[0]?.potId ?? [...room.pots].sort((a, b) => b.weekUeq.mean - a.weekUeq.mean)[0]?.id;
}

/** A pot nothing can be foretold of, where it is asked for or there is no other. */
function unknownOf(room: DriftRoom, wanted: string | null): DriftRoom['unknown'][number] | undefined {
  return room.unknown.find((p) => p.id === wanted) ?? (room.pots.length === 0 ? room.unknown[0] : undefined);
}

/** Drawn past the round after by so much: a pot nobody fills runs dry, and then there is nothing to draw. */
const PAST = 1.4;

function Drift({ room }: { room: DriftRoom }) {
  const [params] = useSearchParams();
  const wanted = params.get('pot');
  const unknown = unknownOf(room, wanted);
  const chosen = unknown ? undefined : (room.pots.find((p) => p.id === wanted)?.id ?? firstChoice(room));
  const pot = useQuery({ ...potDriftQuery(chosen ?? ''), enabled: chosen !== undefined });
  const [aim, setAim] = useState<PourAim>('steady');
  return (
    <div className="page drift-page">
      <Head room={room} chosen={unknown?.id ?? chosen} />
      {unknown || !chosen ? (
        <NotYet room={room} unknown={unknown} />
      ) : pot.isError ? (
        <Failed error={pot.error} retry={() => void pot.refetch()} />
      ) : pot.data?.pot.id !== chosen ? (
        <Loading what="the pot" />
      ) : (
        <Cards key={chosen} room={room} pot={pot.data} aim={aim} setAim={setAim} />
      )}
    </div>
  );
}

/** What is known of a pot: its soak test, the next pour, what pushes it, and how far its pour reaches. */
function Cards({
  room,
  pot,
  aim,
  setAim,
}: {
  room: DriftRoom;
  pot: PotDrift;
  aim: PourAim;
  setAim(next: PourAim): void;
}) {
  const [asked, setPh] = useState<number>();
  const { next } = pot;
  const question = useMemo(
    () => ({ model: next.model, days: next.everyDays, horizon: Math.ceil(next.everyDays * PAST), ph: asked, aim }),
    [next, asked, aim],
  );
  const answer = usePour(question);
  return (
    <>
      <div className="drift-cols">
        <SoakCard room={room} pot={pot.pot} soaks={pot.soaks} compared={pot.compared} />
        <PourCard
          pot={pot}
          answer={answer}
          aim={aim}
          setAim={(a) => {
            setAim(a);
            setPh(undefined);
          }}
          ph={asked ?? answer?.ph ?? 5.8}
          setPh={setPh}
        />
        <div className="right">
          <AdviceCard pot={pot} answer={answer} aim={aim} now={room.today} />
          <PushesCard room={room} chosen={pot.pot.id} />
        </div>
      </div>
      <div className="drift-foot">
        <ReachCard code={pot.pot.code} path={answer?.path} days={next.everyDays} />
        <div className="d-grid gap-2 align-content-start min-0">
          {pot.lost && <LostCard lost={pot.lost} />}
          <TreatmentsCard treatments={room.treatments} pot={pot.pot} today={room.today} />
        </div>
      </div>
    </>
  );
}

function NotYet({ room, unknown }: { room: DriftRoom; unknown: DriftRoom['unknown'][number] | undefined }) {
  const words = (
    <Empty title={unknown ? `Nothing can be foretold of ${unknown.code} yet` : 'No pot was filled yet'}>
      <p className="mb-0">
        A forecast begins with a mix whose water and products are known: fill {unknown ? 'it' : 'a pot'} on the Round
        from a batch made at the bench, and what comes out at the next visit teaches the rest.
        {unknown && ' What its clay gives off can be tested today.'}
      </p>
    </Empty>
  );
  if (!unknown) return words;
  return (
    <div className="drift-cols not-yet">
      <SoakCard room={room} pot={unknown} soaks={unknown.soaks} compared={unknown.compared} />
      {words}
    </div>
  );
}

function Head({ room, chosen }: { room: DriftRoom; chosen: string | undefined }) {
  return (
    <header>
      <div className="min-0">
        <h1>Drift</h1>
        <div className="small">What the clay does to pH between rounds</div>
      </div>
      <div className="push d-flex gap-2 align-items-center min-0">
        {room.penNote && (
          <Link className="chip soon pen-note" to="/shelf">
            {room.penNote}
          </Link>
        )}
        {room.pots.length + room.unknown.length > 0 && <PotSwitcher room={room} chosen={chosen} />}
      </div>
    </header>
  );
}

/** What may drop out by the next visit: crust, and feed that is lost. */
function LostCard({ lost }: { lost: NonNullable<PotDrift['lost']> }) {
  return (
    <section className="sheet lost" aria-label="Crust and lost feed">
      <b>
        At pH {lost.ph.toFixed(1)} up to {lost.crustMg} mg may drop out as crust
      </b>
      <span className="small">
        {' '}
        and {lost.elements.map((e) => `${e.mg} mg ${ELEMENT_WORDS[e.element]}`).join(', ')} with it, by the next visit:
        pour lower, weaker, or change sooner. At rest; it takes its time.
      </span>
    </section>
  );
}
