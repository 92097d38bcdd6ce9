import type { PotListItem } from '../../contract/pots.ts';

type Sign = PotListItem['stand']['signs'][number];

/** What each sign is called, how grave it is, and what it stands on. */
export const SIGN_WORDS: Readonly<Record<Sign, { words: string; tone: 'late' | 'soon'; means: string }>> = {
  rot: { words: 'rot', tone: 'late', means: 'Soft at the crown or the roots at the last look' },
  ranDry: { words: 'ran dry', tone: 'late', means: 'Nothing was left at the last visit' },
  drySoon: { words: 'dry before its day', tone: 'late', means: 'Down to 15 % before it is due, by its own course' },
  pests: { words: 'pests', tone: 'late', means: 'Pests at the last look' },
  salting: {
    words: 'salting up',
    tone: 'late',
    means: 'Came out 1.6 times the pour twice running, or a gap that grows',
  },
  crust: { words: 'crust', tone: 'late', means: 'Some crust or a ring at the last look' },
  stalled: { words: 'stalled', tone: 'late', means: 'No new growth at three looks, and its leaves show it' },
  drifting: { words: 'pH past 7', tone: 'soon', means: 'Came out over pH 7: clay or roots push' },
  low: { words: 'low pH', tone: 'soon', means: 'Came out under pH 5.2' },
  edging: { words: 'edging up', tone: 'soon', means: 'Came out 1.3 times the pour or more' },
  tips: { words: 'tips', tone: 'soon', means: 'Brown tips at the last look' },
  takesAll: { words: 'takes all', tone: 'soon', means: 'Came out under 0.6 times the pour, twice running' },
};

/** How a pot stands in a few words, for a picture: the worst two, or where it is. */
export function standWords(pot: PotListItem): string {
  const { ran, signs } = pot.stand;
  const times = ran ? `${ran.ratio.toFixed(1)} times` : '';
  const named = signs.slice(0, 2).map((sign) => SIGN_WORDS[sign].words);
  const late = pot.due.daysLate > 0 ? pot.due.words : '';
  return [ran && ran.ratio >= 1.3 ? times : '', ...named, late].filter(Boolean).slice(0, 3).join(', ') || times;
}

/** For ears: where a pot stands on the picture. */
export function standLabel(pot: PotListItem): string {
  const { ran, phs, signs } = pot.stand;
  const ph = phs.at(-1);
  return [
    `${pot.code} ${pot.name}`,
    ran && `old reservoir ${ran.ratio.toFixed(1)} times the pour`,
    ph && `at pH ${ph.ph.toFixed(1)}`,
    ...signs.map((sign) => SIGN_WORDS[sign].words),
    pot.due.words,
  ]
    .filter(Boolean)
    .join(', ');
}
