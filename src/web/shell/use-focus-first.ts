import { useLayoutEffect, useRef } from 'react';

/**
 * Puts the keys on an element as it comes, unless a form stands open over it: what lies behind one, and comes late, must not take the keys from under a grower's hands.
 * @param id of the element @param wanted at its coming; what becomes of it later changes nothing
 */
export function useFocusFirst(id: string, wanted: boolean): void {
  const first = useRef(wanted);
  useLayoutEffect(() => {
    const element = first.current ? document.getElementById(id) : null;
    const over = [...document.querySelectorAll('[role="dialog"][aria-modal="true"]')].at(-1);
    if (element && (!over || over.contains(element))) element.focus();
  }, [id]);
}
