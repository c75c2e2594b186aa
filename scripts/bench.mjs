// npm run bench: milliseconds and ratios of every stage, in one run. See scripts/bench.ts.
import { bin, generate, installPackages, node } from './install.mjs';

installPackages();
generate();
node(bin('tsx/dist/cli.mjs'), 'scripts/bench.ts', ...process.argv.slice(2));
