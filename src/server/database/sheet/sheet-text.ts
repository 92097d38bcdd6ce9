import { decodedText } from '../../../contract/sheet-text.ts';

/** What keeps a file from being read as a table, in words for the grower. */
export class NotATable extends Error {}

const ZIP = [0x50, 0x4b, 0x03, 0x04];
const OLD_SPREADSHEET = [0xd0, 0xcf, 0x11, 0xe0];
const PDF = [0x25, 0x50, 0x44, 0x46];
const startsWith = (bytes: Uint8Array, start: readonly number[]) => start.every((byte, i) => bytes[i] === byte);

/**
 * A table's text, whatever letters it was saved in: UTF-8, UTF-16, or the letters of older Western programs.
 * @throws NotATable
 */
export function textOf(bytes: Uint8Array): string {
  if (startsWith(bytes, ZIP) || startsWith(bytes, OLD_SPREADSHEET))
    throw new NotATable('That is a spreadsheet program’s own file. Save its sheet as CSV there, and bring that in.');
  if (startsWith(bytes, PDF))
    throw new NotATable('That is a PDF, not a table. Save the table as CSV, and bring that in.');
  const text = decodedText(bytes);
  if (text.includes('\0')) throw new NotATable('That is no text. Save the table as CSV, and bring that in.');
  if (text.trim() === '') throw new NotATable('There is nothing in that file.');
  return text;
}
