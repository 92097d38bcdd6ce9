/** Things of the Shelf that are in use, in its order. */
export function inUse<
  T extends { readonly row: { readonly id: string; readonly position: number; readonly retiredOn: string | null } },
>(things: ReadonlyMap<string, T>): T[] {
  return [...things.values()]
    .filter(({ row }) => row.retiredOn === null)
    .sort((a, b) => a.row.position - b.row.position || (a.row.id < b.row.id ? -1 : 1));
}
