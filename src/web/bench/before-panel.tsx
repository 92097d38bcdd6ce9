import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import Button from 'react-bootstrap/Button';
import type { BeforeStart, StartBatch } from '../../contract/bench.ts';
import type { PlanAct } from '../../contract/shell.ts';
import { Icon } from '../drawing/icon.tsx';
import { useActs } from '../shell/acts.tsx';
import { newId, request as ask } from '../shell/api.ts';

const SETTLED_MS = 350;

/** Asked again when the form has stood still a moment. */
export function useBefore(request: StartBatch): BeforeStart | undefined {
  const wanted = JSON.stringify(request);
  const [asked, setAsked] = useState(wanted);
  useEffect(() => {
    const timer = setTimeout(() => setAsked(wanted), SETTLED_MS);
    return () => clearTimeout(timer);
  }, [wanted]);
  const complete =
    request.volumeL > 0 &&
    request.name !== '' &&
    request.parts.every((p) => p.bottleId !== '' && Object.values(p.aim).every((v) => v === v));
  const before = useQuery({
    queryKey: ['before', asked],
    queryFn: () => ask<BeforeStart>('POST', '/api/bench/before', JSON.parse(asked)),
    enabled: complete,
    placeholderData: keepPreviousData,
    retry: false,
    staleTime: 30_000,
  });
  return before.data;
}

const ICONS = { stop: 'exclamationTriangle', mind: 'infoCircle', fine: 'check2' } as const;

/** A day's clock for the tap water. */
function StandOpen({ waterId }: { waterId: string }) {
  const { put } = useActs();
  const start = () => {
    const id = newId();
    const words = 'Tap water standing open for its chlorine';
    const body: PlanAct = {
      kind: 'startClock',
      clockId: newId(),
      subjectKind: 'water',
      subjectId: waterId,
      words,
      minutes: 24 * 60,
      origin: 'bench',
    };
    return put({ id, url: `/api/shell/plans/acts/${id}`, body, words }, { toast: `Clock started: ${words}` });
  };
  return (
    <>
      {' '}
      <Button variant="link" size="sm" className="p-0" onClick={() => void start()}>
        Start its clock
      </Button>
    </>
  );
}

/** Before you start: is there enough of everything, is the pen in order, does it suit the pots; and what will be done in which order. */
export function BeforePanel({
  before,
  waterId,
  pens,
}: {
  before: BeforeStart | undefined;
  waterId: string;
  /** Whether anything is read. */
  pens: boolean;
}) {
  if (!before) return null;
  return (
    <aside className="sheet before" aria-label="Before you start">
      <h2>Before you start</h2>
      {before.notices.length === 0 && (
        <p className="small">
          <Icon name="check2" /> Enough water, product and room{pens && '; the pens are in order'}.
        </p>
      )}
      <ul className="notices">
        {before.notices.map((n) => (
          <li key={n.words} className={n.level}>
            <Icon name={ICONS[n.level]} />
            <span className="visually-hidden">
              {n.level === 'stop' ? 'Cannot start: ' : n.level === 'mind' ? 'Mind: ' : ''}
            </span>
            <span>
              {n.words}
              {n.about === 'water' && n.words.startsWith('It is chlorinated') && <StandOpen waterId={waterId} />}
            </span>
          </li>
        ))}
      </ul>
      {before.steps.length > 0 && (
        <>
          <h3>In this order</h3>
          <ol className="before-steps">
            {before.steps.map((s) => (
              <li key={s.words}>
                {s.words}
                {s.why && <span className="small"> · {s.why}</span>}
              </li>
            ))}
          </ol>
        </>
      )}
      {before.trust && <p className="small">By recipe: {before.trust.why}.</p>}
    </aside>
  );
}
