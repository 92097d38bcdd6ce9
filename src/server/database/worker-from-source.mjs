// Only where the server runs from source (tests, benchmarks): a thread that would have to read TypeScript. Hooks that read it sometimes stood for ever when a
// thread began, so it is bundled first, as for shipping.
import { build } from 'esbuild';
import { randomUUID } from 'node:crypto';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

/** Beside the packages, so that what is bundled finds them. */
const folder = fileURLToPath(new URL('../../../node_modules/.cache/frugal-sip/', import.meta.url));

/** @param {URL} source of the worker @returns the module */
export async function bundled(source) {
  const outfile = join(folder, `${randomUUID()}.mjs`);
  await build({
    entryPoints: [fileURLToPath(source)],
    outfile,
    bundle: true,
    packages: 'external',
    platform: 'node',
    format: 'esm',
    target: 'node20',
    logLevel: 'error',
  });
  try {
    return await import(pathToFileURL(outfile).href);
  } finally {
    rmSync(outfile, { force: true });
  }
}
