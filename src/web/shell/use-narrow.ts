import { useSyncExternalStore } from 'react';

const queryOf = (words: string) => (typeof matchMedia === 'function' ? matchMedia(words) : undefined);
const phone = queryOf('(max-width: 760px)');
const bench = queryOf('(min-width: 1180px)');

function useMatches(query: MediaQueryList | undefined): boolean {
  return useSyncExternalStore(
    (listener) => {
      query?.addEventListener('change', listener);
      return () => query?.removeEventListener('change', listener);
    },
    () => query?.matches ?? false,
  );
}

/** True on a phone, where the now card comes first. */
export const useNarrow = (): boolean => useMatches(phone);

/** True where there is room for two columns. */
export const useWide = (): boolean => useMatches(bench);
