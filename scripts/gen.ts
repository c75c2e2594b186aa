/**
 * Writes what derives from declarations: the registry of operations (from the folders of src/core/ops), the
 * standalone validators (from the schemas of src/document), and the operations table of docs/operations.md.
 */
import { mkdirSync, readdirSync, readFileSync, writeFileSync, existsSync } from 'node:fs';
import { dirname, join } from 'node:path';
import type { AnyOp } from '../src/core/op/contract';
import { hoist } from './hoist';
import { fileURLToPath, pathToFileURL } from 'node:url';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const put = (file: string, text: string): void => {
  mkdirSync(dirname(file), { recursive: true });
  if (!existsSync(file) || readFileSync(file, 'utf8') !== text) writeFileSync(file, text);
};

const opsDir = join(root, 'src/core/ops');
const ids = readdirSync(opsDir, { withFileTypes: true })
  .filter((d) => d.isDirectory())
  .map((d) => d.name)
  .sort();
put(
  join(opsDir, 'registry.gen.ts'),
  `// Generated from the folders here by scripts/gen.ts.\nimport type { AnyOp } from ` +
    `'../op/contract';\n${ids.map((id) => `import ${id} from './${id}/index';`).join('\n')}\n\nexport ` +
    `const ops: readonly AnyOp[] = [${ids.join(', ')}];\n`,
);

const { ops } = (await import(pathToFileURL(join(opsDir, 'registry.gen.ts')).href)) as { ops: readonly AnyOp[] };
for (const [i, op] of ops.entries())
  if (op.id !== ids[i]) throw new Error(`src/core/ops/${ids[i]} declares the id ${op.id}: both must be the same`);
const rangeOf = (s: Exclude<AnyOp['params'][string], { kind: 'num' }>): string =>
  s.kind === 'bool'
    ? 'on, off'
    : s.kind === 'choice'
      ? Object.keys(s.options).join(', ')
      : s.kind === 'list'
        ? `${s.least} to ${s.most} numbers, ${s.min} to ${s.max}`
        : 'a name';
const paramRow = (name: string, s: AnyOp['params'][string]): string =>
  s.kind === 'num'
    ? `| \`${name}\` | ${s.default} | ${s.min} to ${s.max} | ${s.ui[0]} to ${s.ui[1]} | ${s.unit} | ${s.doc} |`
    : `| \`${name}\` | ${Array.isArray(s.default) ? s.default.join(' ') : String(s.default)} | ` +
      `${rangeOf(s)} | | | ${s.doc} |`;
const rows = ops.flatMap((op) => [
  `## ${op.title} (\`${op.id}\`, ${op.kind}, version ${op.version})`,
  '',
  op.doc,
  '',
  `*Edge cases:* ${op.edge}`,
  '',
  `*Sources:* ${op.refs.join('; ')}`,
  '',
  '| parameter | default | hard range | usual range | unit | meaning |',
  '|---|---|---|---|---|---|',
  ...Object.entries(op.params).map(([name, s]) => paramRow(name, s)),
  '',
]);
put(
  join(root, 'docs/operations.md'),
  `# Operations\n\nWritten by \`npm run gen\` from the declarations in \`src/core/ops\`; do not ` +
    `edit.\n\n${rows.join('\n')}`,
);

// Standalone validators: Ajv's compile() needs eval, which the Content-Security-Policy forbids.
const schemaFile = join(root, 'src/document/schema.ts');
if (existsSync(schemaFile)) {
  const { Ajv } = await import('ajv');
  const { default: standaloneCode } = await import('ajv/dist/standalone/index.js');
  const { projectSchema, looseSchemas } = (await import(pathToFileURL(schemaFile).href)) as {
    projectSchema: object;
    looseSchemas: readonly object[];
  };
  const ajv = new Ajv({
    inlineRefs: false,
    allErrors: true,
    verbose: false,
    strict: true,
    allowUnionTypes: true,
    code: { source: true, esm: true },
  });
  ajv.addSchema({ ...hoist(projectSchema), $id: 'project' });
  looseSchemas.forEach((x, v) => ajv.addSchema({ ...hoist(x), $id: `loose${v}` }));
  const names: Record<string, string> = {
    validateProject: 'project',
    ...Object.fromEntries(looseSchemas.map((_, v) => [`validateLoose${v}`, `loose${v}`])),
  };
  let code = (standaloneCode as unknown as { default: (a: unknown, refs: object) => string }).default(ajv, names);
  code = code.replace(
    /const (\w+) = require\("ajv\/dist\/runtime\/ucs2length"\)\.default;/g,
    'import $1M from "ajv/dist/runtime/ucs2length.js";\nconst $1 = $1M.default ?? $1M;',
  );
  code = code.replace(
    /const (\w+) = require\("ajv\/dist\/runtime\/equal"\)\.default;/g,
    'import $1M from "ajv/dist/runtime/equal.js";\nconst $1 = $1M.default ?? $1M;',
  );
  // A fault is put down by one function instead of a list spelt out at each place; nobody reads where in the schema
  // the rule stands.
  const fault = String.raw`(\{instancePath(?::.*?)?),schemaPath:"(?:[^"\\]|\\.)*"(,keyword:.*?\});`;
  const list = String.raw`if\(vErrors === null\)\{vErrors = \[\1\];\}else \{vErrors\.push\(\1\);\}`;
  code = code.replace(new RegExp(String.raw`const (err\d+) = ${fault}${list}`, 'g'), 'vErrors = put(vErrors, $2$3);');
  if (/schemaPath:"/.test(code))
    throw new Error('Ajv writes faults another way now: see the rewrite in scripts/gen.ts');
  code += 'function put(list, fault) { if (list === null) return [fault]; list.push(fault); return list; }\n';
  if (code.includes('require(')) throw new Error('A validator still calls require(): add a rewrite in scripts/gen.ts');
  put(join(root, 'src/document/validators.gen.js'), code);
  put(
    join(root, 'src/document/validators.gen.d.ts'),
    `import type { ErrorObject } from 'ajv';\n` +
      `export type Validate = ((data: unknown) => boolean) & { errors?: ErrorObject[] | null };\n` +
      Object.keys(names)
        .map((n) => `export declare const ${n}: Validate;\n`)
        .join(''),
  );
}
console.log(`gen: ${ops.length} operations`);
