import { fitSoak, restCarbon, standingAtPh, type SoakResult, type SoakTest } from '../../core/drift/index.ts';
import { PORES_PER_RESERVOIR } from '../../core/reservoir/index.ts';
import { memo } from './memo.ts';
import { mixOf, waterMix, type Mix } from './mixes.ts';
import type { SoakLogged } from './soak-tests.ts';

/** A test worked out; undefined where nobody knows what it was filled with. */
export type FittedSoak = { readonly test: SoakTest | undefined; readonly result: SoakResult };
/** A test with what it says. */
export type SoakFound = FittedSoak & {
  readonly soak: SoakLogged;
  /** The clay dried out since: its quick part came back. */
  readonly driedSince: boolean;
};

/** Carbon of a water that stood open for a day is at rest with the air; of fresh water nobody knows it well (1 SD, log). House rule. */
const CARBON_SD = { aged: 0.2, fresh: 0.8, feed: 0.35 };
/** What was collected is as long in the pot as an hour's soak, however long it then stood open. */
const HOUR = 60;
const NOT_KNOWN: SoakResult = {
  ok: false,
  why: 'tooFew',
  message:
    'What it was filled with is not known, so its rise stands as it was read, and how much alkali that took cannot be told.',
};

/** A soak test worked out; each fit draws some thousand courses. Its readings by a pen off by nobody knows how much say nothing. */
export const fittedSoak = memo((soak: SoakLogged): FittedSoak => {
  const test = testOf(soak);
  return { test, result: test ? fitSoak(test) : NOT_KNOWN };
});

/** Whether a clay was noted dry after an instant. */
export const driedAfter = (at: string, dried: readonly string[]): boolean => dried.some((noted) => noted > at);

const carbonSdOf = ({ soakKind, aged }: SoakLogged['started']) =>
  soakKind === 'feed' ? CARBON_SD.feed : aged ? CARBON_SD.aged : CARBON_SD.fresh;

/** Inorganic carbon it was filled with. Water that stood open has the carbon of the air at its own pH. */
function carbonOf(of: object, { curve, standing }: Mix, aged: boolean, firstPh: number | undefined): number {
  if ('row' in of) return standing.carbonMmolL;
  return aged && firstPh !== undefined ? restCarbon(curve, firstPh) : curve.carbonMmolL;
}

/** Readings that count; a test that was opened to the air counts by those, and by its first. */
function soundReads(reads: SoakLogged['reads']) {
  const told = reads.filter((r) => !r.tainted && r.ph !== undefined);
  const opened = told.some((r) => r.opened);
  const sound = told.filter((r) => !opened || r.opened || r.minutes === 0);
  return { opened, sound, first: sound.find((r) => r.minutes === 0 && !r.opened) };
}

function testOf({ started, fill: of, reads, before, ended }: SoakLogged): SoakTest | undefined {
  if (!of) return undefined;
  const fill = 'row' in of ? mixOf(of) : waterMix(of);
  if (!fill) return undefined;
  const { opened, sound, first } = soundReads(reads);
  const { curve } = fill;
  const filled = { ...fill.standing, carbonMmolL: carbonOf(of, fill, started.aged, first?.ph) };
  const carried = before && mixOf(before.batch);
  return {
    kind: opened ? 'opened' : started.soakKind,
    fill: { curve, standing: standingAtPh(curve, filled, first?.ph), ml: started.fillMl },
    carried: carried && { curve: carried.curve, standing: carried.standing, ml: PORES_PER_RESERVOIR * before.pouredMl },
    covered: started.covered,
    carbonSd: carbonSdOf(started),
    readings: sound.map((r) => ({ minutes: r.opened ? HOUR : r.minutes, ph: r.ph!, phSd: r.phSd, ecUsCm: r.ecUsCm })),
    leaked: ended?.leakedMl ? Math.min(0.9, ended.leakedMl / started.fillMl) : 0,
  };
}
