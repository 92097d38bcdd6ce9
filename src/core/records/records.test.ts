import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  dayFormsOf,
  decimalMarkOf,
  figureIn,
  guessRoles,
  isHeading,
  minuteIn,
  momentIn,
  readingIn,
  readRecord,
  strengthUnitIn,
  type SheetPlan,
} from './index.ts';

describe('days of old records', () => {
  it.each([
    ['iso', '2024-05-03', '2024-05-03'],
    ['iso', '2024/5/3', '2024-05-03'],
    ['dayFirst', '3/5/24', '2024-05-03'],
    ['dayFirst', '03.05.2024', '2024-05-03'],
    ['monthFirst', '5/3/2024', '2024-05-03'],
    ['words', 'Fri 3 May 2024', '2024-05-03'],
    ['words', 'May 3, 2024', '2024-05-03'],
    ['words', '3-May-24', '2024-05-03'],
    ['serial', '45415', '2024-05-03'],
  ] as const)('%s: %s', (form, text, day) => expect(momentIn(form, text)).toEqual({ day, minute: undefined }));
  it.each([
    ['iso', '2024-05-03 09:31', 571],
    ['iso', '2024-05-03T21:05:10', 1265],
    ['dayFirst', '3/5/2024 9.31', 571],
    ['monthFirst', '5/3/2024 9:31 PM', 1291],
    ['monthFirst', '5/3/2024 12:05 am', 5],
    ['words', '3 May 2024, 9:31', 571],
    ['serial', '45415.5', 720],
  ] as const)('%s with its time: %s', (form, text, minute) =>
    expect(momentIn(form, text)).toEqual({ day: '2024-05-03', minute }),
  );
  it('an instant with its zone is that instant', () =>
    expect(momentIn('iso', '2024-05-03T23:30:00+02:00')).toEqual({ instant: '2024-05-03T21:30:00.000Z' }));
  it.each([
    ['dayFirst', '31/2/2024'],
    ['dayFirst', '5/13/2024'],
    ['monthFirst', '13/5/2024'],
    ['iso', '3 May'],
    ['iso', '2024-05-03 25:00'],
    ['serial', '12'],
    ['words', ''],
  ] as const)('%s: "%s" is none', (form, text) => expect(momentIn(form, text)).toBeUndefined());
  it('the form is told by the column, and asked for where nothing tells it', () => {
    expect(dayFormsOf(['3/5/2024', '17/5/2024'])).toEqual(['dayFirst']);
    expect(dayFormsOf(['3/5/2024', '5/17/2024', '5/18/2024'])).toEqual(['monthFirst']);
    expect(dayFormsOf(['3/5/2024', '4/5/2024'])).toEqual(['dayFirst', 'monthFirst']);
    expect(dayFormsOf(['soon', ''])).toEqual([]);
  });
  it('any day written in any form is that day again', () =>
    fc.assert(
      fc.property(
        fc.date({ min: new Date('1985-01-01'), max: new Date('2190-01-01'), noInvalidDate: true }),
        (date) => {
          const day = date.toISOString().slice(0, 10);
          const [y, m, d] = day.split('-').map(Number) as [number, number, number];
          for (const [form, text] of [
            ['iso', day],
            ['dayFirst', `${d}/${m}/${y}`],
            ['monthFirst', `${m}/${d}/${y}`],
            [
              'words',
              date.toLocaleDateString('en-GB', { day: 'numeric', month: 'long', year: 'numeric', timeZone: 'UTC' }),
            ],
            ['serial', String(Math.floor(date.getTime() / 86_400_000) + 25_569)],
          ] as const)
            expect(momentIn(form, text)).toEqual({ day, minute: undefined });
        },
      ),
    ));
  it('a time by itself', () =>
    expect([minuteIn('9:30'), minuteIn('9.30 pm'), minuteIn('later')]).toEqual([570, 1290, undefined]));
});

