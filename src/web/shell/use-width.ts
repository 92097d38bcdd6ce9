import { useCallback, useState } from 'react';

/** How wide an element is, px, as it is resized; `first` until it is known. @returns a ref for it, and its width */
export function useWidth(first: number): [ref: (element: Element | null) => (() => void) | undefined, width: number] {
  const [width, setWidth] = useState(first);
  const ref = useCallback((element: Element | null) => {
    if (!element || typeof ResizeObserver === 'undefined') return undefined;
    const observer = new ResizeObserver(([entry]) => entry && setWidth(Math.round(entry.contentRect.width)));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [ref, width];
}
