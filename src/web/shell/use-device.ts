import { useSyncExternalStore } from 'react';

/** What holds on this device alone: which hand taps, whether a clock may ring and notify, whether the screen stays awake. */
export type DeviceSettings = {
  readonly hand: 'right' | 'left';
  readonly sound: boolean;
  readonly notify: boolean;
  readonly awake: boolean;
};

const KEY = 'frugal-sip-device';
const FIRST: DeviceSettings = { hand: 'right', sound: true, notify: false, awake: true };
const listeners = new Set<() => void>();
let current = read();

function read(): DeviceSettings {
  try {
    return { ...FIRST, ...(JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<DeviceSettings>) };
  } catch {
    return FIRST;
  }
}

export function deviceSettings(): DeviceSettings {
  return current;
}

export function changeDevice(change: Partial<DeviceSettings>): void {
  current = { ...current, ...change };
  try {
    localStorage.setItem(KEY, JSON.stringify(current));
  } catch {
    // Storage full or forbidden: the choice holds until the page is closed.
  }
  for (const listener of listeners) listener();
}

export function useDevice(): DeviceSettings {
  return useSyncExternalStore((listener) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }, deviceSettings);
}
