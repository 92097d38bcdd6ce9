import type { ArmCompared, MatchedView, RegimenCompared } from '../../../contract/regimens-compared.ts';
import { LIGHT_WORDS } from '../../../contract/kinds.ts';
import type { TurnMeasure } from '../../../contract/turns.ts';
import { mL } from '../../shell/format.ts';
import { ofInterval, rangeWords, type Verdict } from '../turns/turn-words.ts';

/** What may be said of a regimen's pots on a measure against those of the other. */
export function saidOf(key: TurnMeasure, against: MatchedView): Verdict {
  if (against === 'nothing') return { words: 'no pots to set them against', tone: '' };
  if (against === 'same') return { words: 'pots of each regimen alike', tone: '' };
  return ofInterval(key, against);
}

/** "3 of them set against 11 pots of the same place"; nothing where nothing is. */
export function setAgainst(arms: readonly ArmCompared[]): string {
  const matched = matchedIn(arms);
  if (!matched) return '';
  const { by, pots } = matched;
  return `${pots[0]} of them set against ${pots[1]} of ${by === 'plantAndPlace' ? 'the same plants and places' : 'the same place, plants of any kind'}`;
}

/** "−30 (−45 to −15) ppm", and of which pots where they are others than the row says. */
export function standsOn(key: TurnMeasure, against: MatchedView, arms: readonly ArmCompared[]): string {
  if (typeof against === 'string') return '';
  const row = matchedIn(arms)!;
  const same = row.by === against.by && row.pots.every((n, i) => n === against.pots[i]);
  const by =
    row.by === against.by ? '' : against.by === 'place' ? ' of the same place' : ' of the same plant and place';
  return `${rangeWords(key, against)}${same ? '' : `, of ${against.pots[0]} and ${against.pots[1]}${by}`}`;
}

const matchedIn = (arms: readonly ArmCompared[]) =>
  arms.flatMap(({ against }) => (against === null || typeof against === 'string' ? [] : [against]))[0];

/** No measure of it can be set against the other's. */
export const standsAlone = (arms: readonly ArmCompared[]) => arms.every(({ against }) => against === 'nothing');

/** What else the pots of a regimen are, against those of the other: "Cool porch: 3 of 4, not 1 of 9". */
export function unlikeWords(unlike: RegimenCompared['unlike'][number]): string {
  switch (unlike.of) {
    case 'reservoirMl':
      return `reservoirs of ${mL(unlike.values[0])}, not ${mL(unlike.values[1])}`;
    case 'monthsInClay':
      return `${Math.round(unlike.values[0])} months in their clay, not ${Math.round(unlike.values[1])}`;
    case 'light':
      return `${LIGHT_WORDS[unlike.what]}: ${shares(unlike)}`;
    case 'clay':
      return `clay of ${unlike.what}: ${shares(unlike)}`;
    default:
      return `${unlike.what}: ${shares(unlike)}`;
  }
}

type Shares = { readonly some: readonly [number, number]; readonly others: readonly [number, number] };
const shares = ({ some, others }: Shares) => `${ofAll(some)}, not ${ofAll(others)}`;
const ofAll = ([n, all]: readonly [number, number]) => (n === 0 ? 'none' : n === all ? 'all' : `${n} of ${all}`);

/** Pots that are not in a regimen's figures, and why. */
export function leftOut({ left, inTrial }: Pick<RegimenCompared, 'left' | 'inTrial'>): string[] {
  return [
    ...(inTrial > 0 ? [`${inTrial} more ${inTrial === 1 ? 'is' : 'are'} in a trial and left out`] : []),
    ...(left > 0
      ? [`${left} left the collection in these weeks: of ${left === 1 ? 'it' : 'them'} nothing is here`]
      : []),
  ];
}
