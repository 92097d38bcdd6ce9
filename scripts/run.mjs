// npm run demo | npm start: install what is missing, build what changed, serve.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { installWhatIsMissing, root } from './setup.mjs';

const [mode, ...rest] = process.argv.slice(2);
installWhatIsMissing();
const { buildWhatChanged } = await import('./build.mjs');
await buildWhatChanged();
// Answers are many and short-lived: with the room that Node gives them at once the server held a fifth more memory, and was no faster.
const args = [
  '--max-semi-space-size=8',
  '--enable-source-maps',
  join(root, 'dist', 'server', 'main.js'),
  ...(mode === 'demo' ? ['--demo'] : []),
  ...rest,
];
const server = spawn(process.execPath, args, {
  stdio: 'inherit',
  env: { MALLOC_ARENA_MAX: '2', ...process.env },
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
server.on('exit', (code) => process.exit(code ?? 0));
