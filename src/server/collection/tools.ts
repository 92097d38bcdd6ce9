import type { ShelfView } from '../../contract/shelf.ts';
import { stepMlOf, type Tool } from '../../core/strength/index.ts';
import type { EntityManager } from 'typeorm';
import type { ToolRow } from '../database/entities.ts';
import { rowsFor } from './holder.ts';

/** Droppers, syringes, and spoons whose size is known: what the coach can dose with. */
export function isDosingTool(row: ToolRow): boolean {
  return row.kind === 'dropper' || row.kind === 'syringe' || (row.kind === 'spoon' && row.capacityMl !== null);
}

/** A tool row as the core knows tools. */
export function toTool(row: ToolRow): Tool {
  const { id, name } = row;
  if (row.kind === 'spoon') return { kind: 'spoon', id, name, holdsMl: row.capacityMl ?? 1 };
  return row.kind === 'dropper'
    ? { kind: 'dropper', id, name, dropsPerMl: row.dropsPerMl }
    : { kind: 'syringe', id, name, capacityMl: row.capacityMl ?? 1, stepMl: row.stepMl ?? 0.1 };
}

/** The wire shape of a tool. */
export function toToolView(row: ToolRow): ShelfView['tools'][number] {
  return {
    id: row.id,
    name: row.name,
    kind: row.kind === 'scale' ? 'syringe' : row.kind,
    dropsPerMl: row.dropsPerMl,
    stepMl: stepMlOf(toTool(row)),
    capacityMl: row.capacityMl,
  };
}

/** Every dosing tool at hand, as the core knows them. */
export function toolsOf(manager: EntityManager): Tool[] {
  return rowsFor(manager)<ToolRow>('SELECT * FROM tool WHERE retiredOn IS NULL ORDER BY position')
    .filter(isDosingTool)
    .map(toTool);
}
