import { lately, ratios, seen, sureOf, weightOf } from './measures.ts';
import type { PotFacts } from './facts.ts';
import type { Rule } from './rule.ts';
import { dryBeforeItsDay, GATHERING, RAN_DRY, saltsRise } from './thresholds.ts';

/* Salts, water and the clay's own giving. Thresholds are of the handbook where it has one, else house rules said to be ours. */

/** Past so many ppm at the top of the filled column a plant stalled (one pot seen). */
const TOP_OVERLOADED_EC = 600;
/** An unleached clay gives a hundred ppm and more over the feed. */
const CLAY_GIVES_EC = 180;
const UNTOUCHED = 0.8;
const percent = (share: number) => `${Math.round(share * 100)} %`;

/** What clay gives is there from the first; what came only lately is gathering. */
function sinceTheFirst(facts: PotFacts): boolean {
  const earlier = ratios(facts)
    .slice(0, -3)
    .map((r) => (r.visit.cameOutEcUsCm ?? 0) - (r.visit.pouredEcUsCm ?? 0))
    .sort((a, b) => a - b);
  return earlier.length === 0 || earlier[Math.floor(earlier.length / 2)]! > 0.8 * CLAY_GIVES_EC;
}

const high = (facts: PotFacts, times: number, of = 3) =>
  ratios(facts)
    .slice(-of)
    .filter((r) => r.ratio >= times);

