import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { PotDrift } from '../../contract/drift.ts';
import type { PotView } from '../../contract/pots.ts';
import { potDriftQuery, useBands } from '../drift/index.ts';
import { useShell } from '../shell/use-shell.ts';
import { aheadOf, type Ahead } from './ahead.ts';
import { AHEAD_DAYS } from './visit-layout.ts';

/** What is to come of a pot, where its filling is known; the chart stands without it meanwhile. */
export function useAhead(view: PotView): { drift: PotDrift | undefined; ahead: Ahead | undefined } {
  const shell = useShell();
  const found = useQuery({ ...potDriftQuery(view.pot.id), enabled: view.pot.retiredOn === null });
  const drift = found.data ?? undefined;
  const now = useBands(
    useMemo(() => drift && [drift.now], [drift]),
    AHEAD_DAYS,
  );
  const next = useBands(
    useMemo(() => drift && [drift.next.model], [drift]),
    AHEAD_DAYS,
  );
  const [standing, coming] = [now, next].map((b) =>
    b.state === 'ready' && drift ? b.bands.get(drift.pot.id) : undefined,
  );
  const ahead = useMemo(() => {
    if (!drift) return undefined;
    return standing && coming
      ? aheadOf(drift, standing, coming, view.today, shell.data?.scale ?? 0.5, AHEAD_DAYS)
      : undefined;
  }, [drift, standing, coming, view.today, shell.data?.scale]);
  return { drift, ahead };
}
