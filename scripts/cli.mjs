// Runs src/cli in this process' directory and with its streams; says what to do when nothing is installed yet.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, renameSync, rmSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

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
const made = await bundle().catch(() => null);
if (process.env.INIT_CWD) process.chdir(process.env.INIT_CWD);
if (made) await import(pathToFileURL(made).href);
else {
  // Nothing can be written here, say: from its sources, a second slower.
  const { register } = await import('tsx/esm/api');
  register();
  await import('../src/cli/index.ts');
}

/**
 * The program in a few files, made anew when any of its sources changed: read one by one they take a second longer.
 * Its name tells what it was made of, so that nothing old is ever run, and two that make it at once do not meet.
 */
async function bundle() {
  const sources = readdirSync(join(root, 'src'), { recursive: true, withFileTypes: true })
    .filter((f) => f.isFile())
    .map((f) => join(f.parentPath ?? f.path, f.name))
    .sort();
  const sum = createHash('sha256');
  for (const f of [...sources, join(root, 'package-lock.json')]) {
    const { mtimeMs, size } = statSync(f);
    sum.update(`${f} ${mtimeMs} ${size}\n`);
  }
  const build = join(root, 'build');
  const dir = join(build, `cli-${sum.digest('hex').slice(0, 16)}`);
  const main = join(dir, 'index.mjs');
  if (existsSync(main)) return main;
  const { build: make } = await import('esbuild');
  const fresh = `${dir}.${process.pid}`;
  await make({
    entryPoints: ['index', 'decodeThread'].map((f) => join(root, 'src/cli', `${f}.ts`)),
    outdir: fresh,
    outExtension: { '.js': '.mjs' },
    bundle: true,
    splitting: true,
    format: 'esm',
    platform: 'node',
    target: 'node20',
    packages: 'external',
    logLevel: 'error',
  });
  try {
    renameSync(fresh, dir);
  } catch (e) {
    // Another one was first.
    rmSync(fresh, { recursive: true, force: true });
    if (!existsSync(main)) throw e;
  }
  // A long render may still read from an older one.
  const day = 24 * 3_600_000;
  for (const f of readdirSync(build))
    if (f.startsWith('cli-') && Date.now() - statSync(join(build, f)).mtimeMs > day)
      rmSync(join(build, f), { recursive: true, force: true });
  return main;
}
