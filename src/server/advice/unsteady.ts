import type { UnsteadyView } from '../../contract/advice.ts';
import { unsteadyCheck, type MixFacts } from '../../core/judgement/index.ts';
import { isGood } from '../../core/quantity/index.ts';
import { daysBetween } from '../../core/regimen/index.ts';
import { potState, visitFacts, type BatchEntry, type Collection, type PotState } from '../collection/index.ts';

/** Mixes looked back on. */
const MIXES = 5;

/** The check of a pot that reads up and down; undefined where there is no such pot. */
export function unsteadyViewOf(collection: Collection, potId: string, today: string): UnsteadyView | undefined {
  const state = potState(collection, potId, today);
  if (!state) return undefined;
  const { pot } = state;
  const steps = unsteadyCheck(
    { visits: visitFacts(state), reservoirMl: pot.reservoirMl },
    mixFacts(collection, state, today),
  );
  return { today, code: pot.code, name: pot.name || pot.plant, steps };
}

function mixFacts({ meters }: Collection, { fills }: PotState, today: string): MixFacts {
  const recent = fills.slice(-MIXES);
  const batches = [
    ...new Map(recent.flatMap(({ batch }): [string, BatchEntry][] => (batch ? [[batch.row.id, batch]] : []))).values(),
  ];
  const pens = [...new Set(recent.flatMap((f) => (f.cameOutEcUsCm === undefined ? [] : (f.payload.ppmMeterId ?? []))))];
  const pen = meters.get(pens.at(-1) ?? '');
  const good =
    pen &&
    pen.checks
      .filter(
        (check) =>
          check.adjusted || isGood(check, { quantity: pen.quantity, scale: pen.scale, resolution: pen.resolution }),
      )
      .at(-1);
  return {
    mixes: batches.length,
    withoutBase: batches.filter(({ steps }) => !steps.base).length,
    readAfterAcid: batches.filter(
      ({ steps }) => steps.lastStrength !== null && steps.firstAcid !== null && steps.lastStrength > steps.firstAcid,
    ).length,
    pens: pens.length,
    ...(good ? { penGoodDays: Math.max(0, daysBetween(good.at.slice(0, 10), today)) } : {}),
  };
}
