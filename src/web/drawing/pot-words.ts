import type { PotDrawing } from '../../contract/common.ts';
import { phSide } from '../../core/quantity/index.ts';

const STAGES = {
  rooting: 'newly rooting',
  growth: 'in growth',
  rest: 'at rest',
  spike: 'in spike',
  bloom: 'in bloom',
} as const;

/** A pot's picture in words, for its accessible name: level, strength, pH, crust, stage. Nothing is said of what was never read. */
export function potWords(drawing: PotDrawing): string {
  return [
    STAGES[drawing.stage],
    levelWords(drawing),
    strengthWords(drawing.ratio),
    phWords(drawing),
    saltWords(drawing.salts),
    formWords(drawing),
  ]
    .filter(Boolean)
    .join(', ');
}

function levelWords({ level, levelIsGuess }: PotDrawing): string {
  const about = levelIsGuess ? 'perhaps ' : '';
  if (level <= 0.02) return `reservoir ${about}empty`;
  if (level >= 0.95) return `reservoir ${about}full`;
  return `reservoir ${about}${Math.round(level * 100)} % full`;
}

function strengthWords(ratio: number | undefined): string {
  if (ratio === undefined) return 'strength not known';
  if (ratio < 0.8) return `weak, ${ratio.toFixed(1)} times its aim`;
  if (ratio <= 1.2) return 'strength near its aim';
  // On plain water the aim is as good as nothing: a figure says no more.
  if (ratio > 5) return 'far stronger than its aim';
  return `strong, ${ratio.toFixed(1)} times its aim`;
}

function phWords({ ph, phLow, phHigh }: PotDrawing): string {
  if (ph === undefined) return 'pH not known';
  const side = phSide(ph, { low: phLow, high: phHigh });
  const where = side === 'inside' ? 'within' : side;
  return `pH about ${ph.toFixed(1)}, ${where} ${phLow} to ${phHigh}`;
}

function saltWords(salts: number): string {
  return ['', 'a trace of crust', 'some crust', 'a ring of crust'][salts] ?? '';
}

function formWords({ form }: PotDrawing): string {
  return form === 'water' ? 'in water only' : form === 'basket' ? 'in a basket' : form === 'bark' ? 'in bark' : '';
}
