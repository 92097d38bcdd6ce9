import { GRANULES, type MeasuredDose, type Tool } from '../../core/strength/index.ts';

/** A measured dose with the tool it is measured by, for the wire. Granules have no tool on the Shelf. */
export function dosingView(dose: MeasuredDose, tool: Tool) {
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
