/** A pot whose brim nobody measured holds no more than so many reservoirs. House rule. */
const BRIM_IN_RESERVOIRS = 4;
/** Jugs and brims are read by eye. */
const GRACE = 1.1;

type Sizes = { readonly brimMl: number | null; readonly reservoirMl: number };

/** The most that goes into a pot with its holes closed, mL. */
export const mostInPotMl = ({ brimMl, reservoirMl }: Sizes): number => brimMl ?? BRIM_IN_RESERVOIRS * reservoirMl;
/** Whether so much goes into a pot, as jugs are read. @param ml mL */
export const fitsInPot = (pot: Sizes, ml: number): boolean => ml <= GRACE * mostInPotMl(pot);
