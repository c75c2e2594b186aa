// Runs src/cli with tsx, in this process' directory and with its streams; says what to do when nothing is installed
// yet.
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const tsx = join(root, 'node_modules/tsx/dist/cli.mjs');
if (!existsSync(tsx)) {
  process.stderr.write('rowanleaf: nothing is installed yet: run "npm start" or "npm ci" once\n');
  process.exit(1);
}
if (!existsSync(join(root, 'src/document/validators.gen.js')))
  spawnSync(process.execPath, [tsx, join(root, 'scripts/gen.ts')], { cwd: root, stdio: 'ignore' });
if (!existsSync(join(root, 'build/kernels.wasm')))
  spawnSync(process.execPath, [join(root, 'scripts/build-kernels.mjs')], { cwd: root, stdio: 'ignore' });
// In this process: two more of them took most of a second.
if (process.env.INIT_CWD) process.chdir(process.env.INIT_CWD);
const { register } = await import('tsx/esm/api');
register();
await import('../src/cli/index.ts');
