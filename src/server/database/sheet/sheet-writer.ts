import { randomUUID } from 'node:crypto';
import { carePayloads, type ToldMix } from '../../../contract/care.ts';
import type { SheetPlanWire, SheetReport } from '../../../contract/sheet.ts';
import { NOT_MEASURED, volumeWords, type Reading, type VolumeUnits } from '../../../core/quantity/index.ts';
import { fitsInPot } from '../../../core/reservoir/index.ts';
import type { SheetProblem, SheetRecord } from '../../../core/records/index.ts';
import { localDateOf, startOfLocalDay } from '../../../core/regimen/index.ts';
import { broughtBy } from '../brought.ts';
import type { Sqlite, Statement } from '../sqlite.ts';

/*
 * Lines of a table written into a collection's log. What is there already, of that pot and day, is not doubled. One transaction of the caller's: all of it or nothing.
 */

/** Now, and by which clock its days are told. */
export type SheetWhen = {
  readonly at: string;
  readonly localDate: string;
  readonly zone: string;
  readonly units: VolumeUnits;
};
type Taken =
  | { readonly kind: 'taken' | 'here' | 'leftOut' }
  | { readonly kind: 'stranger'; readonly name: string }
  | { readonly kind: 'wrong'; readonly problems: readonly SheetProblem[] };

type PotRow = {
  id: string;
  code: string;
  name: string;
  plant: string;
  fillMl: number;
  reservoirMl: number;
  brimMl: number | null;
};
const MINUTE_MS = 60_000;
const NOON_MIN = 720;
const wrong = (message: string): Taken => ({ kind: 'wrong', problems: [{ column: null, message }] });

/** One reading of the pots still waits, where only the last of a day is taken. */
type Waiting = { readonly pot: PotRow; readonly record: SheetRecord; readonly at: string; readonly day: string };

export class SheetWriter {
  /** ppm a µS/cm of the pen that strengths are kept under. */
  readonly penScale: number;
  readonly #raw: Sqlite;
  readonly #plan: SheetPlanWire;
  readonly #actId: string;
  readonly #when: SheetWhen;
  readonly #pots: ReadonlyMap<string, PotRow>;
  readonly #names: ReadonlyMap<string, PotRow | null>;
  readonly #insert: Statement;
  readonly #touch: Statement;
  readonly #filledOn: Statement;
  readonly #readAt: Statement;
  readonly #starts = new Map<string, number>();
  /** Waterings of this table, by pot and day. */
  readonly #filled = new Map<string, number>();
  readonly #lastOfDay = new Map<string, Waiting>();
  readonly #seen = new Set<string>();
  readonly #report = { waterings: 0, readings: 0, notes: 0, here: 0, passedBy: 0 };
  #from: string | null = null;
  #to: string | null = null;

