/**
 * Which readings are worth their dips: collections of several worlds with troubles planted in them, lived under what is asked, under reading everything
 * and nothing, and under simpler rules at about as many dips. By policy and by world: dips, troubles found at most one round later than by reading
 * everything, and missed; harm against reading everything, and the share of the avoidable harm that was avoided; how often the 90 % ranges of what was
 * read, of what was left and of pots in trouble held (with the 90 % interval of that share).
 * `npx tsx bench/read-today.ts [collections]`
 */
import { median } from 'simple-statistics';
import { POT_WORLDS, type PotWorld } from '../src/core/simulation/index.ts';
import { Z90 } from '../src/core/statistics/index.ts';
import { liveCollection, POLICIES, TROUBLES, type Case, type Outcome, type Policy } from './reading-grower.ts';

const collections = Number(process.argv[2] ?? 80);
const each = Math.max(1, Math.round(collections / POT_WORLDS.length));
const outcomes: Outcome[] = [];
const WORLDS = POT_WORLDS.filter((world) => !process.env['WORLDS'] || process.env['WORLDS'].split(',').includes(world));
const LIVED = POLICIES.filter(
  (policy) => !process.env['POLICIES'] || process.env['POLICIES'].split(',').includes(policy),
);
for (const world of WORLDS)
  for (let seed = 0; seed < each; seed++)
    for (const policy of LIVED) outcomes.push(liveCollection(world, seed, policy));

const of = (policy: Policy, world?: PotWorld) =>
  outcomes.filter((one) => one.policy === policy && (world === undefined || one.world === world));
const pct = (share: number, digits = 0) => `${(100 * share).toFixed(digits)} %`.padStart(7);
const sum = (list: readonly number[]) => list.reduce((all, one) => all + one, 0);

/** Collections in which nothing goes wrong, and everything is read: what they cry is chance. */
const twins = WORLDS.flatMap((world) =>
  Array.from({ length: each }, (_, seed) => liveCollection(world, seed, 'everything', false)),
);

type FoundAt = { readonly trouble: string; readonly first: number; readonly at: number | undefined };
/** Of troubles that reading everything finds: when a policy finds them. A word that would have been said with no trouble there finds nothing. */
function foundAt(policy: Policy, world?: PotWorld): FoundAt[] {
  const twinsOf = twins.filter((one) => world === undefined || one.world === world);
  const all = of('everything', world);
  return of(policy, world).flatMap((one, i) =>
    one.found.flatMap(({ trouble, at }, k) => {
      const chance = new Set(twinsOf[i]!.found[k]!.at);
      const [first] = all[i]!.found[k]!.at.filter((round) => !chance.has(round));
      return first === undefined ? [] : [{ trouble, first, at: at.find((round) => !chance.has(round)) }];
    }),
  );
}

/** How many are found at most a round later, and never. */
function foundBy(policy: Policy, world?: PotWorld, trouble?: string): { inTime: number; missed: number; of: number } {
  const found = foundAt(policy, world).filter((one) => trouble === undefined || one.trouble === trouble);
  const share = (is: (one: FoundAt) => boolean) => found.filter(is).length / found.length;
  return {
    inTime: share(({ at, first }) => at !== undefined && at <= first + 1),
    missed: share(({ at }) => at === undefined),
    of: found.length,
  };
}

function held(cases: readonly Case[]): string {
  if (cases.length === 0) return '      –      ';
  const share = cases.filter(({ inside }) => inside).length / cases.length;
  const give = Z90 * Math.sqrt((share * (1 - share)) / cases.length);
  return `${pct(share)} ±${(100 * give).toFixed(0)} (${median(cases.map(({ width }) => width)).toFixed(2)})`;
}

function lineOf(policy: Policy, world?: PotWorld): string {
  const mine = of(policy, world);
  const harm = (p: Policy) => sum(of(p, world).map((one) => one.harm));
  const { inTime, missed } = foundBy(policy, world);
  const avoidable = harm('nothing') - harm('everything');
  return [
    policy.padEnd(14),
    `dips ${pct(sum(mine.map(({ dips }) => dips)) / sum(mine.map(({ possible }) => possible)))}`,
    `in time ${pct(inTime)} missed ${pct(missed, 1)}`,
    `harm ${(harm(policy) / harm('everything')).toFixed(3)} avoided ${pct((harm('nothing') - harm(policy)) / avoidable)}`,
  ].join(' · ');
}

for (const world of [undefined, ...WORLDS]) {
  console.log(`\n${world ?? 'all worlds'}, ${of('asked', world).length} collections`);
  for (const policy of LIVED) console.log(`  ${lineOf(policy, world)}`);
  const whys: Record<string, number> = {};
  for (const one of of('asked', world))
    for (const [why, n] of Object.entries(one.whys)) whys[why] = (whys[why] ?? 0) + n;
  const all = sum(Object.values(whys));
  console.log(
    `  asked for: ${Object.entries(whys)
      .sort()
      .map(([why, n]) => `${why} ${pct(n / all, 1).trim()}`)
      .join(', ')}`,
  );
  for (const what of ['ppm', 'ph'] as const) {
    const every = of('everything', world).flatMap((one) => one.cases.filter((c) => c.what === what && !c.troubled));
    console.log(`  ${what} ranges where everything is read, no trouble: ${held(every)}`);
    const cases = of('asked', world).flatMap((one) => one.cases.filter((c) => c.what === what));
    const slice = (is: (c: Case) => boolean) => held(cases.filter(is));
    console.log(
      `  ${what} ranges under what is asked: read ${slice((c) => c.asRead && !c.troubled)} · left ${slice((c) => !c.asRead && !c.troubled)} · in trouble ${slice((c) => c.troubled)}`,
    );
  }
}
const late = new Map<string, number>();
for (const { trouble, first, at } of foundAt('asked')) {
  const by = `${trouble} ${at === undefined ? 'never' : Math.max(-1, at - first)}`;
  late.set(by, (late.get(by) ?? 0) + 1);
}
console.log(
  `\nrounds later than by reading everything: ${[...late]
    .sort()
    .map(([by, n]) => `${by}: ${n}`)
    .join(', ')}`,
);
console.log('\nby trouble, what is asked: in time, missed, of');
for (const trouble of TROUBLES) {
  const { inTime, missed, of: n } = foundBy('asked', undefined, trouble);
  console.log(`  ${trouble.padEnd(12)} ${pct(inTime)} ${pct(missed, 1)} ${n}`);
}
