import type { SheetReport } from '../../../contract/sheet.ts';
import type { ColumnRole, DayForm } from '../../../core/records/index.ts';
import { dayMonthYear } from '../../shell/format.ts';

/** What a column can be, by what a line is. */
export const ROLE_WORDS: Readonly<Record<'waterings' | 'readings', readonly (readonly [ColumnRole, string])[]>> = {
  waterings: [
    ['skip', 'leave it out'],
    ['day', 'day'],
    ['time', 'time'],
    ['pot', 'pot'],
    ['outStrength', 'came out, strength'],
    ['outPh', 'came out, pH'],
    ['left', 'was left'],
    ['flushed', 'flushed with'],
    ['inStrength', 'poured in, strength'],
    ['inPh', 'poured in, pH'],
    ['poured', 'poured in, amount'],
    ['note', 'note'],
  ],
  readings: [
    ['skip', 'leave it out'],
    ['day', 'day'],
    ['time', 'time'],
    ['pot', 'pot'],
    ['outStrength', 'strength'],
    ['outPh', 'pH'],
    ['left', 'left in the pot'],
    ['temperature', 'water, °C'],
    ['note', 'note'],
  ],
};
export const DAY_FORM_WORDS: Readonly<Record<DayForm, string>> = {
  iso: '2024-05-03',
  dayFirst: '3/5/2024, the day first',
  monthFirst: '5/3/2024, the month first',
  words: '3 May 2024',
  serial: 'a number of days, such as 45415',
};

const counted = (n: number, one: string, many = `${one}s`) => `${n.toLocaleString('en-GB')} ${n === 1 ? one : many}`;

/** "2,104 waterings and 12 notes of 38 pots, 3 May 2024 to 20 Oct 2026" */
export function comesWords({ waterings, readings, notes, pots, from, to }: SheetReport): string {
  const parts = [
    ...(waterings > 0 ? [counted(waterings, 'watering')] : []),
    ...(readings > 0 ? [counted(readings, 'reading')] : []),
    ...(notes > 0 ? [counted(notes, 'note')] : []),
  ];
  const what = parts.length > 1 ? `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)!}` : (parts[0] ?? '');
  return `${what} of ${counted(pots, 'pot')}, ${dayMonthYear(from!)}${from === to ? '' : ` to ${dayMonthYear(to!)}`}`;
}

/** What of it does not come, and why. */
export function staysWords({ here, passedBy, leftOut, wrong, strangers }: SheetReport): string[] {
  const unknown = strangers.reduce((sum, { lines }) => sum + lines, 0);
  return [
    ...(here > 0 ? [`${counted(here, 'line')} here already, of that pot and day: not doubled.`] : []),
    ...(passedBy > 0 ? [`${counted(passedBy, 'reading')} of days of which a later one is taken.`] : []),
    ...(leftOut > 0 ? [`${counted(leftOut, 'line')} of pots that you leave out.`] : []),
    ...(unknown > 0
      ? [
          `${counted(unknown, 'line')} of ${counted(strangers.length, 'pot')} that ${strangers.length === 1 ? 'is' : 'are'} not known by that name.`,
        ]
      : []),
    ...(wrong > 0
      ? [`${counted(wrong, 'line')} that cannot be read: left out unless you mend ${wrong === 1 ? 'it' : 'them'}.`]
      : []),
  ];
}

export type PotNamed = { readonly id: string; readonly code: string; readonly name: string; readonly plant: string };
