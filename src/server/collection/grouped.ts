/** Things by a key, in the order they came. */
export function grouped<T>(all: readonly T[], key: (one: T) => string): Map<string, T[]> {
  const groups = new Map<string, T[]>();
  for (const one of all) {
    const mine = groups.get(key(one));
    if (mine) mine.push(one);
    else groups.set(key(one), [one]);
  }
  return groups;
}
