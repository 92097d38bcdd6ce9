// npm test: install what is missing, then type-check, lint, import rules, build, bundle size, and every test.
import { spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { installWhatIsMissing, root } from './setup.mjs';

const CHROMIUM = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'];

installWhatIsMissing();
const browser = process.env.FRUGAL_SIP_CHROMIUM ?? findOrInstallChromium();
const bin = (name) => join(root, 'node_modules', '.bin', name);

// Lint takes as long as types and import rules together: side by side, a core each.
await Promise.all([
  step('Lint', bin('eslint'), ['.', '--max-warnings', '0']),
  step('Types of the core', bin('tsc'), ['-p', 'tsconfig.core.json'])
    .then(() => step('Types', bin('tsc'), ['-p', 'tsconfig.json']))
    .then(() => step('Import rules', bin('depcruise'), ['src', '--config', '.dependency-cruiser.cjs'])),
]);
await step('Build', process.execPath, ['scripts/build.mjs']);
await step('Bundle size', process.execPath, ['scripts/check-size.mjs']);
await step('Tests', bin('vitest'), ['run'], { FRUGAL_SIP_CHROMIUM: browser, TZ: 'UTC' });

async function step(name, command, args, env = {}) {
  console.log(`\n— ${name}`);
  const [status] = await once(spawn(command, args, { cwd: root, stdio: 'inherit', env: { ...process.env, ...env } }), 'exit');
  if (status !== 0) {
    if (name !== 'Tests') console.log(`\n${name} did not pass, so no test was run.\n0 passed, 1 failed`);
    process.exit(status ?? 1);
  }
}

function findOrInstallChromium() {
  const found = CHROMIUM.find((path) => existsSync(path));
  if (found) return found;
  console.log("Installing Chromium from Debian's packages for the browser tests …");
  const sudo = process.getuid?.() === 0 ? [] : ['sudo'];
  for (const args of [['update'], ['install', '-y', '--no-install-recommends', 'chromium']]) {
    const [command, ...rest] = [...sudo, 'apt-get', ...args];
    if (spawnSync(command, rest, { stdio: ['ignore', 'ignore', 'inherit'], env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } }).status !== 0) break;
  }
  const installed = CHROMIUM.find((path) => existsSync(path));
  if (installed) return installed;
  console.error('There is no Chromium. Install it, or set FRUGAL_SIP_CHROMIUM to where it is, and run npm test again.\n0 passed, 1 failed');
  process.exit(1);
}
