// Import direction of the house: core folders in the order of docs/architecture.md, everyone else through doors.
const coreOrder = [
  'geometry',
  'marks',
  'assembly',
  'step',
  'sources',
  'columns',
  'views',
  'bill',
  'balloons',
  'tables',
  'sheets',
  'documents',
  'formats',
];
const existing = coreOrder.filter((name) => require('node:fs').existsSync(`core/src/${name}`));

/** A core folder imports only from folders above it in the list. */
const direction = existing.slice(0, -1).map((name, at) => ({
  name: `core-${name}-imports-only-upwards`,
  severity: 'error',
  from: { path: `^core/src/${name}/`, pathNot: '\\.test\\.ts$' },
  to: { path: `^core/src/(${existing.slice(at + 1).join('|')})/` },
}));

/** Only a folder's index.ts is used from outside (tests of a folder may use its inside). */
const doors = existing.map((name) => ({
  name: `core-${name}-by-its-door`,
  severity: 'error',
  from: { pathNot: `^core/src/${name}/` },
  to: { path: `^core/src/${name}/(?!index\\.ts$)` },
}));

module.exports = {
  forbidden: [
    ...direction,
    ...doors,
    {
      name: 'testkit-for-tests-only',
      severity: 'error',
      from: { pathNot: '\\.(test|spec)\\.ts$|^testkit/|^bench/' },
      to: { path: '^testkit/' },
    },
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'core-is-pure',
      severity: 'error',
      from: { path: '^core/src', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'core-knows-no-one',
      severity: 'error',
      from: { path: '^core/src', pathNot: '\\.test\\.ts$' },
      to: { path: '^(engine|contract|server|web|demo)/' },
    },
    {
      name: 'contract-uses-core-only',
      severity: 'error',
      from: { path: '^contract/src' },
      to: { path: '^(engine|server|web|demo)/' },
    },
    {
      name: 'engine-without-server',
      severity: 'error',
      from: { path: '^engine/src' },
      to: { path: '^(server|web|contract)/' },
    },
    { name: 'server-without-web', severity: 'error', from: { path: '^server/src' }, to: { path: '^web/' } },
    {
      name: 'web-without-node',
      severity: 'error',
      from: { path: '^web/src', pathNot: '\\.test\\.tsx?$' },
      to: { path: '^(engine|server|demo)/' },
    },
    { name: 'no-unresolved', severity: 'error', from: {}, to: { couldNotResolve: true, pathNot: '\\?(worker|url)' } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)(dist|data|node_modules/\\.cache)/' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: {
      extensions: ['.ts', '.tsx', '.mjs', '.js', '.json', '.css'],
      exportsFields: ['exports'],
      conditionNames: ['import', 'node', 'default'],
    },
  },
};
