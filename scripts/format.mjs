// Prettier over everything it knows here, and no line over 120 characters (prettier leaves strings and comments).
import { execFileSync, spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { bin, root } from './install.mjs';

const LONGEST = 120;
const git = ['ls-files', '--cached', '--others', '--exclude-standard'];
const files = execFileSync('git', git, { cwd: root, encoding: 'utf8' })
  .split('\n')
  .filter((f) => /\.(ts|tsx|mts|mjs|cjs|js|html|css)$/.test(f));
let faults = 0;
for (const f of files) {
  let text;
  try {
    text = readFileSync(`${root}/${f}`, 'utf8');
  } catch {
    continue; // removed, not committed yet
  }
  text.split('\n').forEach((line, i) => {
    if (line.length <= LONGEST) return;
    faults++;
    console.error(`${f}:${i + 1}: ${line.length} characters, at most ${LONGEST}`);
  });
}
if (files.length < 100) {
  console.error(`only ${files.length} files were seen: is this a git checkout?`);
  faults++;
}
const r = spawnSync(process.execPath, [bin('prettier/bin/prettier.cjs'), '--check', '--log-level', 'warn', '.'], {
  cwd: root,
  stdio: 'inherit',
});
process.exit(faults || r.status ? 1 : 0);
