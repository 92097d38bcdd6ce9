import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { guessColumns, readPasted, tooMany, toLines, type ListContext } from './pasted-list.ts';
import { nextCode } from './pot-texts.ts';

const context: ListContext = {
  places: [{ id: 'p', name: 'East sill' }],
  regimens: [{ id: 'r', name: 'Weekly' }],
  codes: ['R-07'],
  units: 'metric',
  usual: { place: 'East sill', reservoir: '250', regimenId: 'r' },
};
const read = (text: string, more: Partial<ListContext> = {}) => {
  const pasted = readPasted(text);
  return toLines(pasted, guessColumns(pasted, ['East sill']), { ...context, ...more });
};

describe('a pasted list', () => {
  it('from a spreadsheet, with column names in any order and words', () => {
    const [first, second] = read(
      'Species\tNo.\tLocation\tReservoir (mL)\tStage\tNotes\nHoya\tA-01\tKitchen\t200\tbloom\tgift\nBegonia\tA-02\tEast sill\t0,25 L\t\t',
    );
    expect(first!.pot).toMatchObject({
      place: 'Kitchen',
      regimenId: 'r',
      values: {
        code: 'A-01',
        plant: 'Hoya',
        reservoirMl: 200,
        fillMl: 200,
        stage: 'bloom',
        note: 'gift',
        medium: 'clay',
      },
    });
    expect(second!.pot).toMatchObject({ values: { reservoirMl: 250, stage: 'growth' } });
  });
  it('typed with commas and no names: columns are told by what stands in them', () => {
    const pasted = readPasted('A-01, Hoya, East sill, 250\nA-02, Begonia, East sill, 200');
    expect(guessColumns(pasted, ['East sill'])).toEqual(['code', 'plant', 'place', 'reservoirMl']);
    expect(read('A-01, Hoya, East sill, 250').map((l) => l.pot?.values.plant)).toEqual(['Hoya']);
  });
  it('with semicolons, quotes and empty lines', () => {
    const lines = read('code;plant;note\nA-01;Hoya;"by the door; left"\n\n;;\nA-02;Begonia;');
    expect(lines.map((l) => [l.line, l.pot?.values.note])).toEqual([
      [2, 'by the door; left'],
      [5, ''],
    ]);
  });
  it('without codes gets them by its places, never one that is taken', () => {
    const lines = read('plant\tplace\nHoya\tEast sill\nBegonia\tEast sill\nFicus\tPorch', { codes: ['E-01', 'E-02'] });
    expect(lines.map((l) => l.pot?.values.code)).toEqual(['E-03', 'E-04', 'P-01']);
  });
  it('in ounces, where the grower owns those', () => {
    const [line] = read('code\tplant\treservoir\nA-1\tHoya\t8 oz', { units: 'us' });
    expect(line!.pot!.values.reservoirMl).toBeCloseTo(236.588, 3);
  });
  it.each([
    ['a code in the collection already', 'code\tplant\nr-07\tHoya', /R?-?07 is a pot in your collection already/i],
    ['a code twice in the list', 'code\tplant\nA-1\tHoya\na-1\tFicus', /stands in line 2 too/],
    ['no plant', 'code\tplant\nA-1\t', /grows in it/],
    ['a volume that is none', 'code\tplant\treservoir\nA-1\tHoya\tlots', /"lots" is no reservoir/],
    ['a stage nobody knows', 'code\tplant\tstage\nA-1\tHoya\tasleep', /"asleep" is no stage/],
    ['a regimen that is not there', 'code\tplant\tregimen\nA-1\tHoya\tMonthly', /no regimen called Monthly/],
    ['a brim under the reservoir', 'code\tplant\treservoir\tbrim\nA-1\tHoya\t300\t200', /brim holds less/],
    ['a day that is none', 'code\tplant\tsince\nA-1\tHoya\tlast spring', /is no day/],
  ])('says what is wrong with %s, at its line', (_what, text, message) => {
    const bad = read(text).filter((l) => !l.pot);
    expect(bad).toHaveLength(1);
    expect(bad[0]!.problems.join('; ')).toMatch(message);
  });
  it.each([
    ['25/11/2025', '2025-11-25'],
    ['2025-11-25', '2025-11-25'],
    ['3.4.2025', '2025-04-03'],
    ['May 2024', '2024-05-01'],
    ['2023', '2023-01-01'],
  ])('reads the day %s', (text, day) =>
    expect(read(`code\tplant\tsince\nA-1\tHoya\t${text}`)[0]!.pot!.values.acquiredOn).toBe(day),
  );
  it('is refused when it is past all measure, and never breaks, whatever is pasted', () => {
    expect(tooMany(readPasted(Array.from({ length: 1200 }, (_, i) => `A-${i}\tHoya`).join('\n')))).toMatch(
      /1,200 lines/,
    );
    fc.assert(
      fc.property(
        fc.string({ unit: fc.constantFrom('a', '-', '1', '\t', ',', ';', '"', '\n', ' ', 'é', '|', "'") }),
        (text) => {
          const pasted = readPasted(text);
          const lines = toLines(pasted, guessColumns(pasted, []), context);
          expect(lines).toHaveLength(pasted.rows.length);
          for (const line of lines) expect(line.pot === undefined).toBe(line.problems.length > 0);
        },
      ),
    );
  });
});

describe('codes', () => {
  it.each([
    [[], 'A-01'],
    [['A-06'], 'A-07'],
    [['B9', 'B10'], 'B11'],
    [['A-01', 'A-03', 'A-02'], 'A-04'],
    [['kitchen'], ''],
  ])('after %j comes %s', (codes, next) => expect(nextCode(codes)).toBe(next));
});
