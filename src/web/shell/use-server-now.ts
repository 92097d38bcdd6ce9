import { useEffect, useState } from 'react';
import { useShell } from './use-shell.ts';

/** The server's "now" in milliseconds, ticking every second while `ticking`. A phone's own clock may be wrong, and the demo's day is its own. */
export function useServerNow(ticking: boolean): number {
  const shell = useShell();
  const ahead = shell.data ? Date.parse(shell.data.now) - shell.dataUpdatedAt : 0;
  const [own, setOwn] = useState(() => Date.now());
  useEffect(() => {
    if (!ticking) return;
    const timer = setInterval(() => setOwn(Date.now()), 1000);
    return () => clearInterval(timer);
  }, [ticking]);
  return Math.max(own, shell.dataUpdatedAt) + ahead;
}
