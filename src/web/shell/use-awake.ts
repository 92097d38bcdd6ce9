import { useEffect } from 'react';
import type NoSleep from 'nosleep.js';
import { useDevice } from './use-device.ts';

/** Can this browser keep the screen on by itself? Over plain http on the home network most cannot, and need a tap first. */
export const canStayAwake = typeof navigator !== 'undefined' && 'wakeLock' in navigator;

/** Keeps the screen on while the page is looked at, where the device's setting says so: at once, or from the first tap on. */
export function useAwake(): void {
  const { awake } = useDevice();
  useEffect(() => (awake ? (canStayAwake ? holdLock() : fromFirstTap()) : undefined), [awake]);
}

/** @returns lets go */
function holdLock(): () => void {
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
}

/** Browsers let a page do so only while a tap is handled, so that the means must lie ready before it. @returns lets go */
function fromFirstTap(): () => void {
  if (!matchMedia('(pointer: coarse)').matches) return () => undefined;
  let keeper: NoSleep | undefined;
  let over = false;
  const start = () => {
    document.removeEventListener('click', start);
    keeper?.enable().catch(() => undefined);
  };
  void import('nosleep.js').then(({ default: Keeper }) => {
    if (over) return;
    keeper = new Keeper();
    document.addEventListener('click', start);
  });
  return () => {
    over = true;
    document.removeEventListener('click', start);
    if (keeper?.isEnabled) keeper.disable();
  };
}
