/*
 * Which commits of the server what shows was read at. One who begins to listen is told the newest; only where something was read before it is
 * everything fetched a second time.
 */

let own = 0;
let oldest: number | undefined;
let late: { commit: number; tell(): void } | undefined;

/** The newest commit of the server that this page wrote itself, and has fetched everything anew after. */
export const lastOwnCommit = () => own;

const commitOf = (response: Response): number => Number(response.headers.get('x-commit') ?? 0);

/** @param response to an act of this page */
export function noteWritten(response: Response): void {
  own = commitOf(response);
}

/** @param response to a question; it says which commit was the newest when it was asked */
export function noteRead(response: Response): void {
  const commit = commitOf(response);
  if (oldest === undefined || commit < oldest) oldest = commit;
  if (!late || commit === late.commit) return;
  // Newer ones are announced as they come. Once is enough: a server that was started again counts from another number.
  if (commit < late.commit) late.tell();
  late = undefined;
}

/**
 * Asked once where this page begins to listen.
 * @param commit the newest the server has
 * @param tell called where an answer that is still on its way was read before it
 * @returns whether all there is was read at this commit
 */
export function allReadAt(commit: number, tell: () => void): boolean {
  const all = oldest === undefined || oldest === commit;
  late = all ? { commit, tell } : undefined;
  oldest = undefined;
  return all;
}
