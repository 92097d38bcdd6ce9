import type { BenchAdvice } from './bench-advice.ts';
import type { BenchSession, BenchSetup } from './bench-session.ts';
import { dosingOf } from './dosing.ts';
import type { Tool } from './tool.ts';

type Range = { readonly ppm: number; readonly lowPpm: number; readonly highPpm: number };

/** What the coach says in the pen's own figures: ppm, litres, and doses as the tool measures them. */
export type ShownAdvice =
  | { kind: 'readBase' }
  | { kind: 'inside' }
  | { kind: 'readAgain'; part: number; expected: Range }
  | ({
      kind: 'add';
      part: number;
      way: 'coach' | 'measure' | 'recipe';
      portion: number;
      portionsLikely: number;
      expected: Range;
      hardPpm: number | null;
      pastHard: number;
    } & ReturnType<typeof dosingOf>)
  | {
      kind: 'thin';
      part: number;
      pastHard: boolean;
      plan: 'add' | 'pourOffAndReplace';
      addL: number;
      pourOffL: number;
      vesselName: string;
      expectedPpm: number;
    }
  | { kind: 'tooCoarse'; part: number; stepMl: number };

/**
 * Puts an advice into the figures the grower reads.
 * @param toolsFor tools of a part, the one of the dose among them @param ppm of so many µS/cm on the grower's scale
 */
export function shownAdvice(
  advice: BenchAdvice,
  setup: BenchSetup,
  session: BenchSession,
  toolsFor: (part: number) => readonly Tool[],
  vesselName: string,
  ppm: (ecUsCm: number) => number,
): ShownAdvice {
  switch (advice.kind) {
    case 'readBase':
    case 'inside':
      return { kind: advice.kind };
    case 'readAgain':
      return { kind: 'readAgain', part: advice.part, expected: rangeOf(advice.expected, ppm) };
    case 'measure':
    case 'add':
      return shownDose(advice, setup, session, toolsFor, ppm);
    case 'thin':
      return shownThinning(advice, session, vesselName, ppm);
    case 'tooCoarse':
      return { kind: 'tooCoarse', part: advice.part, stepMl: advice.stepMl };
  }
}

const rangeOf = (
  e: { readonly readingEcUsCm: number; readonly lowEcUsCm: number; readonly highEcUsCm: number },
  ppm: (ecUsCm: number) => number,
): Range => ({ ppm: ppm(e.readingEcUsCm), lowPpm: ppm(e.lowEcUsCm), highPpm: ppm(e.highEcUsCm) });

function shownDose(
  advice: Extract<BenchAdvice, { kind: 'measure' | 'add' }>,
  setup: BenchSetup,
  session: BenchSession,
  toolsFor: (part: number) => readonly Tool[],
  ppm: (ecUsCm: number) => number,
): ShownAdvice {
  const { part, dose } = advice;
  const aim = setup.parts[part]!.aim;
  const standing = session.parts[part];
  const over = standing?.overEcUsCm ?? session.lastReadingEcUsCm ?? 0;
  const portion = (standing?.portionsUsed ?? 0) + 1;
  const by =
    advice.kind === 'add'
      ? { way: 'coach' as const, portionsLikely: advice.portionsLikely, pastHard: advice.pastHard }
      : { way: advice.byRecipe ? ('recipe' as const) : ('measure' as const), portionsLikely: portion, pastHard: 0 };
  return {
    kind: 'add',
    part,
    portion,
    ...by,
    ...dosingOf(
      dose,
      toolsFor(part).find((t) => t.id === dose.toolId)!,
    ),
    expected: rangeOf(advice.expected, ppm),
    hardPpm: aim.by === 'pen' ? ppm(aim.aim.hardEcUsCm + over) : null,
  };
}

function shownThinning(
  { part, plan, pastHard }: Extract<BenchAdvice, { kind: 'thin' }>,
  session: BenchSession,
  vesselName: string,
  ppm: (ecUsCm: number) => number,
): ShownAdvice {
  const pourOffL = plan.kind === 'pourOffAndReplace' ? plan.pourOffL : 0;
  const base = session.baseEcUsCm ?? 0;
  const kept = (session.volumeL - pourOffL) / (session.volumeL - pourOffL + plan.addL);
  return {
    kind: 'thin',
    part,
    pastHard,
    plan: plan.kind,
    addL: plan.addL,
    pourOffL,
    vesselName,
    expectedPpm: ppm(base + ((session.lastReadingEcUsCm ?? 0) - base) * kept),
  };
}
