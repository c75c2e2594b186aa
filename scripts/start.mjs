// One command: installs what is missing, builds when a source changed, serves.
import { spawn } from 'node:child_process';
import { existsSync, readdirSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { bin, build, generate, installPackages, root } from './install.mjs';

installPackages();
const newest = (dir) =>
  readdirSync(join(root, dir), { recursive: true, withFileTypes: true }).reduce(
    (t, f) =>
      f.isFile() && !/\.gen\./.test(f.name) ? Math.max(t, statSync(join(f.parentPath ?? f.path, f.name)).mtimeMs) : t,
    0,
  );
const built = join(root, 'dist/index.html');
const sources = Math.max(
  ...['src', 'kernels', 'scripts', 'public'].map(newest),
  ...['index.html', 'package-lock.json', 'vite.config.ts'].map((f) => statSync(join(root, f)).mtimeMs),
);
if (!existsSync(built) || statSync(built).mtimeMs < sources) {
  generate();
  build();
}
const server = spawn(process.execPath, [bin('tsx/dist/cli.mjs'), join(root, 'src/server/index.ts')], {
  cwd: root,
  stdio: 'inherit',
});
for (const s of ['SIGINT', 'SIGTERM']) process.on(s, () => server.kill(s));
server.on('exit', (code) => process.exit(code ?? 0));
