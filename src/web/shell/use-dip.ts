import { createContext, use, useCallback, useEffect, useRef, useState } from 'react';
import type { DipDisplay, DipSubject } from '../../contract/devices.ts';

export type Dip = { readonly running: boolean; readonly display: DipDisplay | undefined; readonly failed: boolean };

/** Pens of the practice bucket: what the display settles to, without a server. */
export const LocalPen = createContext<((meterId: string) => number | 'over') | undefined>(undefined);
const LOCAL_SETTLES_MS = 500;

/** Dips a simulated pen: the display runs while it settles; `onSettled` gets the figure (or 'over') once it stands still. */
export function useDip(
  meterId: string | undefined,
  subject: DipSubject,
  subjectId: string,
  onSettled: (shown: number | 'over') => void,
  /** Of a soak test: the minute dipped into. */
  minutes?: number,
): Dip & { start(): void } {
  const [dip, setDip] = useState<Dip>({ running: false, display: undefined, failed: false });
  const source = useRef<EventSource | undefined>(undefined);
  const settled = useRef(onSettled);
  useEffect(() => {
    settled.current = onSettled;
  });
  const local = use(LocalPen);
  const timer = useRef<ReturnType<typeof setTimeout> | undefined>(undefined);
  const stop = useCallback(() => {
    source.current?.close();
    source.current = undefined;
    clearTimeout(timer.current);
  }, []);
  useEffect(() => stop, [stop, subject, subjectId, meterId]);

  const start = useCallback(() => {
    if (!meterId) return;
    stop();
    setDip({ running: true, display: undefined, failed: false });
    if (local) {
      timer.current = setTimeout(() => {
        const shown = local(meterId);
        setDip({ running: false, display: { shown, settled: true }, failed: false });
        settled.current(shown);
      }, LOCAL_SETTLES_MS);
      return;
    }
    const events = new EventSource(
      `/api/devices/${meterId}/dip?subject=${subject}&subjectId=${subjectId}${minutes === undefined ? '' : `&minutes=${minutes}`}`,
    );
    source.current = events;
    events.onmessage = (message) => {
      const display = JSON.parse(String(message.data)) as DipDisplay;
      setDip({ running: !display.settled, display, failed: false });
      if (display.settled) {
        stop();
        settled.current(display.shown);
      }
    };
    events.onerror = () => {
      stop();
      setDip({ running: false, display: undefined, failed: true });
    };
  }, [meterId, subject, subjectId, minutes, stop, local]);

  return { ...dip, start };
}