export const SALT_RULES: readonly Rule[] = [
  {
    id: 'dry',
    matter: 'danger',
    seen: 'the reservoir found empty, or forecast to be before its day',
    think: 'roots dry out; dried clay pushes pH afresh',
    act: 'come to it sooner, or top it up in a hurry: it beats a dry pot',
    source: 'common practice',
    danger: true,
    find: (f) => {
      const last = f.visits.at(-1);
      const empty = last?.leftMl !== undefined && last.leftMl <= RAN_DRY * f.reservoirMl && last.days > 1;
      const early = f.daysUntilDry !== undefined && dryBeforeItsDay(f.daysUntilDry, daysTo(f));
      if (!empty && !early) return undefined;
      return {
        title: empty ? 'It ran dry' : 'Dry before its day',
        because: empty
          ? `Nothing was left at its last visit, after ${last.days} days.`
          : `It is down to its last ${inDays(f.daysUntilDry!)}, and due ${inDays(daysTo(f))}.`,
        then: empty
          ? `Every ${Math.max(2, last.days - 2)} days while it drinks like this, or a larger reservoir.`
          : 'A top-up with plain water carries it over; not as a habit.',
        act: {
          kind: 'plan',
          words: empty ? 'Look at its level half way, top up if low' : 'Top up, or bring its round forward',
        },
        evidence: empty
          ? [
              {
                on: last.on,
                eventId: last.eventId,
                words: `${Math.round(last.leftMl)} mL left after ${last.days} days`,
                weight: 1,
              },
            ]
          : [{ on: f.today, words: 'its own course since it was filled', weight: 1 }],
        sure: empty ? 0.9 : 0.7,
      };
    },
  },
  {
    id: 'overloaded',
    matter: 'salt',
    seen: 'over 300 ppm at the top of the filled column (one pot seen), or run-off far above poured and the plant stalled',
    think: 'overloaded by its own clay',
    act: 'salt check, in-pot leach, or repot into leached clay',
    source: 'common practice',
    silences: ['salts', 'clayGives', 'crust', 'hungry', 'takesAll'],
    find: (f) => {
      const checked = f.saltCheck !== undefined && f.saltCheck.topEcUsCm > TOP_OVERLOADED_EC;
      const far = high(f, 2.2);
      const stalled =
        f.stage !== 'rest' &&
        lately(f, 'growth', ['yes']) === 0 &&
        f.looks.length >= 2 &&
        lately(f, 'leaves', ['floppy', 'wrinkled', 'marks']) > 0;
      if (!checked && !(far.length >= 2 && (stalled || f.flush?.notEnough))) return undefined;
      return {
        title: 'Leach it, or repot it',
        because: checked
          ? `The top of its filled column read {${Math.round(f.saltCheck.topEcUsCm)}}.`
          : `It came out ${far.at(-1)!.ratio.toFixed(1)} times the pour, and no flush brings it down.`,
        then: 'A flush only touches the top for moments. Check the salt first, then hold it in still water and drain, or repot into leached clay.',
        act: { kind: 'plan', words: 'Salt check: tape the holes, read the top and the hole; then leach or repot' },
        evidence: checked
          ? [
              {
                on: f.saltCheck.on,
                words: `{${Math.round(f.saltCheck.topEcUsCm)}} at the top of the column`,
                weight: 2,
              },
            ]
          : far.map((r) => r.evidence),
        sure: 0.75,
        figures: far.map((r) => ({ label: r.evidence.on, value: r.ratio })),
      };
    },
  },
  {
    id: 'clayGives',
    matter: 'salt',
    seen: 'an old reservoir some hundred ppm over the pour in clay that was never leached, or is new',
    think: 'the clay gives its own minerals',
    act: 'in-pot leach; a flush does not leach',
    source: 'common practice',
    silences: ['salts', 'hungry'],
    find: (f) => {
      const fresh = f.unleached === true || (f.repottedOn !== undefined && daysSince(f, f.repottedOn) < 120);
      if (!fresh || f.medium === 'water' || !sinceTheFirst(f)) return undefined;
      const over = ratios(f)
        .slice(-3)
        .filter((r) => r.visit.cameOutEcUsCm! - r.visit.pouredEcUsCm! > CLAY_GIVES_EC);
      if (weightOf(over.map((r) => r.evidence)) < 2) return undefined;
      const gap = Math.round(
        over.reduce((sum, r) => sum + r.visit.cameOutEcUsCm! - r.visit.pouredEcUsCm!, 0) / over.length,
      );
      return {
        title: 'Leach its clay in the pot',
        because: `It comes out {${gap}} over what was poured, and its clay was ${f.unleached ? 'never leached' : 'new lately'}.`,
        then: 'Two or three holds in still water take most of it; weaker feed meanwhile.',
        act: { kind: 'plan', words: 'In-pot leach: holes taped, still water, hold, drain' },
        evidence: over.map((r) => r.evidence),
        sure: sureOf(over.map((r) => r.evidence)),
        figures: over.map((r) => ({ label: r.evidence.on, value: r.visit.cameOutEcUsCm! - r.visit.pouredEcUsCm! })),
        figuresAreEc: true,
      };
    },
  },
  {
    id: 'crust',
    matter: 'salt',
    seen: 'white, hard and rinsing off, at the holes or the top, that larger flushes did not take',
    think: 'salts (mould is fuzzy)',
    act: 'plain still water only until gone; then weaker, or more flushing',
    source: 'common practice',
    silences: ['salts', 'hungry', 'takesAll'],
    find: (f) => {
      if (f.plainOnly) return undefined;
      const rings = seen(f, 'crust', ['ring']);
      const crusts = seen(f, 'crust', ['some', 'ring']);
      const flushed = f.visits.slice(-2).every((v) => v.flushMl >= 2 * f.reservoirMl);
      if (rings.length < 2 && !(crusts.length >= 3 && flushed && high(f, GATHERING, 2).length === 2)) return undefined;
      return {
        title: 'Plain still water only, for now',
        because: `Crust at ${crusts.length} looks${rings.length > 0 ? ', now a ring' : ''}, with full flushes.`,
        then: 'Until it is gone, then weaker. Feed on a crust adds to it.',
        act: { kind: 'plainOnly' },
        evidence: [...crusts.map((c) => c.evidence), ...high(f, GATHERING, 2).map((r) => r.evidence)],
        sure: sureOf(crusts.map((c) => c.evidence)),
      };
    },
  },
  {
    id: 'backToFeed',
    matter: 'feed',
    seen: 'on plain water, and no crust at the last two looks',
    think: 'the salts are gone',
    act: 'feed again, weaker, or with more flushing than before',
    source: 'common practice',
    find: (f) => {
      const last = f.looks.slice(-2);
      if (!f.plainOnly || last.length < 2 || last.some((l) => (l.cues['crust'] ?? 'none') !== 'none')) return undefined;
      return {
        title: 'Feed it again',
        because: 'Two looks in a row without a crust.',
        then: 'Back to what it followed before; flush as its salts ask for.',
        act: { kind: 'backToFeed' },
        evidence: last.map((l) => ({ on: l.on, eventId: l.eventId, words: 'no crust', weight: 1 })),
        sure: 0.7,
      };
    },
  },
  {
    id: 'salts',
    matter: 'salt',
    seen: 'an old reservoir well above what was poured, twice, or a gap that grows over three rounds',
    think: 'salts gathering',
    act: 'larger flush; finish with still water; check after',
    source: 'model',
    sourceWords: 'what stands in the pot and what a flush leaves of it; the threshold is ours',
    silences: ['hungry', 'takesAll'],
    find: (f) => {
      if (f.plainOnly) return undefined;
      const twice = high(f, GATHERING, 2);
      const rises = saltsRise(ratios(f).map((r) => r.ratio));
      if (weightOf(twice.map((r) => r.evidence)) < 2 && !rises) return undefined;
      const last = ratios(f).slice(-3);
      const { flush } = f;
      const more =
        flush &&
        flush.latelyMl !== undefined &&
        flush.latelyAfterEcUsCm !== undefined &&
        flush.ml > flush.latelyMl + 50;
      return {
        title: more ? `Flush with ${volume(flush.ml)}, not ${volume(flush.latelyMl)}` : 'Flush more, and look again',
        because: rises
          ? 'The gap between what was poured and the old reservoir grew over the last three rounds.'
          : `It came out ${twice.at(-1)!.ratio.toFixed(1)} times what was poured.`,
        then: flush
          ? `I expect {${Math.round(flush.afterEcUsCm)}} after this${more ? `; ${volume(flush.latelyMl)} would leave about {${Math.round(flush.latelyAfterEcUsCm)}}` : ''}.`
          : 'Finish with still water, and read it after.',
        act: {
          kind: 'plan',
          words: flush
            ? `Flush with ${volume(flush.ml)}, finish with still water, read it after`
            : 'Flush well, finish with still water, read it after',
        },
        evidence: last.map((r) => r.evidence),
        sure: sureOf(last.map((r) => r.evidence)),
        figures: last.map((r) => ({ label: r.evidence.on, value: r.visit.cameOutEcUsCm! - r.visit.pouredEcUsCm! })),
        figuresAreEc: true,
      };
    },
  },
  {
    id: 'unsteady',
    matter: 'feed',
    seen: 'the strength that comes out swings up and down without reason',
    think: 'pH out of range, water lost, old solution, base not deducted, strength read after acid, pen off',
    act: 'the guided check, in that order',
    source: 'common practice',
    find: (f) => {
      const last = ratios(f).slice(-5);
      if (last.length < 5) return undefined;
      const steps = last.slice(1).map((r, i) => r.ratio - last[i]!.ratio);
      const turns = steps.slice(1).every((step, i) => step * steps[i]! < 0);
      if (!turns || Math.min(...steps.map(Math.abs)) < 0.3) return undefined;
      return {
        title: 'Check why it swings',
        because: 'What comes out goes up and down by a third of the pour and more, round after round.',
        then: 'In this order: its pH, water lost, days stood, base deducted, strength read before the acid, the pen.',
        act: { kind: 'plan', words: 'Guided check: pH, water lost, age, base, reading before acid, pen' },
        evidence: last.map((r) => r.evidence),
        sure: 0.5,
        figures: last.map((r) => ({ label: r.evidence.on, value: r.ratio })),
      };
    },
  },
  {
    id: 'notDrinking',
    matter: 'roots',
    seen: 'the level hardly touched for weeks',
    think: 'roots not drinking',
    act: 'lower strength, look at the roots',
    source: 'common practice',
    silences: ['takesAll', 'hungry'],
    find: (f) => {
      const full = f.visits
        .slice(-3)
        .filter((v) => v.days >= 6 && v.leftMl !== undefined && v.leftMl > UNTOUCHED * f.fillMl);
      if (full.length < 2 || f.medium === 'water') return undefined;
      const evidence = full.map((v) => ({
        on: v.on,
        eventId: v.eventId,
        words: `${percent(v.leftMl! / f.fillMl)} left after ${v.days} days`,
        weight: 1,
      }));
      return {
        title: 'Look at its roots',
        because: `${percent(full.at(-1)!.leftMl! / f.fillMl)} of the fill still stood there after ${full.at(-1)!.days} days.`,
        then:
          f.stage === 'rest'
            ? 'At rest that may be all there is to it; then weaker, and less often.'
            : 'Weaker feed until it drinks; soft dark roots are trimmed.',
        act: { kind: 'plan', words: 'Lift it and look at the roots' },
        evidence,
        sure: f.stage === 'rest' ? 0.4 : 0.65,
      };
    },
  },
];

const volume = (ml: number) => (ml >= 1000 ? `${(ml / 1000).toFixed(1)} L` : `${Math.round(ml / 10) * 10} mL`);
const day = (on: string) => Date.parse(`${on}T00:00:00Z`) / 86_400_000;
const daysTo = (f: PotFacts) => day(f.dueOn) - day(f.today);
const daysSince = (f: PotFacts, on: string) => day(f.today) - day(on);
const inDays = (days: number) => (days <= 0 ? 'today' : days === 1 ? 'tomorrow' : `in ${days} days`);
