import { standingOf } from './batch-belief.ts';
import { sessionStrength, type BenchSession, type BenchSetup } from './bench-session.ts';
import { expectReading, type Expectation } from './portion-coach.ts';

const POINTS = 24;
/** A hand's error of a dose drawn with care, 1 SD. */
const HAND_SD = 0.05;

/**
 * What the pen will read over the doses of the part whose turn it is: from what is in of it now to a little past its hard limit or the dose
 * advised. Empty before the water is read, between a portion and its reading, and when every part is in.
 * @param advisedMl of what is in its dropper; 0 where nothing is advised
 * @returns points of mL in all, with the reading's central 90 % range, µS/cm
 */
export function coneOf(
  setup: BenchSetup,
  session: BenchSession,
  advisedMl: number,
): ({ readonly totalMl: number } & Expectation)[] {
  const { batch, at } = session;
  const part = setup.parts[at];
  if (!batch || !part || session.awaitingReading) return [];
  const strength = sessionStrength(session, at)?.ecPerMlL ?? 0;
  if (!(strength > 0)) return [];
  const toHard =
    part.aim.by === 'pen'
      ? Math.max(0, ((part.aim.aim.hardEcUsCm - standingOf(batch, at).netEcUsCm) * session.volumeL) / strength)
      : 0;
  const furthest = Math.max(toHard * 1.1, advisedMl * 1.3);
  if (!(furthest > 0)) return [];
  const inIt = session.parts[at]?.totalMl ?? 0;
  return Array.from({ length: POINTS + 1 }, (_, i) => {
    const doseMl = (furthest * i) / POINTS;
    return { totalMl: inIt + doseMl, ...expectReading(batch, doseMl, HAND_SD, setup.pen, at) };
  });
}
