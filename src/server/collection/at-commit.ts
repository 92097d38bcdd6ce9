import type { EntityManager } from 'typeorm';
import { homeOf } from '../database/home.ts';
import type { Collection } from './collection.ts';
import { collectionOf } from './holder.ts';
import { memo } from './memo.ts';

/**
 * What the file itself says, read once a commit: for what the collection does not hold. Within a write it is read each time, for rows may stand there that no
 * line tells of yet.
 */
export function atCommit<R>(read: (manager: EntityManager) => R): (manager: EntityManager) => R {
  const kept = memo((_collection: Collection): { answer?: { readonly is: R } } => ({}));
  return (manager) => {
    if (manager.connection !== homeOf(manager.connection).reader()) return read(manager);
    const at = kept(collectionOf(manager));
    return (at.answer ??= { is: read(manager) }).is;
  };
}
