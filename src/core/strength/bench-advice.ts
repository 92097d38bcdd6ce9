import type { Aim } from './aim.ts';
import { standingOf } from './batch-belief.ts';
import type { BenchPart, BenchSession, BenchSetup } from './bench-session.ts';
import {
  decidePortion,
  expectReading,
  type CoachDecision,
  type CoachSituation,
  type Expectation,
} from './portion-coach.ts';
import { sessionStrength } from './bench-session.ts';
import { roundToTool, type MeasuredDose, type Tool } from './tool.ts';

/** What the bench says next. `part` is the part it is about; a decision of the portion coach, or what comes before and between. */
export type BenchAdvice =
  | { readonly kind: 'readBase' }
  | { readonly kind: 'readAgain'; readonly part: number; readonly expected: Expectation }
  /** Every part is in. */
  | { readonly kind: 'inside' }
  | (Exclude<CoachDecision, { kind: 'inside' }> & { readonly part: number })
  /** All of it at once, measured out: by the litre, or by recipe. */
  | {
      readonly kind: 'measure';
      readonly part: number;
      readonly byRecipe: boolean;
      readonly dose: MeasuredDose;
      readonly expected: Expectation;
    };

/**
 * The next act at the bench for a batch of any number of parts.
 * @param tools of each part @param byRecipe the parts by pen are given whole and unread: this recipe came out right often enough
 */
export function adviseBench(
  setup: BenchSetup,
  session: BenchSession,
  tools: (part: number) => readonly Tool[],
  capacityL: number,
  byRecipe = false,
): BenchAdvice {
  const { batch, lastReadingEcUsCm: last, at } = session;
  if (!batch || last === undefined) return { kind: 'readBase' };
  const lastPart = Math.min(at, Math.max(0, setup.parts.length - 1));
  if (session.awaitingReading)
    return { kind: 'readAgain', part: lastPart, expected: expectReading(batch, 0, 0, setup.pen) };
  const part = setup.parts[at];
  const standing = session.parts[at];
  if (!part || !standing) return { kind: 'inside' };
  if (part.aim.by === 'measure' || (byRecipe && standing.portionsUsed === 0)) {
    const wantedMl = wholeDoseMl(part, session, at);
    const dose = roundToTool(Math.max(wantedMl, 1e-9), tools(at));
    return {
      kind: 'measure',
      part: at,
      byRecipe: part.aim.by === 'pen',
      dose,
      expected: expectReading(batch, dose.doseMl, dose.relativeSd, setup.pen, at),
    };
  }
  const decision = decidePortion(situationOf(setup, session, part.aim.aim, tools(at), capacityL, last));
  // A part inside its band is done, and another one's turn has come.
  return decision.kind === 'inside' ? { kind: 'inside' } : { ...decision, part: at };
}

/** What is still missing of a part given whole, mL of what is in its dropper. */
function wholeDoseMl({ aim, mlPerUnit }: BenchPart, session: BenchSession, index: number): number {
  if (aim.by === 'measure') return aim.unitsPerL * session.volumeL * mlPerUnit - (session.parts[index]?.totalMl ?? 0);
  const strength = sessionStrength(session, index)?.ecPerMlL ?? 0;
  return strength > 0 ? (aim.aim.netEcUsCm * session.volumeL) / strength : 0;
}

function situationOf(
  setup: BenchSetup,
  session: BenchSession,
  aim: Aim,
  tools: readonly Tool[],
  capacityL: number,
  last: number,
): CoachSituation {
  const { batch, at } = session;
  const standing = session.parts[at]!;
  const over = standing.overEcUsCm ?? (session.unread ? standingOf(batch!).readingEcUsCm : last);
  return {
    batch: batch!,
    product: at,
    overEcUsCm: over,
    thinToNetEcUsCm: plannedNet(setup, session, at),
    aim,
    pen: setup.pen,
    tools,
    portionsUsed: standing.portionsUsed,
    lastReadingEcUsCm: session.unread ? over : last,
    capacityL,
  };
}

/** Net that the parts to this one are meant to bring together; a measured part counts as what it brings. */
export function plannedNet(setup: BenchSetup, session: BenchSession, upTo: number): number {
  return setup.parts
    .slice(0, upTo + 1)
    .reduce(
      (sum, { aim }, i) =>
        sum + (aim.by === 'pen' ? aim.aim.netEcUsCm : session.batch ? standingOf(session.batch, i).netEcUsCm : 0),
      0,
    );
}
