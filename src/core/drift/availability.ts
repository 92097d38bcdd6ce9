/** Elements of the picture, the main ones before the traces. */
export const REACHED = ['N', 'P', 'K', 'Ca', 'Mg', 'S', 'Fe', 'Mn', 'B', 'Cu', 'Zn'] as const;
export type ReachedElement = (typeof REACHED)[number];

/**
 * How much of an element roots can reach at a pH, against its own best: 0 to 1, at pH 4 to 9 by half. A teaching picture after the diagram of
 * soil reaction and nutrients in the USDA Yearbook of Agriculture (1943–47), values read from memory. Relative only: in a solution with
 * chelates iron keeps longer than it shows, and no crop follows it closely.
 */
const TABLE: Record<ReachedElement, readonly number[]> = {
  N: [0.35, 0.45, 0.6, 0.78, 0.95, 1, 1, 1, 0.95, 0.85, 0.7],
  P: [0.3, 0.38, 0.5, 0.68, 0.9, 1, 1, 0.8, 0.55, 0.6, 0.75],
  K: [0.35, 0.45, 0.6, 0.8, 0.95, 1, 1, 1, 1, 0.95, 0.9],
  Ca: [0.25, 0.35, 0.48, 0.62, 0.78, 0.9, 1, 1, 1, 0.9, 0.75],
  Mg: [0.25, 0.35, 0.48, 0.62, 0.78, 0.92, 1, 1, 1, 0.9, 0.75],
  S: [0.35, 0.48, 0.65, 0.82, 0.96, 1, 1, 1, 1, 1, 1],
  Fe: [1, 1, 1, 0.95, 0.85, 0.68, 0.5, 0.36, 0.26, 0.2, 0.16],
  Mn: [0.9, 1, 1, 0.96, 0.86, 0.7, 0.52, 0.38, 0.28, 0.22, 0.18],
  B: [0.7, 0.82, 0.94, 1, 1, 0.98, 0.85, 0.62, 0.48, 0.55, 0.7],
  Cu: [0.6, 0.75, 0.9, 1, 1, 0.95, 0.82, 0.66, 0.52, 0.42, 0.34],
  Zn: [0.65, 0.8, 0.94, 1, 1, 0.92, 0.76, 0.6, 0.46, 0.38, 0.32],
};

/** @param ph 4 to 9; beyond it the ends are taken @example reachable('Fe', 8) // 0.26 */
export function reachable(element: ReachedElement, ph: number): number {
  const row = TABLE[element];
  const at = Math.min(row.length - 1, Math.max(0, (ph - 4) / 0.5));
  const low = Math.min(row.length - 2, Math.floor(at));
  return row[low]! + (row[low + 1]! - row[low]!) * (at - low);
}
