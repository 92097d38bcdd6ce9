/** What stands in a reservoir on a day; what nobody can know is left out. µS/cm, mL. */
export type StandingNow = { readonly ecUsCm?: number; readonly ph?: number; readonly leftMl?: number };

/** What happened to a reservoir between two fillings: water poured on, or what stood in it was read. `on`: the day. */
export type SinceFilled =
  | { readonly kind: 'toppedUp'; readonly on: string; readonly ml: number }
  | { readonly kind: 'read'; readonly on: string; readonly found: StandingNow };

/**
 * What should stand in a reservoir today: its own course since it was filled; what was poured on since counts in as if it were poured today, and where
 * it was read it goes on from what was found: strength and water in proportion to the course from that day to this, pH by as much. Where there is no
 * course, what was found stands.
 * @param courseOn the pot's course on a day
 * @param since in the order it happened
 * @param waterEcUsCm of what was poured on
 */
export function standingNow(
  courseOn: (day: string) => StandingNow,
  today: string,
  since: readonly SinceFilled[],
  waterEcUsCm: number,
): StandingNow {
  const course = courseOn(today);
  return since.reduce<StandingNow>(
    (now, event) =>
      event.kind === 'toppedUp'
        ? toppedUp(now, event.ml, waterEcUsCm)
        : asFound(now, course, courseOn(event.on), event.found),
    course,
  );
}

function toppedUp(now: StandingNow, ml: number, waterEcUsCm: number): StandingNow {
  if (now.leftMl === undefined) return now;
  const leftMl = now.leftMl + ml;
  return {
    ...now,
    leftMl,
    ...(now.ecUsCm === undefined || leftMl === 0
      ? {}
      : { ecUsCm: (now.ecUsCm * now.leftMl + waterEcUsCm * ml) / leftMl }),
  };
}

function asFound(
  now: StandingNow,
  course: StandingNow,
  then: StandingNow,
  { ecUsCm, ph, leftMl }: StandingNow,
): StandingNow {
  const goOn = (found: number, from: number | undefined, to: number | undefined) =>
    from && to !== undefined ? (found * to) / from : found;
  return {
    ...now,
    ...(ecUsCm === undefined ? {} : { ecUsCm: goOn(ecUsCm, then.ecUsCm, course.ecUsCm) }),
    ...(ph === undefined ? {} : { ph: ph + (course.ph ?? 0) - (then.ph ?? 0) }),
    ...(leftMl === undefined ? {} : { leftMl: goOn(leftMl, then.leftMl, course.leftMl) }),
  };
}
