import { useCallback, useState } from 'react';

/** State that survives leaving the page and coming back, in this tab, until it is cleared. */
export function useDraft<T extends object>(key: string, initial: T): [T, (change: Partial<T>) => void, () => void] {
  const [value, setValue] = useState<T>(() => {
    const kept = sessionStorage.getItem(key);
    return kept ? { ...initial, ...(JSON.parse(kept) as Partial<T>) } : initial;
  });
  const change = useCallback(
    (part: Partial<T>) =>
      setValue((old) => {
        const next = { ...old, ...part };
        sessionStorage.setItem(key, JSON.stringify(next));
        return next;
      }),
    [key],
  );
  const clear = useCallback(() => {
    sessionStorage.removeItem(key);
    setValue(initial);
    // The initial value is a literal at the call; only the key tells drafts apart.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key]);
  return [value, change, clear];
}
