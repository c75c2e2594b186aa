// Builds kernels/*.ts to build/kernels.wasm (own memory may be plain) and build/kernels.shared.wasm (shared memory).
// Skips when both are newer than every source.
import { execFileSync } from 'node:child_process';
import { mkdirSync, readdirSync, readFileSync, statSync, writeFileSync, existsSync } from 'node:fs';
import { join, dirname } from 'node:path';
import { fileURLToPath } from 'node:url';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const dir = join(root, 'kernels');
const out = join(root, 'build');
mkdirSync(out, { recursive: true });
const files = readdirSync(dir).filter((f) => f.endsWith('.ts') && f !== 'all.gen.ts');
const all = join(dir, 'all.gen.ts');
const text = files.map((f) => `export * from './${f.slice(0, -3)}';`).join('\n') + '\n';
// Written only when it changed: its time tells that a kernel was added or removed.
if (!existsSync(all) || readFileSync(all, 'utf8') !== text) writeFileSync(all, text);
const newest = Math.max(
  ...[
    all,
    ...files.map((f) => join(dir, f)),
    ...readdirSync(join(dir, 'lib')).map((f) => join(dir, 'lib', f)),
    fileURLToPath(import.meta.url),
  ].map((f) => statSync(f).mtimeMs),
);
const targets = [
  ['kernels.wasm', []],
  ['kernels.shared.wasm', ['--sharedMemory', '--enable', 'threads', '--maximumMemory', '65536']],
];
for (const [name, extra] of targets) {
  const file = join(out, name);
  if (existsSync(file) && statSync(file).mtimeMs > newest) continue;
  execFileSync(
    process.execPath,
    [
      join(root, 'node_modules/assemblyscript/bin/asc.js'),
      join(dir, 'all.gen.ts'),
      '-o',
      file,
      '-O3',
      '--noAssert',
      '--runtime',
      'stub',
      '--importMemory',
      '--initialMemory',
      '16',
      '--memoryBase',
      '1024',
      '--enable',
      'simd',
      '--disableWarning',
      '112',
      ...extra,
    ],
    { stdio: 'inherit', cwd: root },
  );
  console.log(`kernels: ${name} ${statSync(file).size} bytes`);
}
