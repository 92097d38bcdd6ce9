import type { BatchView } from '../../contract/bench.ts';
import { NBSP, doseMl, phText } from '../shell/format.ts';

/** "9 drops", "12 granules", "0.4 mL": what is counted, else what is measured. */
export function amountWords(dose: { steps: number; doseMl: number }, tool: 'dropper' | 'syringe' | 'granules'): string {
  if (tool === 'syringe') return doseMl(dose.doseMl);
  const one = tool === 'dropper' ? 'drop' : 'granule';
  return `${dose.steps}${NBSP}${one}${dose.steps === 1 ? '' : 's'}`;
}

export function partShort(view: BatchView, part: number): string {
  return view.parts[part]?.short ?? 'it';
}

/** What the pen last read in this batch, ppm; 0 before anything was read. */
export function lastReading(view: BatchView): number {
  return [...view.rows].reverse().find((r) => r.readsPpm !== null)?.readsPpm ?? 0;
}

/** "6.4", or with a pen known to be off "6.4 (6.1 on this pen)". */
export function standsWords({ ph }: { ph: { penOffBy: number } }, latest: number): string {
  return ph.penOffBy === 0 ? phText(latest) : `${phText(latest)} (${phText(latest + ph.penOffBy)} on this pen)`;
}
