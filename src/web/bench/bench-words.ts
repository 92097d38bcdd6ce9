import type { BatchView } from '../../contract/bench.ts';
import { inSentence } from '../../core/quantity/words.ts';
import { NBSP, doseMl, phText } from '../shell/format.ts';

/** "9 drops", "12 granules", "1½ teaspoons", "0.4 mL": what is counted, else what is measured. */
export function amountWords(
  dose: { steps: number; doseMl: number },
  tool: BatchView['tools'][number]['kind'] | 'granules',
  name = 'spoon',
): string {
  if (tool === 'syringe') return doseMl(dose.doseMl);
  if (tool === 'spoon') return spoonWords(dose.steps, name);
  const one = tool === 'dropper' ? 'drop' : 'granule';
  return `${dose.steps}${NBSP}${one}${dose.steps === 1 ? '' : 's'}`;
}

/** Steps of a spoon are halves. */
function spoonWords(halves: number, name: string): string {
  const whole = Math.floor(halves / 2);
  const count = `${whole > 0 ? whole : ''}${halves % 2 === 1 ? '½' : ''}`;
  return `${count}${NBSP}${inSentence(name)}${halves > 2 && !name.endsWith('s') ? 's' : ''}`;
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
