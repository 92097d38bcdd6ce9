import type { Course } from './pot-path.ts';

/** A reservoir is as good as dry at this share of its fill (common practice: refill before the wick lets go). */
export const DRY_SHARE = 0.15;
/** Salts are worth a word when the reservoir reads so many times what it should. House rule. */
export const SALT_TIMES = 1.6;

/** What a pot is watched for, and the first day after its filling on which it comes; undefined: not within the course. */
export type Milestones = { readonly dry?: number; readonly salty?: number; readonly phOut?: number };

/**
 * The days a course is watched for: level at 15 %, strength past its limit, pH out of the window. Counted from the filling.
 */
export function milestones(
  course: Pick<Course, 'freeMl' | 'ecUsCm' | 'ph'>,
  of: {
    readonly reservoirMl: number;
    readonly aimEcUsCm: number;
    readonly window: { readonly low: number; readonly high: number };
  },
): Milestones {
  const first = (test: (day: number) => boolean) => {
    for (let day = 0; day < course.ph.length; day++) if (test(day)) return day;
    return undefined;
  };
  const dry = first((d) => course.freeMl[d]! <= DRY_SHARE * of.reservoirMl);
  const salty = first((d) => course.ecUsCm[d]! > SALT_TIMES * of.aimEcUsCm);
  const phOut = first((d) => course.ph[d]! > of.window.high || (d > 0 && course.ph[d]! < of.window.low));
  return {
    ...(dry === undefined ? {} : { dry }),
    ...(salty === undefined ? {} : { salty }),
    ...(phOut === undefined ? {} : { phOut }),
  };
}
