// The first screen's JavaScript, gzipped, must stay within its allowance. Deterministic, so it is a check.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { root } from './setup.mjs';

const MOST_KB = 200;
const manifest = JSON.parse(readFileSync(join(root, 'dist', 'web', '.vite', 'manifest.json'), 'utf8'));
const entry = Object.values(manifest).find((chunk) => chunk.isEntry);
const seen = new Set();
const files = [];
(function walk(chunk) {
  if (!chunk || seen.has(chunk.file)) return;
  seen.add(chunk.file);
  files.push(chunk.file);
  for (const name of chunk.imports ?? []) walk(manifest[name]);
})(entry);
const bytes = files
  .filter((f) => f.endsWith('.js'))
  .reduce((sum, file) => sum + gzipSync(readFileSync(join(root, 'dist', 'web', file)), { level: 9 }).length, 0);
console.log(
  `First screen: ${(bytes / 1000).toFixed(1)} kB of JavaScript gzipped in ${files.length} files, of ${MOST_KB} kB allowed.`,
);
if (bytes > MOST_KB * 1000) {
  console.error('Load something lazily: forms, tables, overlays and charts need not be on the first screen.');
  process.exit(1);
}
