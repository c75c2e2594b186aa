// Lists the licences of everything that ships, fonts included: docs/third-party.md.
import { existsSync, readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './install.mjs';

const lock = JSON.parse(readFileSync(join(root, 'package-lock.json'), 'utf8'));
const rows = [];
for (const [path, p] of Object.entries(lock.packages)) {
  if (!path || p.dev || p.optional || p.devOptional) continue;
  const dir = join(root, path);
  if (!existsSync(join(dir, 'package.json'))) continue;
  const j = JSON.parse(readFileSync(join(dir, 'package.json'), 'utf8'));
  const licence =
    typeof j.license === 'string' ? j.license : (j.license?.type ?? j.licenses?.map((l) => l.type).join(', ') ?? '');
  const file = readdirSync(dir).find((f) => /^(licen[cs]e|copying|ofl)/i.test(f));
  rows.push([j.name, j.version, licence || 'see file', file ?? '']);
}
rows.sort((a, b) => (a[0] < b[0] ? -1 : 1));
const missing = rows.filter((r) => r[2] === 'see file' && !r[3]);
writeFileSync(
  join(root, 'docs/third-party.md'),
  `# Third-party licences\n\nWritten by \`npm run licences\` from package-lock.json: everything that ` +
    `\`npm start\` ships or runs. Fonts: Source Sans 3 and Source Serif 4 (SIL Open Font License 1.1), ` +
    `from the \`@fontsource-variable\` packages. Tools used only for building and testing are not ` +
    `listed.\n\n| package | version | licence | file ` +
    `|\n|---|---|---|---|\n${rows.map((r) => `| ${r.join(' | ')} |`).join('\n')}\n`,
);
console.log(`licences: ${rows.length} packages`);
if (missing.length) {
  console.error(`No licence found for ${missing.map((r) => r[0]).join(', ')}`);
  process.exit(1);
}
