import type { PotFacts } from './facts.ts';
import { FOOD_RULES } from './food-rules.ts';
import { PH_RULES } from './ph-rules.ts';
import { PLANT_RULES } from './plant-rules.ts';
import { MATTERS, type Advice, type Finding, type Rule } from './rule.ts';
import { SALT_RULES } from './salt-rules.ts';

/** Every rule, in the order of what it is about. */
export const RULES: readonly Rule[] = [...SALT_RULES, ...PH_RULES, ...PLANT_RULES, ...FOOD_RULES].sort(
  (a, b) => MATTERS.indexOf(a.matter) - MATTERS.indexOf(b.matter),
);

/**
 * What one would do next with a pot, and why; most pressing first. Where two rules want opposite things, what the first says silences the other:
 * salt before more feed, calcium before more feed, roots before silicate. Danger comes first.
 */
export function judge(facts: PotFacts, rules: readonly Rule[] = RULES): Advice[] {
  const found = rules.flatMap((rule): { rule: Rule; finding: Finding }[] => {
    const finding = rule.find(facts);
    return finding ? [{ rule, finding }] : [];
  });
  const silenced = new Set(found.flatMap(({ rule }) => rule.silences ?? []));
  return found
    .filter(({ rule }) => !silenced.has(rule.id))
    .map(({ rule, finding }) => ({ ...finding, rule: rule.id, matter: rule.matter, evidenceKey: keyOf(finding) }));
}

/** Told apart by its newest evidence: declined, an advice is not given again until something new speaks for it. */
function keyOf({ evidence }: Finding): string {
  const days = evidence.map((e) => e.on).sort();
  return `${days.at(-1) ?? ''}:${evidence.length}`;
}

/** The stated order, for the rules page. */
export const PRIORITIES: readonly string[] = [
  'Danger first: a dry pot, rot, many pests, growth under water.',
  'Salt before more feed: while salts gather nothing is made stronger.',
  'Leaching and repotting before flushing, where the salt sits in the clay.',
  'Calcium before more feed: brown tips ask for calcium, and feed would add salt first.',
  'Roots before supplements: no silicate while roots are soft or not drinking.',
  'Season last: a date can wait.',
];
