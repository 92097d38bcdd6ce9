/** Where a pH lies against a window. */
export type PhSide = 'below' | 'inside' | 'above';

/** pH as it is shown and read: to a tenth. */
export const shownPh = (ph: number): number => Number(ph.toFixed(1));

/**
 * Where a pH lies against a window, by what is shown of it: a pH that reads 6.5 is inside 5.5 to 6.5, whatever its hundredths are after a pen's
 * error was taken off.
 */
export function phSide(ph: number, { low, high }: { readonly low: number; readonly high: number }): PhSide {
  const shown = shownPh(ph);
  if (shown < low) return 'below';
  return shown > high ? 'above' : 'inside';
}
