// The walls between folders (.dependency-cruiser.cjs), and the count of modules: a checker that saw few must not pass.
import { cruise } from 'dependency-cruiser';
import { readdirSync } from 'node:fs';
import { createRequire } from 'node:module';
import { root } from './install.mjs';

process.chdir(root);
const { options, forbidden } = createRequire(import.meta.url)('../.dependency-cruiser.cjs');
const r = (await cruise(['src', 'demo'], { ...options, validate: true, ruleSet: { forbidden } })).output;
const files = readdirSync('src', { recursive: true }).filter(
  (f) => /\.tsx?$/.test(f) && !/\.(test|gen)\./.test(f),
).length;
const seen = r.modules.filter((m) => m.source.startsWith('src/') && !m.couldNotResolve).length;
const deps = r.summary.totalDependenciesCruised;
for (const v of r.summary.violations)
  console.error(
    `${v.rule.severity}: ${v.from} -> ${v.to}: ` +
      `${v.rule.name}${v.cycle ? ` (${v.cycle.map((c) => c.name ?? c).join(' -> ')})` : ''}`,
  );
console.log(
  `walls: ${seen} modules of ${files} files, ${deps} dependencies, ${r.summary.violations.length} violations`,
);
if (seen < files * 0.95 || deps < files) {
  console.error('walls: too few modules or dependencies were seen; the checker does not understand the sources');
  process.exit(1);
}
process.exit(r.summary.violations.length ? 1 : 0);
