import { useCallback, useEffect, useRef, useState } from 'react';
import type { DipDisplay, DipSubject } from '../../contract/devices.ts';

export type Dip = { readonly running: boolean; readonly display: DipDisplay | undefined; readonly failed: boolean };

/** Dips a simulated pen: the display runs while it settles; `onSettled` gets the figure (or 'over') once it stands still. */
export function useDip(
  meterId: string | undefined,
  subject: DipSubject,
  subjectId: string,
  onSettled: (shown: number | 'over') => void,
): Dip & { start(): void } {
  const [dip, setDip] = useState<Dip>({ running: false, display: undefined, failed: false });
  const source = useRef<EventSource | undefined>(undefined);
  const settled = useRef(onSettled);
  useEffect(() => {
    settled.current = onSettled;
  });
  const stop = useCallback(() => {
    source.current?.close();
    source.current = undefined;
  }, []);
  useEffect(() => stop, [stop, subject, subjectId, meterId]);

  const start = useCallback(() => {
    if (!meterId) return;
    stop();
    setDip({ running: true, display: undefined, failed: false });
    const events = new EventSource(`/api/devices/${meterId}/dip?subject=${subject}&subjectId=${subjectId}`);
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
  }, [meterId, subject, subjectId, stop]);

  return { ...dip, start };
}
