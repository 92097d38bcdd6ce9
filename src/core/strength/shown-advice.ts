import type { BenchAdvice } from './bench-advice.ts';
import type { BenchSession, BenchSetup } from './bench-session.ts';
import { dosingOf } from './dosing.ts';
import type { Tool } from './tool.ts';
import { wholeDrops, type WholeDrops } from './whole-drops.ts';

type Range = { readonly ppm: number; readonly lowPpm: number; readonly highPpm: number };

type Thinning = { plan: 'add' | 'pourOffAndReplace'; addL: number; pourOffL: number; expectedPpm: number };

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
      /** Whole drops (halves of a spoon) that land in the band; null where they are not counted. */
      window: WholeDrops | null;
    } & ReturnType<typeof dosingOf>)
  | {
      kind: 'thin';
      part: number;
      pastHard: boolean;
      vesselName: string;
      /** The least water, back to the edge of the band; and back to the aim. */
      edge: Thinning;
      aim: Thinning;
      /** Top of its band and its limit, as the pen would show them. */
      topPpm: number;
      hardPpm: number;
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
      return shownThinning(advice, setup, session, vesselName, ppm);
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
  const tool = toolsFor(part).find((t) => t.id === dose.toolId)!;
  const counted = aim.by === 'pen' && session.batch ? wholeDrops(session.batch, part, aim.aim, over, tool) : undefined;
  return {
    kind: 'add',
    part,
    portion,
    ...by,
    ...dosingOf(dose, tool),
    window: counted ?? null,
    expected: rangeOf(advice.expected, ppm),
    hardPpm: aim.by === 'pen' ? ppm(aim.aim.hardEcUsCm + over) : null,
  };
}

function shownThinning(
  { part, plan, edge, pastHard }: Extract<BenchAdvice, { kind: 'thin' }>,
  setup: BenchSetup,
  session: BenchSession,
  vesselName: string,
  ppm: (ecUsCm: number) => number,
): ShownAdvice {
  const base = session.baseEcUsCm ?? 0;
  const over = session.parts[part]?.overEcUsCm ?? base;
  const thinning = (of: typeof plan): Thinning => {
    const pourOffL = of.kind === 'pourOffAndReplace' ? of.pourOffL : 0;
    const kept = (session.volumeL - pourOffL) / (session.volumeL - pourOffL + of.addL);
    const expected = base + ((session.lastReadingEcUsCm ?? 0) - base) * kept;
    return { plan: of.kind, addL: of.addL, pourOffL, expectedPpm: ppm(expected) };
  };
  const by = setup.parts[part]!.aim;
  const at = (ecUsCm: number) => ppm(over + ecUsCm);
  return {
    kind: 'thin',
    part,
    pastHard,
    vesselName,
    edge: thinning(edge),
    aim: thinning(plan),
    topPpm: at(by.by === 'pen' ? by.aim.highEcUsCm : 0),
    hardPpm: at(by.by === 'pen' ? by.aim.hardEcUsCm : 0),
  };
}
