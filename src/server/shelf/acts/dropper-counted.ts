import type { EntityManager } from 'typeorm';
import { carePayloads } from '../../../contract/care.ts';
import { act } from '../../act/definition.ts';
import type { ToolRow } from '../../database/entities.ts';

/** Drops of a dropper counted into a millilitre. */
export const dropperCounted = act({
  kind: 'dropperCounted',
  payload: carePayloads.dropperCounted,
  group: 'Check',
  words: (p) => `Counted a dropper: ${p.dropsPerMl} drops to the mL`,
  undone: 'Took a dropper count back',
  takeBack: (manager, { payload }) => counted(manager, payload.toolId, payload.before),
  putBack: (manager, { payload }) => counted(manager, payload.toolId, payload.dropsPerMl),
});

async function counted(manager: EntityManager, toolId: string, dropsPerMl: number | null): Promise<void> {
  await manager.getRepository<ToolRow>('tool').update(toolId, { dropsPerMl });
}
