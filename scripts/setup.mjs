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

/** Runs npm ci when the lockfile changed (or Node did). The database driver is compiled here, from its own source. */
export function installWhatIsMissing() {
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lockHash()) return;
  const has = (command) => spawnSync(command, ['--version'], { stdio: 'ignore' }).status === 0;
  const canCompile = has('python3') && has('make') && has('g++');
  const env = { ...process.env };
  if (canCompile) {
    console.log('Installing packages; the database driver is compiled, which takes two to four minutes the first time …');
    env.npm_config_build_from_source = 'true';
    const prefix = dirname(dirname(process.execPath));
    if (existsSync(join(prefix, 'include', 'node', 'node.h'))) env.npm_config_nodedir = prefix;
  } else {
    console.log("Installing packages. There is no compiler (python3, make, g++) here, so the database driver's own prebuilt file is used …");
  }
  const npm = process.platform === 'win32' ? 'npm.cmd' : 'npm';
  const result = spawnSync(npm, ['ci', '--loglevel=error', '--include=dev'], {
    cwd: root,
    env,
    stdio: ['ignore', 'inherit', 'inherit'],
    shell: process.platform === 'win32',
  });
  if (result.status !== 0) {
    console.error('The packages could not be installed. Check the network, then run the same command again.');
    process.exit(result.status ?? 1);
  }
  writeFileSync(stamp, lockHash());
}

if (process.argv[1] === fileURLToPath(import.meta.url)) installWhatIsMissing();
