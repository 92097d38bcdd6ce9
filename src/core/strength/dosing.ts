import { GRANULES } from './stock.ts';
import type { MeasuredDose, Tool } from './tool.ts';

/** A measured dose with the tool it is measured by, as it is told. Granules have no tool on the Shelf: their id is null. */
export function dosingOf(dose: MeasuredDose, tool: Tool) {
  return {
    doseMl: dose.doseMl,
    steps: dose.steps,
    toolId: tool.id === GRANULES.id ? null : tool.id,
    toolName: tool.name,
    toolKind: tool.kind,
    dropsPerMl: tool.kind === 'dropper' ? tool.dropsPerMl : null,
    dropSizeIsGuess: tool.kind === 'dropper' && tool.dropsPerMl === null,
    relativeSd: dose.relativeSd,
  };
}
