import { readFileSync } from 'node:fs';
import Papa from 'papaparse';
import type { SheetPlanWire, SheetReport } from '../../../contract/sheet.ts';
import { readRecord, type SheetProblem } from '../../../core/records/index.ts';
import { inCopy, Stopped, type CopyResult, type CopyTask } from '../in-copy.ts';
import type { Sqlite } from '../sqlite.ts';
import { textOf, NotATable } from './sheet-text.ts';
import { SheetWriter, type SheetWhen } from './sheet-writer.ts';

/*
 * In a thread of its own: a copy of the collection as it stands, and the lines of somebody's table written into its log. Nothing of the collection itself is touched.
 */

export type SheetTask = CopyTask & {
  readonly plan: SheetPlanWire;
  readonly name: string;
  readonly actId: string;
  readonly when: SheetWhen;
};
export type SheetResult = CopyResult<SheetReport>;

/** Lines between two looks at whether to stop. */
const AT_ONCE = 500;
/** Wrong lines told one by one; of more only how many. */
const MOST_TOLD = 200;
const MOST_STRANGERS = 300;
const MOST_CELLS = 200;
const SEPARATORS = { comma: ',', semicolon: ';', tab: '\t', bar: '|' } as const;

export function bringSheet(task: SheetTask): Promise<SheetResult> {
  return inCopy<SheetReport>(task, (raw, flags) => bring(raw, task, flags), NotATable);
}

function bring(raw: Sqlite, { upload, plan, name, actId, when }: SheetTask, flags: Int32Array): SheetReport {
  const text = textOf(readFileSync(upload));
  const writer = new SheetWriter(raw, plan, actId, when);
  const strangers = new Map<string, number>();
  const wrongLines: SheetReport['wrongLines'] = [];
  let [line, wrong, leftOut] = [0, 0, 0];
  const tell = (cells: readonly string[], problems: readonly SheetProblem[]): void => {
    wrong++;
    if (wrongLines.length < MOST_TOLD)
      wrongLines.push({
        line,
        cells: cells.slice(0, MOST_CELLS).map((cell) => cell.slice(0, 200)),
        problems: [...problems],
      });
  };
  const openQuote = (cells: readonly string[]) =>
    tell(cells, [
      { column: null, message: 'a quotation mark in it is not closed: all after it is taken for one cell' },
    ]);
  const take = (cells: readonly string[]): void => {
    const read = readRecord(cells, { ...plan, penScale: writer.penScale });
    const taken = read.ok ? writer.take(read.record, line) : { kind: 'wrong' as const, problems: read.problems };
    if (taken.kind === 'stranger') strangers.set(taken.name, (strangers.get(taken.name) ?? 0) + 1);
    else if (taken.kind === 'leftOut') leftOut++;
    else if (taken.kind === 'wrong') tell(cells, taken.problems);
  };
  Papa.parse<string[]>(text, {
    delimiter: SEPARATORS[plan.separator],
    skipEmptyLines: false,
    step: ({ data, meta, errors }, parser) => {
      line++;
      if (line % AT_ONCE === 0) {
        Atomics.store(flags, 0, Math.min(999, Math.floor((1000 * meta.cursor) / Math.max(1, text.length))));
        if (Atomics.load(flags, 1) === 1) parser.abort();
      }
      if ((plan.head && line === 1) || data.every((cell) => cell.trim() === '')) return;
      if (data.length > MOST_CELLS)
        throw new NotATable(
          `Line ${line} has ${data.length.toLocaleString('en-GB')} columns. Choose what parts them, or another file.`,
        );
      const mended = plan.mended[String(line)];
      if (!mended && errors.some(({ type }) => type === 'Quotes')) return openQuote(data);
      take(mended ?? data);
    },
  });
  if (Atomics.load(flags, 1) === 1) throw new Stopped();
  const written = writer.end(name);
  return {
    ...written,
    leftOut,
    wrong,
    wrongLines,
    strangers: [...strangers]
      .map(([stranger, lines]) => ({ name: stranger, lines }))
      .sort((a, b) => b.lines - a.lines || (a.name < b.name ? -1 : 1))
      .slice(0, MOST_STRANGERS),
  };
}
