import type { AdviceRoom, AdviceView, PotAdvice, RulesView } from '../../contract/advice.ts';
import { judge as judgeAnew, PRIORITIES, RULES, withStrengths, type Advice } from '../../core/judgement/index.ts';
import { ppmFromEc } from '../../core/quantity/index.ts';
import { growersScale, memo, potState, potStates, type Collection, type PotState } from '../collection/index.ts';
import type { AdviceAnswer } from '../database/entities.ts';
import { factsOf } from './facts-of.ts';
import { penAdvice } from './pens.ts';

const judge = memo(judgeAnew);

/** What judgement says of a pot. */
export const judgedPot = (collection: Collection, s: PotState, today: string) => judge(factsOf(collection, s, today));

/** What one would do next with a pot, what was answered before, and what it has been given. */
export function potAdviceView(collection: Collection, potId: string, today: string): PotAdvice | undefined {
  const state = potState(collection, potId, today);
  if (!state) return undefined;
  const scale = growersScale(collection.meters);
  const facts = factsOf(collection, state, today);
  const answers = collection.answers.get(potId) ?? [];
  const open = state.pot.retiredOn === null ? openOf(judge(facts), answers) : [];
  const words = new Map(RULES.map((rule) => [rule.id, rule.act]));
  return {
    advices: open.map((advice) => toView(advice, scale)),
    answered: answers.slice(0, 6).map((a) => ({
      eventId: a.id,
      rule: a.rule,
      answer: a.answer,
      on: a.onDate,
      title: words.get(a.rule) ?? a.rule,
    })),
    given: facts.given.map(({ month, mg, stillL, cost }) => ({
      month,
      mg: { N: mg.N ?? 0, P: mg.P ?? 0, K: mg.K ?? 0, Ca: mg.Ca ?? 0, Mg: mg.Mg ?? 0, Si: mg.Si ?? 0 },
      stillL,
      cost: cost ?? null,
    })),
    usesN: usesNitrogen(state),
  };
}

/** Every pot that asks for something, most pressing first. */
export const adviceView = memo((collection: Collection, today: string): AdviceRoom => {
  const scale = growersScale(collection.meters);
  const pots = potStates(collection, today).flatMap((s) => {
    const advices = openOf(judgedPot(collection, s, today), collection.answers.get(s.pot.id) ?? []);
    if (advices.length === 0) return [];
    const rank = RULES.findIndex((rule) => rule.id === advices[0]!.rule) - advices[0]!.sure;
    return [
      {
        rank,
        view: {
          id: s.pot.id,
          code: s.pot.code,
          name: s.pot.name || s.pot.plant,
          place: s.place.name,
          advices: advices.map((a) => toView(a, scale)),
        },
      },
    ];
  });
  return {
    today,
    pens: penAdvice(collection, today),
    pots: pots.sort((a, b) => a.rank - b.rank).map(({ view }) => view),
  };
});

/** The advice a rule gives now; undefined where it does not any more. */
export function adviceNow(
  collection: Collection,
  potId: string,
  rule: string,
  today: string,
): { advice: Advice; state: PotState } | undefined {
  const state = potState(collection, potId, today);
  const advice = state && judge(factsOf(collection, state, today)).find((a) => a.rule === rule);
  return advice && { advice, state };
}

/** Every rule in plain words, and the order in which they give way. */
export function readRules(): RulesView {
  return {
    priorities: [...PRIORITIES],
    rules: RULES.map(({ id, matter, seen, think, act, source, sourceWords, danger = false, silences = [] }) => ({
      id,
      matter,
      seen,
      think,
      act,
      source: sourceWords ? `${source}: ${sourceWords}` : source,
      danger,
      silences: [...silences],
    })),
  };
}

/** Answered ones are not asked again until something new speaks for them. */
function openOf(advices: readonly Advice[], answers: readonly AdviceAnswer[]): Advice[] {
  return advices.filter(
    (advice) => !answers.some((answer) => answer.rule === advice.rule && answer.evidence === advice.evidenceKey),
  );
}

function toView(
  { rule, matter, title, because, then, act, evidence, figures = [], figuresAreEc, evidenceKey, sure }: Advice,
  scale: number,
): AdviceView {
  const shown = (words: string) => withStrengths(words, (ec) => String(Math.round(ppmFromEc(ec, scale))));
  const readings = evidence.length === 1 ? '1 note' : `${evidence.length} notes`;
  return {
    rule,
    matter,
    title,
    because: shown(because),
    then: shown(then),
    doWords:
      act.kind === 'plan' || act.kind === 'hold'
        ? act.words
        : act.kind === 'plainOnly'
          ? 'On plain still water from today'
          : 'Back to what it followed before',
    act: act.kind,
    sureWords: `${sureWords(sure)}, ${readings}`,
    evidence: evidence.map((e) => ({
      on: e.on,
      words: shown(e.words),
      eventId: e.eventId ?? null,
      tainted: e.weight < 1,
    })),
    figures: figures.map(({ label, value }) => ({
      label,
      value: figuresAreEc ? Math.round(ppmFromEc(value, scale)) : value,
    })),
    evidenceKey,
  };
}

const sureWords = (sure: number) =>
  sure >= 0.95 ? 'sure' : sure >= 0.7 ? 'fairly sure' : sure >= 0.45 ? 'a fair guess' : 'a guess';

/** Nitrogen used in a month of growth for each litre of reservoir, mg: from light orchids to hungry crops. House rule of thumb; said to be one. */
const NITROGEN_PER_L: Readonly<Record<string, readonly [number, number]>> = {
  orchid: [40, 110],
  houseplant: [60, 180],
  crop: [250, 700],
};

function usesNitrogen(s: PotState): PotAdvice['usesN'] {
  const per = NITROGEN_PER_L[s.pot.grows];
  const litres = s.pot.reservoirMl / 1000;
  return per ? { low: Math.round(per[0] * litres), high: Math.round(per[1] * litres) } : null;
}
