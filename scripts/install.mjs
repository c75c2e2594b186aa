// Installs what is missing: packages by `npm ci`, again when the lock file changed.
import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = join(dirname(fileURLToPath(import.meta.url)), '..');
export const run = (cmd, args, opts = {}) => execFileSync(cmd, args, { cwd: root, stdio: 'inherit', ...opts });
export const node = (...args) => run(process.execPath, args);
export const bin = (file) => join(root, 'node_modules', file);

export function installPackages() {
  if (Number(process.versions.node.split('.')[0]) < 20) {
    console.error(`Node ${process.versions.node} is too old: version 20 or newer is needed.`);
    process.exit(1);
  }
  const sum = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  const mark = join(root, 'node_modules/.rowanleaf-installed');
  if (existsSync(mark) && readFileSync(mark, 'utf8') === sum) return;
  console.log('Installing packages (once) ...');
  run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], { shell: process.platform === 'win32' });
  writeFileSync(mark, sum);
}
export function generate() {
  node(bin('tsx/dist/cli.mjs'), 'scripts/gen.ts');
  node('scripts/build-kernels.mjs');
}
export function build() {
  console.log('Building ...');
  node(bin('vite/bin/vite.js'), 'build', '--logLevel', 'warn');
}
