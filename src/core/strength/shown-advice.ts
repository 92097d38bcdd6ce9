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
  const asRange = (e: { readingEcUsCm: number; lowEcUsCm: number; highEcUsCm: number }): Range => ({
    ppm: ppm(e.readingEcUsCm),
    lowPpm: ppm(e.lowEcUsCm),
    highPpm: ppm(e.highEcUsCm),
  });
  switch (advice.kind) {
    case 'readBase':
    case 'inside':
      return { kind: advice.kind };
    case 'readAgain':
      return { kind: 'readAgain', part: advice.part, expected: asRange(advice.expected) };
    case 'measure':
    case 'add': {
      const { part, dose } = advice;
      const aim = setup.parts[part]!.aim;
      const over = session.parts[part]?.overEcUsCm ?? session.lastReadingEcUsCm ?? 0;
      const portion = (session.parts[part]?.portionsUsed ?? 0) + 1;
      return {
        kind: 'add',
        part,
        way: advice.kind === 'add' ? 'coach' : advice.byRecipe ? 'recipe' : 'measure',
        portion,
        portionsLikely: advice.kind === 'add' ? advice.portionsLikely : portion,
        ...dosingOf(
          dose,
          toolsFor(part).find((t) => t.id === dose.toolId)!,
        ),
        expected: asRange(advice.expected),
        hardPpm: aim.by === 'pen' ? ppm(aim.aim.hardEcUsCm + over) : null,
        pastHard: advice.kind === 'add' ? advice.pastHard : 0,
      };
    }
    case 'thin': {
      const { plan } = advice;
      const pourOffL = plan.kind === 'pourOffAndReplace' ? plan.pourOffL : 0;
      const base = session.baseEcUsCm ?? 0;
      const kept = (session.volumeL - pourOffL) / (session.volumeL - pourOffL + plan.addL);
      return {
        kind: 'thin',
        part: advice.part,
        pastHard: advice.pastHard,
        plan: plan.kind,
        addL: plan.addL,
        pourOffL,
        vesselName,
        expectedPpm: ppm(base + ((session.lastReadingEcUsCm ?? 0) - base) * kept),
      };
    }
    case 'tooCoarse':
      return { kind: 'tooCoarse', part: advice.part, stepMl: advice.stepMl };
  }
}
