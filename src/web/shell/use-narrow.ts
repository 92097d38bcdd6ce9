import { useSyncExternalStore } from 'react';

const query = typeof matchMedia === 'function' ? matchMedia('(max-width: 760px)') : undefined;

/** True on a phone, where the now card comes first. */
export function useNarrow(): boolean {
  return useSyncExternalStore(
    (listener) => {
      query?.addEventListener('change', listener);
      return () => query?.removeEventListener('change', listener);
    },
    () => query?.matches ?? false,
  );
}
