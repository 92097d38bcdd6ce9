import type { EntityManager } from 'typeorm';
import type { Photo } from './entities.ts';

/** The picture, or undefined where there is none of that number. */
export async function photoOf(manager: EntityManager, photoId: string): Promise<Buffer | undefined> {
  return (await manager.getRepository<Photo>('photo').findOneBy({ id: photoId }))?.jpeg;
}
