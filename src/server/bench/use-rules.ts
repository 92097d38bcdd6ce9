import type { EntityManager } from 'typeorm';
import { z } from 'zod';
import type { UseRuleValues, UseRuleView } from '../../contract/recipes.ts';
import { ecFromPpm, ppmFromEc } from '../../core/quantity/index.ts';
import { USE_RULES, USES, type Use, type UseRule } from '../../core/strength/index.ts';
import type { UseRuleRow } from '../database/entities.ts';
import { readJson } from '../database/read-json.ts';
import { rowsFor } from '../collection/index.ts';

/** The rule of a use as it holds now: the newest that was set, or as the app came. */
export function ruleOf(manager: EntityManager, use: Use): UseRule {
  const [row] = rowsFor(manager)<UseRuleRow>(
    'SELECT * FROM use_rule WHERE "use" = ? ORDER BY since DESC, rowid DESC LIMIT 1',
    use,
  );
  return readRule(row?.rule, use);
}

/** A kept rule; one that cannot be understood is as the app came. */
function readRule(text: string | undefined, use: Use): UseRule {
  const figure = z.number();
  const shape = z.looseObject({
    netEcUsCm: figure,
    band: z.object({ in: z.enum(['share', 'ec']), below: figure, above: figure, hard: figure }),
    phLow: figure,
    phHigh: figure,
  });
  return (readJson(shape, text) as UseRule | undefined) ?? USE_RULES[use];
}

/** Every use with its rule and those that held before, on the grower's pen. */
export function readRules(manager: EntityManager, scale: number): UseRuleView[] {
  const rows = rowsFor(manager)<UseRuleRow>('SELECT * FROM use_rule ORDER BY since DESC, rowid DESC');
  return USES.map((use) => {
    const versions = [
      ...rows.filter((row) => row.use === use).map((row) => ({ since: row.since, rule: readRule(row.rule, use) })),
      { since: null, rule: USE_RULES[use] },
    ];
    const [now, ...earlier] = versions.map(({ since, rule }) => ({ since, values: toValues(rule, scale) }));
    return { use, values: now!.values, staying: versions[0]!.rule.staying, since: now!.since, earlier };
  });
}

function toValues(rule: UseRule, scale: number): UseRuleValues {
  const { band } = rule;
  const shown = (figure: number) =>
    band.in === 'share' ? Math.round(figure * 1000) / 10 : Math.round(ppmFromEc(figure, scale));
  return {
    netPpm: Math.round(ppmFromEc(rule.netEcUsCm, scale)),
    bandIn: band.in === 'share' ? 'percent' : 'ppm',
    below: shown(band.below),
    above: shown(band.above),
    hard: shown(band.hard),
    phLow: rule.phLow,
    phHigh: rule.phHigh,
    holdMinutes: rule.holdMinutes,
  };
}

/** A rule as the grower typed it, in the core's terms. */
export function toRule(values: UseRuleValues, before: UseRule, scale: number): UseRule {
  const kept = (figure: number) => (values.bandIn === 'percent' ? figure / 100 : ecFromPpm(figure, scale));
  return {
    netEcUsCm: values.netPpm > 0 ? ecFromPpm(values.netPpm, scale) : 0,
    band: {
      in: values.bandIn === 'percent' ? 'share' : 'ec',
      below: kept(values.below),
      above: kept(values.above),
      hard: kept(values.hard),
    },
    phLow: values.phLow,
    phHigh: values.phHigh,
    holdMinutes: values.holdMinutes,
    staying: before.staying,
  };
}
