// Who may import whom: docs/architecture.md. Tests and vectors are free.
const TEST = '\\.test\\.tsx?$|/vectors\\.ts$|^testkit/|^tests/';
const only = (name, from, allowed, npm = false) => ({
  name,
  severity: 'error',
  from: { path: from, pathNot: TEST },
  to: { pathNot: [...allowed, ...(npm ? ['node_modules', '^[^./]*$'] : [])].join('|') },
});
module.exports = {
  forbidden: [
    {
      name: 'no-cycles',
      severity: 'error',
      from: { pathNot: TEST },
      to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } },
    },
    only('core-imports-only-core', '^src/core/', ['^src/core/']),
    {
      name: 'no-op-imports-another',
      severity: 'error',
      from: { path: '^src/core/ops/([^/]+)/', pathNot: TEST },
      to: { path: '^src/core/ops/', pathNot: '^src/core/ops/$1/' },
    },
    {
      name: 'math-color-image-know-no-op',
      severity: 'error',
      from: { path: '^src/core/(math|color|image)/' },
      to: { path: '^src/core/(ops|graph|scopes|skin|formats)/' },
    },
    only('engine', '^src/engine/', ['^src/engine/', '^src/core/', '^src/media/', '^src/document/', '^src/protocol/']),
    only('media', '^src/media/', ['^src/media/', '^src/core/', '^src/protocol/'], true),
    only('protocol', '^src/protocol/', ['^src/protocol/', '^src/core/', '^src/document/', '^src/media/picture\\.ts$']),
    only('document', '^src/document/', ['^src/document/', '^src/core/'], true),
    only('ui', '^src/ui/', ['^src/ui/', '^src/core/', '^src/document/'], true),
    {
      name: 'ui-knows-no-app-or-engine',
      severity: 'error',
      from: { path: '^src/ui/' },
      to: { path: '^src/(app|engine|workers|media|server|cli)/' },
    },
    // The decoding thread loads the decoders' WebAssembly itself: only a bundler's entry can.
    only('workers', '^src/workers/', [
      '^src/workers/',
      '^src/engine/',
      '^src/media/',
      '^src/protocol/',
      'node_modules/(@jsquash|lcms-wasm)/.*\\.wasm',
      'node_modules/hash-wasm/',
    ]),
    {
      name: 'app-reaches-the-engine-by-messages',
      severity: 'error',
      from: { path: '^src/app/', pathNot: TEST },
      to: { path: '^src/(engine|server|cli)/' },
    },
    {
      name: 'nobody-imports-app-cli-server',
      severity: 'error',
      from: { path: '^src/(?!app|cli|server)', pathNot: TEST },
      to: { path: '^src/(app|cli|server)/' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { extensions: ['.ts', '.tsx', '.js', '.mjs', '.json'] },
  },
};
