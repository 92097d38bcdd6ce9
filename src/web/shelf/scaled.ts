import { elementsOf, PURE_WATER, type Elements } from '../../core/solution/index.ts';

/** Every figure times `factor`. */
export function scaled(elements: Elements, factor: number): Elements {
  return Object.fromEntries(Object.entries(elements).map(([key, value]) => [key, value * factor])) as Elements;
}

/** Added up, element by element. */
export function sumOf(parts: readonly Elements[]): Elements {
  const sum: Record<string, number> = Object.fromEntries(Object.keys(elementsOf(PURE_WATER)).map((key) => [key, 0]));
  for (const part of parts) for (const [key, value] of Object.entries(part)) sum[key] = (sum[key] ?? 0) + value;
  return sum as Elements;
}
