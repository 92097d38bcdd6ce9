import type { CareKind, CarePayload } from '../contract/care.ts';
import { NOT_MEASURED } from '../core/quantity/index.ts';
import { daysBetween, plusDays, type LocalDate } from '../core/regimen/index.ts';
import { seededRandom, simEc, simPh, soakSim, type SimPot, type SimSolution } from '../core/simulation/index.ts';
import { appendCareEvent } from '../server/database/care-log.ts';
import { changeRecords } from '../server/database/records.ts';
import { natureOn, PEAT_DAYS_AGO, WET_DAYS_AGO } from './pot-nature.ts';
import { penReading } from './pen-reading.ts';
import { PEN_SCALE, PENS, phPen, WATERS } from './truth.ts';
import { uuidFrom, type LivePot, type World } from './world.ts';

/** Soak tests of the library: of which pot, not before so many days ago, with what, read at which minutes. */
const SOAKS: readonly {
  code: string;
  notBefore: number;
  kind: 'feed' | 'still';
  minutes: readonly number[];
  leakedMl: number | null;
}[] = [
  { code: 'L-03', notBefore: 75, kind: 'still', minutes: [0, 30], leakedMl: null },
  { code: 'P-04', notBefore: 110, kind: 'feed', minutes: [0, 10, 30, 60], leakedMl: 10 },
  { code: 'R-03', notBefore: 45, kind: 'feed', minutes: [0, 10, 30, 60], leakedMl: null },
  { code: 'L-03', notBefore: 43, kind: 'feed', minutes: [0, 15, 30, 60], leakedMl: null },
  { code: 'R-02', notBefore: 33, kind: 'feed', minutes: [0, 10, 30, 60], leakedMl: null },
  { code: 'P-04', notBefore: 15, kind: 'feed', minutes: [0, 10, 30, 60], leakedMl: null },
];
/** A source of its own: what else the demo holds stays as it was. */
const random = (n: number) => seededRandom(5501 + n);

/** A soak test on the day of a round, before the pot is filled: taped, filled with the day's mix or still water, read by the pens. */
export async function writeSoaks(
  world: World,
  pot: LivePot,
  day: number,
  date: LocalDate,
  drained: SimPot,
  mix: { id: string; solution: SimSolution },
  clock: () => Date,
): Promise<void> {
  for (const [n, soak] of SOAKS.entries()) {
    if (soak.code !== pot.spec.code || day < -soak.notBefore || world.soaked.has(n)) continue;
    world.soaked.add(n);
    const own = random(n);
    const uuid = () => uuidFrom(own);
    const startedAt = clock();
    const fillMl = pot.spec.reservoirMl;
    const feed = soak.kind === 'feed';
    const log = <K extends CareKind>(
      kind: K,
      minutes: number,
      payload: CarePayload<K>,
      id = uuid(),
      batchId: string | null = null,
    ) =>
      appendCareEvent(world.manager, {
        id,
        kind,
        at: new Date(startedAt.getTime() + minutes * 60_000),
        localDate: date,
        potId: pot.id,
        batchId,
        payload,
      });
    const soakId = uuid();
    const started = {
      soakKind: soak.kind,
      waterId: feed ? null : world.ids.water['still']!,
      fillMl,
      aged: false,
      covered: true,
      minutes: soak.minutes.at(-1)!,
      words: `Soak test: holes taped, filled with ${feed ? 'the feed' : 'still water'}, covered`,
      changes: [],
    };
    await log('soakStarted', 0, started, soakId, feed ? mix.id : null);
    const fill = feed ? mix.solution : WATERS.still;
    for (const minutes of soak.minutes) {
      const water = soakSim(drained, natureOn(pot, day), fill, fillMl, minutes);
      const ph = penReading(simPh(water), phPen(daysBetween(date, world.today)), own);
      const ppm =
        minutes === 0 || minutes === soak.minutes.at(-1)
          ? penReading(simEc(water) * PEN_SCALE, PENS.ppm, own)
          : undefined;
      await log('soakRead', minutes, {
        soakId,
        afterMinutes: minutes,
        opened: false,
        ph: { kind: 'value', value: ph },
        ppm: ppm === undefined ? NOT_MEASURED : { kind: 'value', value: ppm },
        phMeterId: world.ids.ph,
        ppmMeterId: ppm === undefined ? null : world.ids.ppm,
        words: `Soak test, after ${minutes} min`,
      });
    }
    await log('soakEnded', soak.minutes.at(-1)! + 1, {
      soakId,
      leakedMl: soak.leakedMl,
      words: 'Soak test over, drained',
      changes: [],
    });
  }
}

/** What was tried against the two pots that push hardest. */
export async function writeTreatments(world: World, pots: readonly LivePot[]): Promise<void> {
  const own = random(99);
  const tried = [
    { code: 'P-04', kind: 'wet', daysAgo: WET_DAYS_AGO, note: 'topped up midway, never let down to the floor' },
    { code: 'L-03', kind: 'peat', daysAgo: PEAT_DAYS_AGO, note: 'a spoonful of granules worked into the top' },
  ] as const;
  for (const { code, kind, daysAgo, note } of tried) {
    const pot = pots.find((p) => p.spec.code === code);
    if (!pot) continue;
    const fromDate = plusDays(world.today, -daysAgo);
    const when = { at: new Date(`${fromDate}T10:30:00Z`), localDate: fromDate };
    const after = { potId: pot.id, kind, note, fromDate, toDate: null };
    const words = `${code}: trying ${kind === 'wet' ? 'a wetter schedule' : 'peat granules in the pot'}`;
    await changeRecords(world.manager, {
      eventId: uuidFrom(own),
      when,
      group: 'Drift',
      words,
      changes: [{ table: 'treatment', id: uuidFrom(own), after }],
    });
  }
}
