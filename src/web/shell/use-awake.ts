import { useEffect } from 'react';
import { useDevice } from './use-device.ts';

/** Can this browser keep the screen on for this page? Over plain http on the home network most cannot. */
export const canStayAwake = typeof navigator !== 'undefined' && 'wakeLock' in navigator;

/** Keeps the screen on while the page is looked at, where the browser allows it and the device's setting says so. */
export function useAwake(): void {
  const { awake } = useDevice();
  useEffect(() => {
    if (!awake || !canStayAwake) return;
    let lock: WakeLockSentinel | undefined;
    let over = false;
    const hold = async () => {
      if (document.visibilityState !== 'visible') return;
      try {
        lock = await navigator.wakeLock.request('screen');
        if (over) await lock.release();
      } catch {
        // Refused, as on a low battery: the screen then sleeps as it always does.
      }
    };
    void hold();
    const again = () => void hold();
    document.addEventListener('visibilitychange', again);
    return () => {
      over = true;
      document.removeEventListener('visibilitychange', again);
      void lock?.release();
    };
  }, [awake]);
}
