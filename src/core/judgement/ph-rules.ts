import type { PotFacts } from './facts.ts';
import { phs, seen, sureOf, weightOf } from './measures.ts';
import type { Finding, Rule } from './rule.ts';
import { PH_DRIFTING } from './thresholds.ts';

/* The reservoir's pH at the change: pushed up by clay and roots, or poured too low. */

/**
 * A change of the pour on a reading of the last change, one step, then wait: made on forecasts it ran away in trials. Where the last change went unread,
 * the reading comes first.
 */
const onReading =
  (find: (facts: PotFacts) => Finding | undefined) =>
  (facts: PotFacts): Finding | undefined => {
    const found = find(facts);
    if (!found || facts.visits.at(-1)?.cameOutPh !== undefined) return found;
    return {
      ...found,
      title: 'Read its pH before its pour is changed',
      then: 'The last change went unread. The pour is changed on a reading, by one step, and then it is waited.',
      act: { kind: 'plan', words: 'Read its pH at the change' },
    };
  };

export const PH_RULES: readonly Rule[] = [
  {
    id: 'dropsOut',
    matter: 'ph',
    seen: 'a crust with the reservoir over pH 7.5',
    think: 'feed drops out and is lost',
    act: 'pour lower, weaker, change sooner',
    source: 'common practice',
    silences: ['drift'],
    find: onReading((f) => {
      const high75 = phs(f)
        .slice(-3)
        .filter((p) => p.ph > 7.5);
      const crusts = seen(f, 'crust', ['trace', 'some', 'ring']);
      if (weightOf(high75.map((p) => p.evidence)) < 2 || crusts.length === 0) return undefined;
      const evidence = [...high75.map((p) => p.evidence), crusts.at(-1)!.evidence];
      return {
        title: 'Pour lower: feed drops out',
        because: `It stood at pH ${high75.at(-1)!.ph.toFixed(1)} with a crust.`,
        then: 'Lower, weaker and sooner; the Drift room says what is lost and where to pour.',
        act: { kind: 'plan', words: 'Pour it lower, see Drift' },
        evidence,
        sure: sureOf(evidence),
      };
    }),
  },
  {
    id: 'drift',
    matter: 'ph',
    seen: 'reservoir over pH 7 at the change, twice',
    think: 'drift: clay or roots push',
    act: 'pour lower, change sooner',
    source: 'common practice',
    find: onReading((f) => {
      const over = phs(f)
        .slice(-3)
        .filter((p) => p.ph > PH_DRIFTING);
      if (weightOf(over.map((p) => p.evidence)) < 2) return undefined;
      const evidence = over.map((p) => p.evidence);
      return {
        title: 'Pour it lower, or change sooner',
        because: `It came out at pH ${over.map((p) => p.ph.toFixed(1)).join(' and ')}.`,
        then: 'The Drift room computes which pour keeps it inside longest.',
        act: { kind: 'plan', words: 'Pour it lower, see Drift' },
        evidence,
        sure: sureOf(evidence),
        figures: phs(f)
          .slice(-4)
          .map((p) => ({ label: p.evidence.on, value: p.ph })),
      };
    }),
  },
  {
    id: 'tooLow',
    matter: 'ph',
    seen: 'reservoir under pH 5 at the change, twice',
    think: 'the mix is poured too low for this pot, or the water holds nothing against it',
    act: 'pour higher; a trace of buffer',
    source: 'ours',
    find: onReading((f) => {
      const under = phs(f)
        .slice(-3)
        .filter((p) => p.ph < 5);
      if (weightOf(under.map((p) => p.evidence)) < 2) return undefined;
      const evidence = under.map((p) => p.evidence);
      return {
        title: 'Pour it higher',
        because: `It came out at pH ${under.map((p) => p.ph.toFixed(1)).join(' and ')}.`,
        then: 'Under 5 roots and clay suffer, and nothing lifts it here.',
        act: { kind: 'plan', words: 'Pour it at 6 or over' },
        evidence,
        sure: sureOf(evidence),
      };
    }),
  },
];
