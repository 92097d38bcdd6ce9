import { closeSync, fsyncSync, mkdirSync, openSync, renameSync, rmSync, writeSync } from 'node:fs';
import { dirname } from 'node:path';
import { syncToDisk } from '../database/file-work.ts';

/** Writes a small file of the owner's eyes only, whole or not at all, and on the disk before it returns. @throws ENOSPC and its like: then the old one stands */
export function writeWhole(file: string, text: string): void {
  mkdirSync(dirname(file), { recursive: true });
  const part = `${file}.part`;
  try {
    const handle = openSync(part, 'w', 0o600);
    try {
      writeSync(handle, text);
      fsyncSync(handle);
    } finally {
      closeSync(handle);
    }
    renameSync(part, file);
  } catch (error) {
    rmSync(part, { force: true });
    throw error;
  }
  syncToDisk(dirname(file));
}
