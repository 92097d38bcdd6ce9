import type { EntityManager } from 'typeorm';
import { AppError } from '../app-error.ts';
import type { Pot } from '../database/entities.ts';

/** Codes are one pot's each, among the pots that are kept; compared without regard to case. */
export async function requireFreeCodes(
  manager: EntityManager,
  wanted: readonly { code: string; potId: string; path: string }[],
): Promise<void> {
  const rows = await manager.query<Pick<Pot, 'id' | 'code'>[]>('SELECT id, code FROM pot WHERE retiredOn IS NULL');
  const taken = new Map(rows.map((row) => [row.code.toLowerCase(), row.id]));
  const errors = [];
  for (const { code, potId, path } of wanted) {
    const holder = taken.get(code.toLowerCase());
    if (holder !== undefined && holder !== potId)
      errors.push({ path, message: `${code} is another pot's code. Give this one a code of its own.` });
    taken.set(code.toLowerCase(), potId);
  }
  const [first] = errors;
  if (first) throw new AppError('code-taken', first.message, { errors });
}
