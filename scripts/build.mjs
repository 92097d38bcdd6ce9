// Builds web and server into dist/ when their sources changed since the last build.
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { installWhatIsMissing, root } from './setup.mjs';

const stamp = join(root, 'dist', '.stamp');

function sourceHash() {
  const hash = createHash('sha256');
  const add = (path) => hash.update(path).update(readFileSync(join(root, path)));
  const walk = (folder) => {
    for (const entry of readdirSync(join(root, folder), { withFileTypes: true }).sort((a, b) =>
      a.name < b.name ? -1 : 1,
    )) {
      const path = `${folder}/${entry.name}`;
      if (entry.isDirectory()) walk(path);
      else if (!/\.test\.tsx?$/.test(entry.name)) add(path);
    }
  };
  walk('src');
  for (const file of ['index.html', 'vite.config.ts', 'package-lock.json', 'scripts/build.mjs']) add(file);
  return hash.digest('hex');
}

/** @returns true when something was built */
export async function buildWhatChanged() {
  const hash = sourceHash();
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === hash) return false;
  console.log('Building …');
  rmSync(join(root, 'dist'), { recursive: true, force: true });
  const [{ build: viteBuild }, { build: esbuild }] = await Promise.all([import('vite'), import('esbuild')]);
  await viteBuild({ root, logLevel: 'warn' });
  await esbuild({
    absWorkingDir: root,
    entryPoints: {
      main: 'src/server/main.ts',
      'file-worker': 'src/server/database/file-worker.ts',
      'pool-worker': 'src/server/collection/pool-worker.ts',
    },
    outdir: 'dist/server',
    bundle: true,
    platform: 'node',
    format: 'esm',
    target: 'node20',
    packages: 'external',
    define: { PROGRAM: JSON.stringify(hash) },
    sourcemap: true,
    logLevel: 'warning',
  });
  writeFileSync(stamp, hash);
  return true;
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  installWhatIsMissing();
  await buildWhatChanged();
}
