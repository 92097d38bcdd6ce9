import { DomainError, GUESSED_DROPS_PER_ML, requirePositive } from '../quantity/index.ts';

/** What a grower measures doses with. A dropper that was never counted has `dropsPerMl: null`. */
export type Dropper = {
  readonly kind: 'dropper';
  readonly id: string;
  readonly name: string;
  readonly dropsPerMl: number | null;
};
export type Syringe = {
  readonly kind: 'syringe';
  readonly id: string;
  readonly name: string;
  readonly capacityMl: number;
  readonly stepMl: number;
};
/** Crystals of a solid counted one by one, for want of a scale; steps are granules, and mL stand for grams. */
export type Granules = {
  readonly kind: 'granules';
  readonly id: string;
  readonly name: string;
  readonly gramsEach: number;
};
/** A spoon, scoop or cap whose size is known, filled level; half of it can be told by eye, and is its step. */
export type Spoon = {
  readonly kind: 'spoon';
  readonly id: string;
  readonly name: string;
  readonly holdsMl: number;
};
export type Tool = Dropper | Syringe | Granules | Spoon;

/** A dose as it can be measured. `steps` are drops for a dropper, marks for a syringe, halves for a spoon. */
export type MeasuredDose = {
  readonly toolId: string;
  readonly steps: number;
  readonly doseMl: number;
  readonly stepMl: number;
  readonly relativeSd: number;
};

/** Beyond about forty drops one loses count; a syringe takes over. */
export const MOST_DROPS = 40;
/** Relative standard deviation of a dose: counted or drawn with care, and from a dropper whose drop is a guess. */
export const MEASURED_SD = 0.05;
export const GUESSED_DROP_SD = 0.2;
/** Level by eye. House rule. */
export const SPOON_SD = 0.1;
/** Crystals are of all sizes. */
export const GRANULE_SD = 0.25;

/** Volume of the tool's smallest step, mL: one drop, or one mark. */
export function stepMlOf(tool: Tool): number {
  if (tool.kind === 'syringe') return tool.stepMl;
  if (tool.kind === 'granules') return tool.gramsEach;
  if (tool.kind === 'spoon') return tool.holdsMl / 2;
  return 1 / (tool.dropsPerMl ?? GUESSED_DROPS_PER_ML);
}

/** Relative standard deviation (1 SD) of a dose given with this tool. */
export function doseSdOf(tool: Tool): number {
  if (tool.kind === 'granules') return GRANULE_SD;
  if (tool.kind === 'spoon') return SPOON_SD;
  return tool.kind === 'dropper' && tool.dropsPerMl === null ? GUESSED_DROP_SD : MEASURED_SD;
}

/**
 * The largest dose not above `doseMl` that one of the tools can measure: drops up to forty, else the smallest syringe that holds it,
 * else several fills of the largest; with nothing but droppers forty drops of a dose that would take more. A dropper of guessed size gives way to a syringe that can measure the dose.
 * @param doseMl wanted, mL, > 0
 * @returns the rounded-down dose, or undefined when it is under one step of the finest tool
 * @throws DomainError `no-tool` when there is nothing to measure with
 */
export function roundDownToTool(doseMl: number, tools: readonly Tool[]): MeasuredDose | undefined {
  requirePositive(doseMl, 'the dose');
  if (tools.length === 0)
    throw new DomainError(
      'no-tool',
      'There is nothing to measure the dose with',
      tools,
      'Choose a dropper or a syringe.',
    );
  const measurable = (most: (tool: Tool) => number) =>
    tools
      .map((tool) => measure(most(tool), tool))
      .filter((dose): dose is MeasuredDose & { fills: number } => dose !== undefined);
  let options = measurable(() => doseMl);
  // Nothing but droppers, and more drops than one can count: forty now, the rest as the next portions.
  if (options.length === 0 && doseMl >= finestStepMl(tools))
    options = measurable((tool) => Math.min(doseMl, MOST_DROPS * stepMlOf(tool)));
  // A tool whose marks lose much of the dose comes last while a finer one does it in a few fills; then fewest fills, the surer tool, the least lost.
  const wanted = options.reduce((most, option) => Math.max(most, option.doseMl), 0);
  const coarse = (option: MeasuredDose & { fills: number }) =>
    Number(option.doseMl < (1 - LOSES) * wanted || option.fills > FEW_FILLS);
  options.sort(
    (a, b) => coarse(a) - coarse(b) || a.fills - b.fills || a.relativeSd - b.relativeSd || b.doseMl - a.doseMl,
  );
  const best = options[0];
  return (
    best && {
      toolId: best.toolId,
      steps: best.steps,
      doseMl: best.doseMl,
      stepMl: best.stepMl,
      relativeSd: best.relativeSd,
    }
  );
}

/**
 * The dose nearest to `doseMl` that a tool can measure, never less than one step: for what is given by measure, where a little over is no harm.
 * @throws DomainError `no-tool` when there is nothing to measure with
 */
export function roundToTool(doseMl: number, tools: readonly Tool[]): MeasuredDose {
  const down = roundDownToTool(Math.max(doseMl, finestStepMl(tools)), tools)!;
  return doseMl - down.doseMl > down.stepMl / 2
    ? { ...down, steps: down.steps + 1, doseMl: down.doseMl + down.stepMl }
    : down;
}

/** Share of a dose that rounding down to a coarse mark may lose where a finer tool is at hand, and how often one fills it for that. House rules. */
const LOSES = 0.04;
const FEW_FILLS = 4;

/** The smallest step among the tools, mL. */
export function finestStepMl(tools: readonly Tool[]): number {
  return Math.min(...tools.map(stepMlOf));
}

function measure(doseMl: number, tool: Tool): (MeasuredDose & { fills: number }) | undefined {
  const stepMl = stepMlOf(tool);
  // A millionth of a step of grace: 0.3/0.1 is 2.999… in binary and must count as three.
  const steps = Math.floor(doseMl / stepMl + 1e-6);
  if (steps < 1) return undefined;
  if (tool.kind !== 'syringe' && steps > MOST_DROPS) return undefined;
  const holdsMl = tool.kind === 'syringe' ? tool.capacityMl : tool.kind === 'spoon' ? tool.holdsMl : Infinity;
  const fills = Math.max(1, Math.ceil((steps * stepMl) / holdsMl - 1e-9));
  return { toolId: tool.id, steps, doseMl: steps * stepMl, stepMl, relativeSd: doseSdOf(tool), fills };
}
