// One command that runs everything: packages, Chromium, generated code, types, lint, walls, unit and browser tests.
// Ends with a plain line "N passed, N failed".
import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join, relative } from 'node:path';
import { stripVTControlCharacters } from 'node:util';
import { bin, build, generate, installPackages, root } from './install.mjs';

const CHROMIUM = 'apt-get update && apt-get install -y --no-install-recommends chromium';
const findChromium = () =>
  ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'].some((p) => existsSync(p));
function installChromium() {
  if (findChromium()) return;
  if (process.platform === 'linux' && process.getuid?.() === 0) {
    console.log('Installing Chromium from Debian packages (once) ...');
    try {
      execFileSync('sh', ['-c', CHROMIUM], { stdio: ['ignore', 'ignore', 'inherit'] });
    } catch {
      // Said below.
    }
  }
  if (!findChromium()) {
    console.error(`Chromium is missing and cannot be installed from here. Run this once as root:\n\n  ${CHROMIUM}\n`);
    process.exit(1);
  }
}

let passed = 0;
let failed = 0;
/** Said again at the end: of a long run often only the last lines are kept. */
const faults = [];
const fault = (name, why = '') => {
  const line = stripVTControlCharacters(why).trim().split('\n')[0].slice(0, 300);
  faults.push(`  ${name}${line && `: ${line}`}`);
};
function step(name, args, opts = {}) {
  const t0 = Date.now();
  console.log(`\n== ${name}`);
  const r = spawnSync(process.execPath, args, { cwd: root, stdio: 'inherit', ...opts });
  console.log(`== ${name}: ${r.status === 0 ? 'ok' : 'FAILED'}, ${((Date.now() - t0) / 1000).toFixed(0)} s`);
  return r.status === 0;
}
/** Checks that need one thread each, two at a time; what they print stays together. */
async function checks(list) {
  const left = [...list];
  const lane = async () => {
    for (let next = left.shift(); next; next = left.shift()) {
      const [name, args] = next;
      const t0 = Date.now();
      const said = [];
      const child = spawn(process.execPath, args, { cwd: root });
      for (const out of [child.stdout, child.stderr]) out.on('data', (d) => said.push(d));
      const ok = await new Promise((done) => {
        child.on('error', (e) => {
          said.push(Buffer.from(`${e.message}\n`));
          done(false);
        });
        child.on('close', (code) => done(code === 0));
      });
      const took = ((Date.now() - t0) / 1000).toFixed(0);
      console.log(`\n== ${name}: ${ok ? 'ok' : 'FAILED'}, ${took} s\n${Buffer.concat(said)}`);
      if (ok) passed++;
      else {
        failed++;
        fault(name, Buffer.concat(said).toString().trim().split('\n').at(-1));
      }
    }
  };
  await Promise.all([lane(), lane()]);
}
function counted(name, args, file, read) {
  const ok = step(name, args);
  try {
    const { p, f, said } = read(JSON.parse(readFileSync(file, 'utf8')));
    passed += p;
    failed += f;
    for (const [what, why] of said) fault(what, why);
    if (f > 0) return;
    if (!ok || p === 0) {
      failed++;
      fault(name, ok ? 'nothing ran' : 'the run itself failed');
    }
  } catch (e) {
    failed++;
    fault(name, `left no result: ${e.message}`);
  }
}

const specs = (suites) => suites.flatMap((s) => [...(s.specs ?? []), ...specs(s.suites ?? [])]);

installPackages();
installChromium();
generate();
const out = join(root, '.tmp');
rmSync(out, { recursive: true, force: true });
mkdirSync(out, { recursive: true });

await checks([
  ['lint', [bin('eslint/bin/eslint.js'), '.', '--max-warnings', '0']],
  ['types', [bin('typescript/bin/tsc'), '-p', 'tsconfig.json']],
  ['types of the core, without DOM and Node', [bin('typescript/bin/tsc'), '-p', 'tsconfig.core.json']],
  ['format: prettier, lines of at most 120 characters', ['scripts/format.mjs']],
  ['walls', ['scripts/walls.mjs']],
]);
counted(
  'unit tests',
  [
    bin('vitest/vitest.mjs'),
    'run',
    '--reporter=default',
    '--reporter=json',
    `--outputFile.json=${join(out, 'unit.json')}`,
  ],
  join(out, 'unit.json'),
  (j) => ({
    p: j.numPassedTests,
    f: j.numFailedTests + j.numFailedTestSuites * (j.numFailedTests ? 0 : 1),
    said: j.testResults
      .filter((r) => r.status === 'failed')
      .flatMap((r) => {
        const bad = r.assertionResults.filter((a) => a.status === 'failed');
        const file = relative(root, r.name);
        return bad.length > 0
          ? bad.map((a) => [`${file}: ${a.fullName}`, a.failureMessages.join('\n')])
          : [[file, r.message ?? '']];
      }),
  }),
);
build();
for (const [name, project] of [
  ['browser tests', 'together'],
  ['browser tests by the clock', 'clock'],
])
  counted(name, [bin('@playwright/test/cli.js'), 'test', '--project', project], join(out, 'browser.json'), (j) => ({
    p: j.stats.expected,
    f: j.stats.unexpected + j.stats.flaky,
    said: specs(j.suites)
      .filter((s) => !s.ok)
      .map((s) => [
        `${s.file}: ${s.title}`,
        s.tests.flatMap((t) => t.results.map((r) => r.error?.message ?? '')).join('\n'),
      ]),
  }));

if (faults.length > 0) console.log(`\nFailed:\n${faults.join('\n')}`);
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed ? 1 : 0);
