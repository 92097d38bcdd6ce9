import type { EntityManager } from 'typeorm';
import type { z } from 'zod';
import type { BookEntry } from '../../contract/book.ts';
import type { carePayloads, CareKind, CarePayload } from '../../contract/care.ts';
import type { Reading } from '../../core/quantity/index.ts';
import type { Rows } from '../collection/index.ts';
import type { ReadCareEvent } from '../database/care-log.ts';
import type { CareEvent } from '../database/entities.ts';

/** Names of what an act is about, so that it can be told; null where it is about no such thing. */
export type Named = {
  readonly code: string | null;
  readonly place: string | null;
  readonly batchName: string | null;
  readonly water: string | null;
  readonly product: string | null;
  readonly meter: string | null;
  readonly clay: string | null;
  readonly toolKind: string | null;
  /** What its batch came to. */
  readonly pouredEcUsCm: number | null;
  readonly pouredPh: number | null;
  /** Of an undo: what taking its target back is called. */
  readonly undone: string | null;
};

/** Writes mL in the grower's units. */
export type Vol = (ml: number) => string;

/**
 * Everything that is known of a kind of act, in its own room. Undo, correction, the Book, taints and exports go by it and know no kind by name.
 */
export type Act<K extends CareKind> = {
  readonly kind: K;
  readonly payload: (typeof carePayloads)[K] & z.ZodType<CarePayload<K>>;
  /** Under which heading the Book has it. */
  readonly group: BookEntry['group'] | ((payload: CarePayload<K>) => BookEntry['group']);
  readonly words: (payload: CarePayload<K>, named: Named, vol: Vol) => string;
  /** Where it was done; by default the batch, the clay, the pot, the water or the pen it is about. */
  readonly where?: (named: Named) => string;
  /** What taking it back is called. */
  readonly undone: string;
  /** The picture it is, or holds. */
  readonly picture?: (event: ReadCareEvent<K>) => string | null;
  /** What was read at it, by the pens it names or else by its batch's. */
  readonly figures?: (payload: CarePayload<K>) => { readonly ppm?: Reading | null; readonly ph?: Reading | null };
  /** Its fields that hold a calendar day, and those that hold an instant: the demo, which never ages, moves along with them. */
  readonly dates?: {
    readonly days?: readonly (keyof CarePayload<K> & string)[];
    readonly instants?: readonly (keyof CarePayload<K> & string)[];
  };
  /** What it came to, where that is no reading of its own. µS/cm */
  readonly shows?: (named: Named) => { readonly ecUsCm: number | null; readonly ph: number | null };
  /** What may be put right, and how. Absent: nothing. */
  readonly correct?: {
    /** Fields that say what a figure is about: they never change. Everything else may. */
    readonly fixed: readonly (keyof CarePayload<K> & string)[];
    /** What else follows from the figures that were put right. */
    readonly settled?: (before: CarePayload<K>, payload: CarePayload<K>) => CarePayload<K>;
    /** Its figures in words, always in the same order: what differs is shown struck through. */
    readonly figures: (payload: CarePayload<K>, vol: Vol) => string[];
    /** Looks at the figures as they are to be, and puts right what says them in words. @throws AppError with the field */
    readonly before?: (
      manager: EntityManager,
      target: CareEvent,
      payload: Record<string, unknown>,
    ) => void | Promise<void>;
    /** What follows once they stand. @throws AppError when they cannot */
    readonly after?: (manager: EntityManager, target: CareEvent, payload: Record<string, unknown>) => Promise<void>;
  };
  /** Why it cannot be taken back now: what builds on it must come back first. Null where it can. */
  readonly needs?: (rows: Rows, event: ReadCareEvent<K>) => string | null;
  /** What beside the log is set right when it is taken back, and when it is put back. */
  readonly takeBack?: (manager: EntityManager, event: ReadCareEvent<K>, undoId: string) => Promise<void>;
  readonly putBack?: (manager: EntityManager, event: ReadCareEvent<K>) => Promise<void>;
};

/** An act of a kind, its pieces checked against each other. */
export const act = <K extends CareKind>(definition: Act<K>): Act<K> => definition;
