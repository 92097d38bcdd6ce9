import { Readable } from 'node:stream';
import { ZipFile } from 'yazl';
import { TABLES } from '../../../contract/tables.ts';
import { rowsOf, type Collection } from '../../collection/index.ts';
import type { Sqlite } from '../../database/sqlite.ts';
import { jpegOf, logJsonl, photoNames, wholeJson } from '../../database/whole/write-whole.ts';
import { csvOf } from '../tables.ts';
import { wholeSchema } from './whole-schema.ts';

/** Pieces of text as a stream; what they are read from is let go at its end, or where nobody listens any more. */
export function streamed(pieces: Generator<string>, letGo: () => void): Readable {
  const stream = text(pieces);
  stream.once('close', letGo);
  return stream;
}

/** So much lies ready, that one core can pack while the other reads; no more, or others would wait for their answers. */
const READY_BYTES = 150_000;
const text = (pieces: Generator<string>) => Readable.from(pieces, { objectMode: false, highWaterMark: READY_BYTES });

/** A seventh larger than at the usual level, and a fifth of the time less for all of it (`bench/whole.ts`). */
const LEVEL = 3;

const README = `Everything of one collection of Frugal Sip.

collection.json         all of it: every record, every line of the log. It can be brought into another collection.
collection.schema.json  what may stand in it (JSON Schema 2020-12)
log.jsonl               the log alone, a line each (JSON Lines)
tables/                 for a spreadsheet (CSV, RFC 4180): what was measured, poured, mixed and soaked
photos/                 photos, named by day and pot
`;

/**
 * All of it as one ZIP, made while it is read: nothing of it is held whole.
 * @param raw a connection that sees one moment; closed at the end
 */
export function wholeZip(raw: Sqlite, collection: Collection, scale: number, madeAt: Date): Readable {
  const zip = new ZipFile();
  const names = photoNames(raw);
  const rows = rowsOf(raw);
  const out = zip.outputStream as Readable;
  let open: Readable | undefined;
  // Where nobody listens any more, or a part of it cannot be read, the whole ends: half a ZIP is never ended as if it were one.
  const fail = (error: Error) => void out.destroy(error);
  zip.on('error', fail);
  out.once('close', () => {
    if (!open || open.destroyed) return raw.close();
    open.once('close', () => raw.close()).destroy();
  });
  const lazily = (path: string, make: () => Readable, compress = true) =>
    zip.addReadStreamLazy(path, { mtime: madeAt, compressionLevel: compress ? LEVEL : 0 }, (hand) => {
      if (out.destroyed) return;
      open = make().on('error', fail);
      hand(null, open);
    });
  zip.addBuffer(Buffer.from(README), 'README.txt', { mtime: madeAt });
  lazily('collection.json', () =>
    text(wholeJson(raw, madeAt, ({ id }) => ({ id, file: names.get(id) ?? `photos/${id}.jpg` }))),
  );
  zip.addBuffer(Buffer.from(JSON.stringify(wholeSchema(), null, 1)), 'collection.schema.json', { mtime: madeAt });
  lazily('log.jsonl', () => text(logJsonl(raw)));
  for (const name of TABLES)
    lazily(`tables/${name}.csv`, () =>
      text(csvOf(name, { collection, rows, scale }, { mark: 'point', separator: 'comma' })),
    );
  // A JPEG is packed already.
  for (const [id, name] of names) lazily(name, () => Readable.from([jpegOf(raw, id)], { objectMode: false }), false);
  zip.end();
  return out;
}
