import type { TrialChange, TrialMeasure } from '../../../contract/trials.ts';
import { withChange, type PotFigure, type RegimenChange } from '../../../core/trial/index.ts';
import type { Regimen } from '../../../core/regimen/index.ts';
import { readParams, type Collection, type PastVisit, type PotEntry, type PotPast } from '../../collection/index.ts';

/** A pot's figures of what a trial looks at, in the core's units. */
export function trialFigures({ visits, grown }: PotPast, measure: TrialMeasure, fillMl: number): readonly PotFigure[] {
  if (measure === 'growth') return grown;
  return visits.flatMap((visit): PotFigure[] => {
    const value = VALUE[measure](visit, fillMl);
    return value === undefined || visit.since === undefined ? [] : [{ on: visit.on, since: visit.since, value }];
  });
}

const VALUE: Readonly<
  Record<Exclude<TrialMeasure, 'growth'>, (visit: PastVisit, fillMl: number) => number | undefined>
> = {
  strength: ({ oldEcUsCm, gapEcUsCm }) => {
    if (oldEcUsCm === undefined || gapEcUsCm === undefined) return undefined;
    const poured = oldEcUsCm - gapEcUsCm;
    return oldEcUsCm > 0 && poured > 0 ? Math.log(oldEcUsCm / poured) : undefined;
  },
  ph: ({ oldPh }) => oldPh,
  left: ({ leftMl }, fillMl) => (leftMl === undefined ? undefined : leftMl / fillMl),
  dry: ({ dry }) => (dry === undefined ? undefined : dry ? 1 : 0),
};

/** The change as the core knows it; undefined where no regimen holds it. */
export function regimenChange(
  change: TrialChange,
  { regimens }: Pick<Collection, 'regimens'>,
): RegimenChange | undefined {
  if (change.kind === 'treatment' || change.kind === 'own') return undefined;
  if (change.kind !== 'regimen') return change;
  const row = regimens.get(change.regimenId);
  return row && { kind: 'regimen', to: readParams(row) };
}

/** What a pot follows on a day. */
export const followsOn = ({ follows }: Pick<PotEntry, 'follows'>, day: string) =>
  follows.findLast(({ fromDate }) => fromDate <= day);

/** What the two arms of a pot would follow: with the change, and as it was before a day. Undefined where the trial changes no regimen. */
export function armsOf(
  entry: PotEntry,
  before: string,
  change: TrialChange,
  collection: Pick<Collection, 'regimens'>,
): [Regimen, Regimen] | undefined {
  const changed = regimenChange(change, collection);
  const spell = entry.follows.findLast(({ fromDate }) => fromDate < before) ?? entry.follows[0];
  const row = spell && collection.regimens.get(spell.regimenId);
  if (!changed || !row) return undefined;
  const own = readParams(row);
  return [withChange(own, changed), own];
}
