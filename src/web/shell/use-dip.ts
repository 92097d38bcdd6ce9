import { createContext, use, useCallback, useEffect, useRef, useState } from 'react';
import type { DipDisplay, DipSubject } from '../../contract/devices.ts';

export type Dip = {
  readonly running: boolean;
  readonly display: DipDisplay | undefined;
  readonly failed: boolean;
  /** How the pen comes by its figure; where it is left out, it is simulated. */
  readonly how?: string;
};

/** Pens of the practice bucket: what the display settles to, without a server. */
export const LocalPen = createContext<((meterId: string) => number | 'over') | undefined>(undefined);
const LOCAL_SETTLES_MS = 500;

/** A pen that can be read from here: a simulated one, or a real one that sends what it shows. */
export type DipMeter = { readonly id: string; readonly simulated: boolean; readonly sends?: boolean | undefined };
export const canDip = (meter: DipMeter | null | undefined): boolean => Boolean(meter?.simulated || meter?.sends);
const SENDS = 'sends by itself';

/**
 * Dips a simulated pen, whose display runs while it settles, or waits for a real one to send; `onSettled` gets the figure (or 'over') once it stands still.
 */
export function useDip(
  meter: DipMeter | null | undefined,
  subject: DipSubject,
  subjectId: string,
  onSettled: (shown: number | 'over') => void,
  /** Of a soak test: the minute dipped into. */
  minutes?: number,
): Dip & { start(): void } {
  const meterId = canDip(meter) ? meter!.id : undefined;
  const sends = meter?.sends === true && !meter.simulated;
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
      sends
        ? `/api/instruments/${meterId}/next`
        : `/api/devices/${meterId}/dip?subject=${subject}&subjectId=${subjectId}${minutes === undefined ? '' : `&minutes=${minutes}`}`,
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
  }, [meterId, sends, subject, subjectId, minutes, stop, local]);

  return { ...dip, ...(sends ? { how: SENDS } : {}), start };
}