describe('figures of old records', () => {
  it.each([
    ['point', '5.8', 5.8],
    ['point', '1,250', 1250],
    ['comma', '5,8', 5.8],
    ['comma', '1.250', 1250],
    ['comma', '1 250,5', 1250.5],
  ] as const)('%s: %s', (mark, text, figure) => expect(figureIn(mark, text)).toBe(figure));
  it.each([
    ['point', '5,8'],
    ['comma', '5.8'],
    ['point', '~90'],
    ['point', '=1+2'],
    ['point', '-4'],
    ['point', '1.2.3'],
  ] as const)('%s: "%s" is none, and no guess is made', (mark, text) => expect(figureIn(mark, text)).toBeUndefined());
  it('another unit behind a figure makes it none of the column', () => {
    expect(figureIn('point', '240 ppm', 'ppm')).toBe(240);
    expect(figureIn('point', '1.2 mS', 'ppm')).toBeUndefined();
    expect(readingIn('point', 'pH 5.9', { sign: 'pH', digits: 2 })).toEqual({ kind: 'value', value: 5.9 });
  });
  it('a kit’s colours are from and to; nothing is not measured', () => {
    expect(readingIn('point', '6.0-6.5', { digits: 2 })).toEqual({ kind: 'range', low: 6, high: 6.5 });
    expect(readingIn('point', '6 to 6.5', { digits: 2 })).toEqual({ kind: 'range', low: 6, high: 6.5 });
    expect(['', '-', 'n/a', '?'].map((text) => readingIn('point', text)?.kind)).toEqual(Array(4).fill('notMeasured'));
    expect(readingIn('point', '7-6')).toBeUndefined();
  });
  it('the mark is told by the figures', () =>
    expect([decimalMarkOf(['5,8', '105']), decimalMarkOf(['5.8']), decimalMarkOf(['105'])]).toEqual([
      'comma',
      'point',
      'point',
    ]));
});

describe('headings', () => {
  it('are guessed at, each kind once', () =>
    expect(
      guessRoles(['Date', 'Orchid', 'PPM out', 'pH out', 'ppm in', 'pH in', 'mL poured', 'Notes', 'Colour']),
    ).toEqual([...['day', 'pot', 'outStrength', 'outPh', 'inStrength', 'inPh', 'poured', 'note', 'skip']]));
  it('are told from a line of figures', () => {
    expect(isHeading(['Date', 'Pot', 'pH'])).toBe(true);
    expect(isHeading(['2024-05-03', 'A-01', '5.8'])).toBe(false);
  });
  it('may name the unit', () => {
    expect(strengthUnitIn('EC µS/cm')).toEqual({ as: 'µS/cm' });
    expect(strengthUnitIn('EC (mS)')).toEqual({ as: 'mS/cm' });
    expect(strengthUnitIn('ppm (700)')).toEqual({ as: 'ppm', scale: 0.7 });
    expect(strengthUnitIn('PPM out')).toBe('ppm');
    expect(strengthUnitIn('EC')).toBeUndefined();
  });
});

describe('a line', () => {
  const plan: SheetPlan = {
    columns: ['day', 'pot', 'outStrength', 'outPh', 'inStrength', 'poured'],
    dayForm: 'dayFirst',
    mark: 'point',
    strength: { as: 'mS/cm' },
    penScale: 0.5,
    volume: 'L',
  };
  it('is kept on the pen’s scale and in mL', () =>
    expect(readRecord(['3/5/2024', 'A-01', '0.42', '6.4', '0.2', '0.25'], plan)).toEqual({
      ok: true,
      record: {
        when: { day: '2024-05-03', minute: undefined },
        pot: 'A-01',
        outStrength: { kind: 'value', value: 210 },
        outPh: { kind: 'value', value: 6.4 },
        inStrength: { kind: 'value', value: 100 },
        inPh: { kind: 'notMeasured' },
        leftMl: null,
        pouredMl: 250,
        flushedMl: null,
        temperatureC: null,
        note: '',
      },
    }));
  it('that cannot be read says where, and how it is written; nothing of it is guessed', () => {
    const read = readRecord(['2024-05-03', '', '0,42', '64', 'over', '=A1*2'], plan);
    expect(read).toEqual({
      ok: false,
      problems: [
        { column: 0, message: '"2024-05-03" is no day as the others are: 3/5/2024, the day first' },
        { column: 2, message: '"0,42" is no figure with a point for decimals' },
        { column: 3, message: '"64" is past what a pen shows: 0 to 14' },
        { column: 5, message: '"=A1*2" is no figure with a point for decimals' },
        { column: 1, message: 'no pot is named' },
      ],
    });
  });
  it('of whatever a cell may hold never throws', () =>
    fc.assert(
      fc.property(fc.array(fc.string(), { maxLength: 8 }), (cells) => {
        const read = readRecord(cells, plan);
        expect(read.ok || read.problems.length > 0).toBe(true);
      }),
    ));
});
