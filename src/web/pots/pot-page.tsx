import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { useNavigate, useParams } from 'react-router';
import type { PotView } from '../../contract/pots.ts';
import { CorrectDialog, NoteForm } from '../book/index.ts';
import { PotSection } from '../drawing/index.ts';
import { get } from '../shell/api.ts';
import { dayMonthYear } from '../shell/format.ts';
import { Failed, Loading } from '../shell/states.tsx';
import { PlanForm } from '../shell/plan-list.tsx';
import { MoveDialog, RegimenDialog, RetireDialog } from './chosen-bar.tsx';
import { PotLog } from './pot-log.tsx';
import { PotForm } from './pot-form.tsx';
import { potsQuery } from './pots-page.tsx';
import { AdviceCards, usePotAdvice } from './advice-cards.tsx';
import { GrowthCard } from './growth/growth-card.tsx';
import { GivenCard } from './given-card.tsx';
import { LooksGrid } from './looks-grid.tsx';
import { NextFlush } from './next-flush.tsx';
import { PotPhotos } from './pot-photos.tsx';
import { RegimenHistory } from './regimen-history.tsx';
import { useAhead } from './use-ahead.ts';
import { Facts, Neighbours, PotTitle } from './pot-facts.tsx';
import { PotActs, type PotDialog } from './pot-acts.tsx';
import { Visits } from './visits.tsx';

/** A pot's page: how it stands, what was poured and what came out, and its log. */
export function PotPage() {
  const { potId = '' } = useParams();
  const pot = useQuery({ queryKey: ['pot', potId], queryFn: () => get<PotView>(`/api/pots/${potId}`) });
  if (pot.isPending) return <Loading what="the pot" />;
  if (!pot.data) return <Failed error={pot.error} retry={() => void pot.refetch()} />;
  return <PotSheet view={pot.data} />;
}

function PotSheet({ view }: { view: PotView }) {
  const { pot, values } = view;
  const navigate = useNavigate();
  const [dialog, setDialog] = useState<PotDialog>();
  const [correcting, setCorrecting] = useState<string>();
  const { drift, ahead } = useAhead(view);
  const { advice, settled } = usePotAdvice(pot.id);
  const pots = useQuery({ ...potsQuery, enabled: dialog !== undefined });
  const { before, after } = view.neighbours;
  useHotkeys('left', () => before && void navigate(`/pots/${before.id}`), { preventDefault: true });
  useHotkeys('right', () => after && void navigate(`/pots/${after.id}`), { preventDefault: true });
  useHotkeys('e', () => setDialog('change'), { preventDefault: true });
  useHotkeys('w', () => setDialog('write'), { preventDefault: true });
  useHotkeys('m', () => setDialog('move'), { preventDefault: true, enabled: !pot.retiredOn });
  const placed = { ...pot, placeId: values.placeId, place: pot.place, order: 0, today: view.today };
  const close = () => setDialog(undefined);
  return (
    <div className="page pot-page">
      <header className="pot-head">
        <PotSection drawing={pot.drawing} seed={pot.code} size={76} name={`${pot.code} ${pot.name}`} />
        <div className="flex-fill min-0">
          <div className="pot-title">
            <PotTitle view={view} />
            <PotActs view={view} dialog={dialog} setDialog={setDialog} />
            <Neighbours {...view.neighbours} />
          </div>
          {pot.retiredOn && (
            <p className="chip late mt-2 mb-0 wrap">
              Retired {dayMonthYear(pot.retiredOn)}: {pot.became}
            </p>
          )}
          {values.note && <p className="small mt-1 mb-0">{values.note}</p>}
          {dialog === 'plan' && (
            <div className="sheet p-2 mt-2">
              <PlanForm today={view.today} pot={pot} onDone={close} />
            </div>
          )}
          <Facts view={view} />
        </div>
      </header>
      <section className="cols">
        <div className="pot-main">
          <Visits view={view} ahead={ahead} />
          {advice && <GivenCard advice={advice} today={view.today} />}
          <GrowthCard view={view} />
          <RegimenHistory view={view} />
          <PotPhotos view={view} />
        </div>
        <div className="pot-side">
          <AdviceCards potId={pot.id} advice={advice} />
          <LooksGrid view={view} />
          {/* Below the advice, and not before it, so that nothing moves away under a finger. */}
          {drift && settled && !pot.retiredOn && <NextFlush drift={drift} today={view.today} />}
          <PotLog view={view} putRight={setCorrecting} />
        </div>
      </section>
      {dialog === 'write' && <NoteForm today={view.today} pots={[pot.id]} onClose={close} />}
      {correcting && <CorrectDialog eventId={correcting} onClose={() => setCorrecting(undefined)} />}
      {pots.data && (
        <>
          {dialog === 'change' && <PotForm view={pots.data} existing={{ id: pot.id, values }} onClose={close} />}
          {dialog === 'move' && <MoveDialog chosen={[placed]} view={pots.data} onClose={close} />}
          {dialog === 'regimen' && <RegimenDialog chosen={[placed]} view={pots.data} onClose={close} />}
          {dialog === 'retire' && <RetireDialog chosen={[placed]} onClose={close} />}
        </>
      )}
    </div>
  );
}
