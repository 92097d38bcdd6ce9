import { lately, ratios, seen, weightOf } from './measures.ts';
import type { GivenMonth, PotFacts } from './facts.ts';
import type { Rule } from './rule.ts';
import { TAKES } from './thresholds.ts';

/* What the plant is given and takes. */

/** Calcium for nitrogen fell to this share of what it was. */
const CALCIUM_FELL = 0.6;

const perNitrogen = ({ mg }: GivenMonth) => (mg.N && mg.N > 1 && mg.Ca !== undefined ? (10 * mg.Ca) / mg.N : undefined);

/** Calcium per 10 mg of nitrogen, month by month, and whether the last two are down against those before. */
function calcium(f: PotFacts): {
  months: { label: string; value: number }[];
  fell: boolean;
  now: number | undefined;
  was: number | undefined;
} {
  const months = f.given.slice(-6).flatMap((month) => {
    const value = perNitrogen(month);
    return value === undefined ? [] : [{ label: month.month, value }];
  });
  const now = months.at(-1)?.value;
  const before = months
    .slice(0, -1)
    .map((m) => m.value)
    .sort((a, b) => a - b);
  const was = before.length >= 2 ? before[Math.floor(before.length / 2)] : undefined;
  return { months, now, was, fell: now !== undefined && was !== undefined && now < CALCIUM_FELL * was };
}

export const FOOD_RULES: readonly Rule[] = [
  {
    id: 'calcium',
    matter: 'calcium',
    seen: 'brown tips, splitting leaves, after bloom; or calcium given falls against nitrogen',
    think: 'calcium short',
    act: 'calcium–magnesium, not more feed',
    source: 'common practice',
    sourceWords: 'the share given is computed from the mixes',
    silences: ['hungry', 'takesAll'],
    find: (f) => {
      const browned = seen(f, 'tips', ['brown', 'worse'], 42);
      const tips = lately(f, 'tips', ['brown', 'worse'], 4) >= 2 ? browned : [];
      const { months, fell, now, was } = calcium(f);
      if (!fell && tips.length < 2) return undefined;
      const figures = months.slice(-4).map((m) => ({ label: m.label, value: Math.round(m.value * 10) / 10 }));
      const share =
        now === undefined
          ? ''
          : `It is given ${now.toFixed(1)} mg of calcium for each 10 of nitrogen${fell ? `, from ${was!.toFixed(1)} before` : ''}.`;
      return {
        title: 'Check calcium before raising the feed',
        because: [tips.length >= 2 ? `Tips browned at ${tips.length} looks.` : '', share].filter(Boolean).join(' '),
        then: 'More feed would add salt first. Calcium–magnesium at the next watering.',
        act: { kind: 'plan', words: 'Calcium–magnesium at its next watering' },
        evidence: [
          ...tips.map((t) => t.evidence),
          ...(fell
            ? [{ on: f.today, words: `calcium per nitrogen ${now!.toFixed(1)}, was ${was!.toFixed(1)}`, weight: 2 }]
            : []),
        ],
        sure: fell ? (tips.length > 0 ? 0.75 : 0.6) : 0.45,
        figures,
      };
    },
  },
  {
    id: 'takesAll',
    matter: 'feed',
    seen: 'what comes out well under what was poured, round after round, in growth',
    think: 'it takes all it gets',
    act: 'a little stronger, or sooner',
    source: 'ours',
    find: (f) => {
      const last = ratios(f).slice(-4);
      const low = last.filter((r) => r.ratio < TAKES);
      if (weightOf(low.map((r) => r.evidence)) < 3 || f.stage !== 'growth' || f.plainOnly || f.tender) return undefined;
      return {
        title: 'It could take a little more',
        because: `It left ${Math.round(100 * low.at(-1)!.ratio)} % of the strength, ${low.length} rounds of the last ${last.length}.`,
        then: 'A fifth stronger, and read what comes out.',
        act: { kind: 'plan', words: 'Mix its feed a fifth stronger and read what comes out' },
        evidence: low.map((r) => r.evidence),
        sure: 0.4,
        figures: last.map((r) => ({ label: r.evidence.on, value: r.ratio })),
      };
    },
  },
];
