import { createHash } from 'node:crypto';

/** An id that follows from an act's, so that sending it twice makes one. */
export function idFrom(eventId: string, what: string): string {
  const hex = createHash('sha256').update(`${eventId}:${what}`).digest('hex');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-4${hex.slice(13, 16)}-8${hex.slice(17, 20)}-${hex.slice(20, 32)}`;
}
