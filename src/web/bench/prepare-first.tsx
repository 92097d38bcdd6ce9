import type { BatchPartView } from '../../contract/bench.ts';
import { dayMonth } from '../shell/format.ts';
import { amountWords } from './bench-words.ts';
import { Icon } from '../drawing/icon.tsx';

/** What must be made ready before the first portion: a product thinned, a solid dissolved, granules counted. */
export function PrepareFirst({ part }: { part: BatchPartView }) {
  const words = prepareWords(part);
  if (!words) return null;
  return (
    <div className="caution">
      <Icon name="dropletHalf" />
      <span>{words}</span>
    </div>
  );
}

/** In words, or undefined where it goes in as it is. */
export function prepareWords(part: BatchPartView): string | undefined {
  switch (part.method) {
    case 'thinned':
      return `${part.aim ? 'One drop of it plain would jump half the band.' : 'So little of it plain cannot be measured.'} First thin it: 1 part ${part.short} and ${part.mlPerUnit - 1} of the same water; measure from that.`;
    case 'stock':
      if (part.stock?.madeOn)
        return `From the stock made ${dayMonth(part.stock.madeOn)}: ${part.stock.grams} g of ${part.short} in ${part.stock.waterMl} mL, some ${part.stock.leftMl} mL left. Swirl it; if it is cloudy or smells, or the bottle is not labelled, make a fresh one.`;
      return `First a stock: ${weightWords(part)} in ${part.stock?.waterMl} mL of hot water, in something heat-proof, stirred until clear and let cool. Never straight into the pot. A pen in the stock reads far off its scale: do not.`;
    case 'granules':
      return `No stock: granules of some 25 mg are counted straight in. They are of all sizes, so every one of these doses is read.`;
    case 'plain':
      return undefined;
  }
}

/** "5 g of Epsom", or "2 level teaspoons of Epsom (about 10 g: not weighed, so the pen finds out what it is)". */
function weightWords({ stock, short }: BatchPartView): string {
  if (!stock?.halfSpoons || !stock.spoon) return `${stock?.grams} g of ${short}`;
  const spoons = amountWords({ steps: stock.halfSpoons, doseMl: 0 }, 'spoon', stock.spoon);
  return `${spoons}, level, of ${short} (about ${Number(stock.grams.toPrecision(2))} g: not weighed, so only a reading tells what it is)`;
}