  constructor(raw: Sqlite, plan: SheetPlanWire, actId: string, when: SheetWhen) {
    this.#raw = raw;
    this.#plan = plan;
    this.#actId = actId;
    this.#when = when;
    this.penScale =
      raw
        .prepare<[string | null], { scale: number | null }>('SELECT scale FROM meter WHERE id = ?')
        .get(plan.ppmMeterId)?.scale ?? 0.5;
    const pots = raw
      .prepare<[], PotRow>(
        'SELECT id, code, name, plant, fillMl, reservoirMl, brimMl FROM pot ORDER BY retiredOn IS NOT NULL, code',
      )
      .all();
    this.#pots = new Map(pots.map((pot) => [pot.id, pot]));
    this.#names = namesOf(pots);
    this.#insert = raw.prepare(
      'INSERT INTO care_event (id, kind, at, localDate, potId, batchId, payload, dueKey, voidedBy, corrects, standsAt) VALUES (?, ?, ?, ?, ?, NULL, ?, NULL, NULL, NULL, NULL)',
    );
    this.#touch = raw.prepare('INSERT OR IGNORE INTO event_touch (subject, eventId) VALUES (?, ?)');
    this.#filledOn = raw.prepare(
      `SELECT 1 FROM main.care_event WHERE potId = ? AND kind = 'potFilled' AND localDate = ? AND voidedBy IS NULL`,
    );
    this.#readAt = raw.prepare(
      `SELECT payload FROM main.care_event WHERE potId = ? AND kind = 'potReread' AND at = ? AND voidedBy IS NULL`,
    );
  }

  /** @param line of the table, to name it where another one says the same */
  take(record: SheetRecord, line: number): Taken {
    const found = this.#potOf(record.pot);
    if (found.kind !== 'pot') return found;
    const { pot } = found;
    const { at, day } = this.#momentOf(record.when);
    if (day > this.#when.localDate || at > this.#when.at) return wrong('that day has not come');
    const unfit = [record.pouredMl, record.leftMl].find((ml) => ml !== null && !fitsInPot(pot, ml));
    if (unfit)
      return wrong(
        `${volumeWords(unfit, this.#when.units)} do not go into ${pot.code}: look at the unit, or at the pot’s sizes`,
      );
    return this.#plan.what === 'waterings'
      ? this.#watering({ pot, record, at, day }, line)
      : this.#reading({ pot, record, at, day });
  }

  /** Once every line was taken: the act that names them all. @returns what came */
  end(
    name: string,
  ): Pick<SheetReport, 'waterings' | 'readings' | 'notes' | 'pots' | 'from' | 'to' | 'here' | 'passedBy'> {
    for (const last of this.#lastOfDay.values()) this.#writeReading(last);
    const { waterings, readings, notes } = this.#report;
    const lines = waterings + readings + notes;
    const report = { ...this.#report, pots: this.#seen.size, from: this.#from, to: this.#to };
    if (lines === 0) {
      this.#raw.exec('ROLLBACK');
      return report;
    }
    const words = `Brought in ${brought(report)} of ${counted(report.pots, 'pot')}, from ${name.slice(0, 120)}`;
    this.#insert.run(
      ...[this.#actId, 'linesBrought', this.#when.at, this.#when.localDate, null],
      JSON.stringify({ words, lines, from: this.#from, to: this.#to }),
    );
    return report;
  }

  #potOf(
    name: string | null,
  ): Exclude<Taken, { kind: 'taken' | 'here' | 'wrong' }> | { readonly kind: 'pot'; readonly pot: PotRow } {
    if (name === null) {
      const pot = this.#pots.get(this.#plan.potId ?? '');
      return pot ? { kind: 'pot', pot } : { kind: 'stranger', name: '' };
    }
    const key = name.toLowerCase();
    const chosen = this.#plan.pots[key];
    if (chosen === null) return { kind: 'leftOut' };
    const pot = chosen === undefined ? this.#names.get(key) : this.#pots.get(chosen);
    return pot ? { kind: 'pot', pot } : { kind: 'stranger', name: name.slice(0, 200) };
  }

  #momentOf(when: SheetRecord['when']): { at: string; day: string } {
    const { zone, localDate } = this.#when;
    if ('instant' in when) return { at: when.instant, day: localDateOf(new Date(when.instant), zone) };
    let start = this.#starts.get(when.day);
    if (start === undefined) this.#starts.set(when.day, (start = startOfLocalDay(when.day, zone).getTime()));
    // Of a day without a time only the day is known: noon, or now where that is later today.
    const noon = new Date(start + NOON_MIN * MINUTE_MS).toISOString();
    const at = when.minute === undefined ? noon : new Date(start + when.minute * MINUTE_MS).toISOString();
    return {
      at: when.minute === undefined && when.day === localDate && noon > this.#when.at ? this.#when.at : at,
      day: when.day,
    };
  }

  #watering(of: Waiting, line: number): Taken {
    const { pot, record, day } = of;
    const key = `${pot.id} ${day}`;
    const before = this.#filled.get(key);
    if (before !== undefined) return wrong(`line ${before} is a watering of ${pot.code} on that day too`);
    const pouredMl = record.pouredMl ?? (this.#plan.usualPour ? pot.fillMl : null);
    if (pouredMl === null || pouredMl <= 0) return wrong('nothing says how much was poured');
    if (this.#filledOn.get(pot.id, day)) return this.#here();
    const plan = this.#plan;
    const told = toldIn(record, plan);
    const payload = {
      dueOn: day,
      batchId: null,
      pouredMl,
      flushMl: record.flushedMl ?? 0,
      flushWith: record.flushedMl && plan.flushWaterId ? [{ waterId: plan.flushWaterId, ml: record.flushedMl }] : [],
      oldReservoir: { ppm: record.outStrength, ph: record.outPh, leftMl: record.leftMl },
      ...pensOf(plan, [record.outStrength, record.inStrength], [record.outPh, record.inPh]),
      brought: true,
      ...(told ? { told } : {}),
    };
    const refused = this.#write('potFilled', of, payload);
    if (refused) return wrong(refused);
    this.#filled.set(key, line);
    this.#report.waterings++;
    this.#note(of);
    return { kind: 'taken' };
  }

  #reading(of: Waiting): Taken {
    const { record, pot, at, day } = of;
    if ([record.outStrength, record.outPh].every((r) => r.kind === 'notMeasured') && record.leftMl === null)
      return wrong('nothing was read');
    if (this.#plan.lastOfDay) {
      const key = `${pot.id} ${day}`;
      const other = this.#lastOfDay.get(key);
      if (other) this.#report.passedBy++;
      if (!other || at >= other.at) this.#lastOfDay.set(key, of);
      return { kind: 'taken' };
    }
    return this.#writeReading(of);
  }

  #writeReading(of: Waiting): Taken {
    const { pot, record, at } = of;
    const { temperatureC } = record;
    const payload = {
      ...{ ppm: record.outStrength, ph: record.outPh, leftMl: record.leftMl },
      ...pensOf(this.#plan, [record.outStrength], [record.outPh]),
      words: `Read, from older records${temperatureC === null ? '' : `, its water at ${temperatureC} °C`}`,
      temperatureC,
    };
    const same = JSON.stringify(payload);
    if ((this.#readAt.all(pot.id, at) as { payload: string }[]).some((line) => line.payload === same))
      return this.#here();
    const refused = this.#write('potReread', of, payload);
    if (refused) return wrong(refused);
    this.#report.readings++;
    this.#note(of);
    return { kind: 'taken' };
  }

  #here(): Taken {
    this.#report.here++;
    return { kind: 'here' };
  }

  #note({ pot, record, at, day }: Waiting): void {
    if (record.note === '') return;
    const id = randomUUID();
    this.#insert.run(
      id,
      'noteWritten',
      at,
      day,
      pot.id,
      JSON.stringify({ words: record.note, potIds: [pot.id], photoId: null }),
    );
    this.#touch.run(`pot:${pot.id}`, id);
    this.#touch.run(broughtBy(this.#actId), id);
    this.#report.notes++;
  }

  /** @returns in words why it does not fit the log */
  #write(kind: 'potFilled' | 'potReread', { pot, at, day }: Waiting, payload: object): string | undefined {
    const read = carePayloads[kind].safeParse(payload);
    if (!read.success) return read.error.issues[0]!.message;
    const id = randomUUID();
    this.#insert.run(id, kind, at, day, pot.id, JSON.stringify(read.data));
    this.#touch.run(broughtBy(this.#actId), id);
    this.#seen.add(pot.id);
    if (this.#from === null || day < this.#from) this.#from = day;
    if (this.#to === null || day > this.#to) this.#to = day;
    return undefined;
  }
}

/** What a line tells of what was poured; where it does not, what the grower remembers of all of them. */
function toldIn({ inStrength, inPh }: SheetRecord, plan: SheetPlanWire): ToldMix | undefined {
  const { waterId, waterEcUsCm, productId, aboutEcUsCm, aboutPh } = plan;
  if (waterId === null) return undefined;
  return {
    ...{ ppm: inStrength, ph: inPh, waterId, waterEcUsCm, productId },
    ...(inStrength.kind === 'notMeasured' && aboutEcUsCm !== null ? { aboutEcUsCm } : {}),
    ...(inPh.kind === 'notMeasured' && aboutPh !== null ? { aboutPh } : {}),
  };
}

const isRead = (readings: readonly Reading[]) => readings.some((reading) => reading.kind !== NOT_MEASURED.kind);
const pensOf = (plan: SheetPlanWire, strengths: readonly Reading[], phs: readonly Reading[]) => ({
  ppmMeterId: isRead(strengths) ? plan.ppmMeterId : null,
  phMeterId: isRead(phs) ? plan.phMeterId : null,
});

/** Pots by their code, their own name and their plant, in small letters; null where several are called so. */
function namesOf(pots: readonly PotRow[]): Map<string, PotRow | null> {
  const names = new Map<string, PotRow | null>();
  for (const of of ['plant', 'name', 'code'] as const) {
    const here = new Map<string, PotRow | null>();
    for (const pot of pots) {
      const key = pot[of].trim().toLowerCase();
      if (key !== '') here.set(key, here.has(key) ? null : pot);
    }
    for (const [key, pot] of here) names.set(key, pot);
  }
  return names;
}

const counted = (n: number, one: string) => `${n.toLocaleString('en-GB')} ${one}${n === 1 ? '' : 's'}`;
function brought({ waterings, readings, notes }: { waterings: number; readings: number; notes: number }): string {
  const parts = [
    ...(waterings > 0 ? [counted(waterings, 'watering')] : []),
    ...(readings > 0 ? [counted(readings, 'reading')] : []),
    ...(notes > 0 ? [counted(notes, 'note')] : []),
  ];
  return parts.length > 1 ? `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)!}` : (parts[0] ?? 'nothing');
}
