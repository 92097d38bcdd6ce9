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
const refused = await Promise.all([
  inOrder(['Lint', bin('eslint'), ['.', '--max-warnings', '0']]),
  inOrder(
    ['Types of the core', bin('tsc'), ['-p', 'tsconfig.core.json']],
    ['Types', bin('tsc'), ['-p', 'tsconfig.json']],
    ['Import rules', bin('depcruise'), ['src', '--config', '.dependency-cruiser.cjs']],
  ),
]);
const failed =
  refused.find(Boolean) ??
  (await inOrder(
    ['Build', process.execPath, ['scripts/build.mjs']],
    ['Bundle size', process.execPath, ['scripts/check-size.mjs']],
  ));
if (failed) {
  console.log(`\n${failed} did not pass, so no test was run.\n0 passed, 1 failed`);
  process.exit(1);
}
process.exit((await inOrder(['Tests', bin('vitest'), ['run'], { FRUGAL_SIP_CHROMIUM: browser, TZ: 'UTC' }])) ? 1 : 0);

/** Carries steps out one after the other. @returns the name of the one that did not pass, if any */
async function inOrder(...steps) {
  for (const [name, command, args, env = {}] of steps) {
    console.log(`\n— ${name}`);
    const child = spawn(command, args, { cwd: root, stdio: 'inherit', env: { ...process.env, ...env } });
    const [status] = await once(child, 'exit').catch((error) => [String(error)]);
    if (status !== 0) return name;
  }
  return undefined;
}

function findOrInstallChromium() {
  const found = CHROMIUM.find((path) => existsSync(path));
  if (found) return found;
  console.log("Installing Chromium from Debian's packages for the browser tests …");
  const sudo = process.getuid?.() === 0 ? [] : ['sudo'];
  for (const args of [['update'], ['install', '-y', '--no-install-recommends', 'chromium']]) {
    const [command, ...rest] = [...sudo, 'apt-get', ...args];
    if (
      spawnSync(command, rest, {
        stdio: ['ignore', 'ignore', 'inherit'],
        env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
      }).status !== 0
    )
      break;
  }
  const installed = CHROMIUM.find((path) => existsSync(path));
  if (installed) return installed;
  console.error(
    'There is no Chromium. Install it, or set FRUGAL_SIP_CHROMIUM to where it is, and run npm test again.\n0 passed, 1 failed',
  );
  process.exit(1);
}
