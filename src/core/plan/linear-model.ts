/** Least in cost over columns within their bounds, rows within theirs. */
export type LinearModel = {
  readonly cost: number[];
  readonly lower: number[];
  readonly upper: number[];
  readonly rows: { readonly low: number; readonly high: number; readonly terms: Terms }[];
};
/** Columns with what each counts. */
export type Terms = (readonly [column: number, by: number])[];

/** A model being written, column by column and row by row. */
export class Columns {
  readonly model: LinearModel = { cost: [], lower: [], upper: [], rows: [] };
  /** @returns its number */
  add(cost: number, upper = Infinity): number {
    this.model.lower.push(0);
    this.model.upper.push(upper);
    return this.model.cost.push(cost) - 1;
  }
  row(low: number, high: number, terms: Terms): void {
    if (terms.length > 0) this.model.rows.push({ low, high, terms });
  }
}

export const daysOf = (n: number): number[] => Array.from({ length: n }, (_, t) => t);

/** What waits on each day: the columns that draw still water, and those that take minutes. */
export type Loads = { readonly litres: Terms[]; readonly minutes: Terms[] };

/** What all columns of a season stand on. */
export type Ground = {
  readonly columns: Columns;
  readonly loads: Loads;
  readonly trips: readonly number[];
  readonly mixOn: (mix: string, t: number) => number;
};
