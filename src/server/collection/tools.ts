import type { ShelfView } from '../../contract/shelf.ts';
import { GUESSED_DROPS_PER_ML } from '../../core/quantity/index.ts';
import type { Tool } from '../../core/strength/index.ts';
import type { ToolRow } from '../database/entities.ts';

/** Droppers and syringes: what the coach can dose with. */
export function isDosingTool(row: ToolRow): row is ToolRow & { kind: 'dropper' | 'syringe' } {
  return row.kind === 'dropper' || row.kind === 'syringe';
}

/** A tool row as the core knows tools. */
export function toTool(row: ToolRow): Tool {
  return row.kind === 'dropper'
    ? { kind: 'dropper', id: row.id, name: row.name, dropsPerMl: row.dropsPerMl }
    : { kind: 'syringe', id: row.id, name: row.name, capacityMl: row.capacityMl ?? 1, stepMl: row.stepMl ?? 0.1 };
}

/** The wire shape of a tool. */
export function toToolView(row: ToolRow): ShelfView['tools'][number] {
  const stepMl = row.kind === 'syringe' ? (row.stepMl ?? 0.1) : 1 / (row.dropsPerMl ?? GUESSED_DROPS_PER_ML);
  return {
    id: row.id,
    name: row.name,
    kind: row.kind === 'syringe' ? 'syringe' : 'dropper',
    dropsPerMl: row.dropsPerMl,
    stepMl,
    capacityMl: row.capacityMl,
  };
}
