// Installs what is missing, once per lockfile. Uses nothing but Node itself.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const stamp = join(root, 'node_modules', '.frugal-sip-lock');

const lockHash = () =>
  createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .update(process.version)
    .digest('hex');

/** Runs npm ci when the lockfile changed (or Node did). Nothing is compiled: what is not JavaScript brings its binaries along in its package. */
export function installWhatIsMissing() {
  requireNode();
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lockHash()) return;
  console.log('Installing packages …');
  const npm = process.platform === 'win32' ? 'npm.cmd' : 'npm';
  const result = spawnSync(npm, ['ci', '--loglevel=error', '--include=dev'], {
    cwd: root,
    stdio: ['ignore', 'inherit', 'inherit'],
    shell: process.platform === 'win32',
  });
  if (result.status !== 0) {
    console.error('The packages could not be installed. Check the network, then run the same command again.');
    process.exit(result.status ?? 1);
  }
  writeFileSync(stamp, lockHash());
}

/** Said here in plain words: npm itself would refuse the database's package, which names a newer Node than it needs (decision 22). */
function requireNode() {
  const [major = 0, minor = 0] = process.versions.node.split('.').map(Number);
  if (major > 20 || (major === 20 && minor >= 19)) return;
  console.error(
    `Frugal Sip needs Node 20.19 or newer; this is ${process.version}. Install a newer one, then run the same command again.`,
  );
  process.exit(1);
}

if (process.argv[1] === fileURLToPath(import.meta.url)) installWhatIsMissing();
