/**
 * The long runs of what the tests do shortly: `npm run soak -- files 2000`, `npm run soak -- kills 200`. Seeded,
 * and resumed where they were stopped (.tmp/soak.json); sums go into docs/measured.md by hand.
 */
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { soakFiles } from '../testkit/soakFiles';
import { soakKills } from '../testkit/soakKills';
import type { KillsResult } from '../testkit/soakKills';

const LANES = 3;
const root = join(import.meta.dirname, '..');
const [what = 'files', given] = process.argv.slice(2);
const file = join(root, '.tmp/soak.json');
interface Sum {
  done: number;
  opened: number;
  refused: number;
  promised: number;
  slowestMs: number;
  peakMb: number;
  faults: string[];
}
const zero: Sum = { done: 0, opened: 0, refused: 0, promised: 0, slowestMs: 0, peakMb: 0, faults: [] };
mkdirSync(join(root, '.tmp'), { recursive: true });
const all = (existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : {}) as Record<string, Sum>;
const sum: Sum = all[what] ?? zero;
const keep = (s: Sum): void => {
  all[what] = s;
  writeFileSync(file, JSON.stringify(all, null, 1));
  console.log(
    `${what}: ${s.done} done, ${s.faults.length} faults` +
      (what === 'files'
        ? `, ${s.opened} opened, ${s.refused} refused, slowest ${s.slowestMs.toFixed(0)} ms, ${s.peakMb.toFixed(0)} MB`
        : `, ${s.promised} promises`),
  );
};

if (what === 'files') {
  // Each run takes the next files of the same seed.
  const add = (r: Awaited<ReturnType<typeof soakFiles>>): Sum => ({
    ...sum,
    done: sum.done + r.to - r.from,
    opened: sum.opened + r.opened,
    refused: sum.refused + r.refused,
    slowestMs: Math.max(sum.slowestMs, r.slowestMs),
    peakMb: Math.max(sum.peakMb, r.peakMb),
    faults: [...sum.faults, ...r.faults],
  });
  keep(add(await soakFiles(1, sum.done, sum.done + Number(given ?? 2000), (r) => keep(add(r)))));
} else if (what === 'kills') {
  const PORT = '5198';
  const server = spawn(
    process.execPath,
    [join(root, 'node_modules/tsx/dist/cli.mjs'), join(root, 'src/server/index.ts')],
    {
      cwd: root,
      env: { ...process.env, PORT },
      stdio: ['ignore', 'pipe', 'inherit'],
    },
  );
  await new Promise<void>((done) => server.stdout.on('data', (d: Buffer) => String(d).includes('ready') && done()));
  try {
    // Three browsers at a time, each on a profile of its own.
    const count = Math.ceil(Number(given ?? 200) / LANES);
    const lanes = Array.from({ length: LANES }, () => ({ kills: 0, promised: 0, faults: [] as string[] }));
    const keepAll = (): void =>
      keep({
        ...sum,
        done: sum.done + lanes.reduce((n, l) => n + l.kills, 0),
        promised: sum.promised + lanes.reduce((n, l) => n + l.promised, 0),
        faults: [...sum.faults, ...lanes.flatMap((l) => l.faults)],
      });
    await Promise.all(
      lanes.map(async (_, i) => {
        const take = (r: KillsResult): void => {
          lanes[i] = { ...r, faults: [...r.faults] };
          keepAll();
        };
        take(await soakKills(`http://localhost:${PORT}`, 1 + sum.done + 100_000 * i, count, take));
      }),
    );
  } finally {
    server.kill();
  }
} else {
  console.error('Usage: npm run soak -- files|kills [COUNT]');
  process.exit(2);
}
for (const f of all[what]!.faults) console.error(f);
process.exit(all[what]!.faults.length ? 1 : 0);
