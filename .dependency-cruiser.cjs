// Import direction of the house: core folders in the order of docs/architecture.md, everyone else through doors.
const coreOrder = [
  'geometry',
  'breps',
  'cutting',
  'marks',
  'assembly',
  'exchange',
  'step',
  'layouts',
  'sources',
  'columns',
  'catalogues',
  'poses',
  'sections',
  'views',
  'bill',
  'balloons',
  'tables',
  'sheets',
  'revisions',
  'buying',
  'documents',
  'formats',
  'forms',
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

const tests = '\\.test\\.tsx?$';
/** Code outside tests in `from` does not import `to`. */
const never = (name, from, to) => ({
  name,
  severity: 'error',
  from: { path: from, pathNot: tests },
  to: { path: to },
});
/** Rooms of a house, lowest first: each uses those before it, never one behind it. */
const rooms = (house, names) =>
  names
    .slice(0, -1)
    .map((name, at) =>
      never(
        `${house}-${name}-imports-only-downwards`,
        `^${house}/${name}/`,
        `^${house}/(${names.slice(at + 1).join('|')})/`,
      ),
    );
/** What stands in each house besides core, and which way it looks. */
const inside = [
  // web: data knows no screen; shell what every station shares; stations do not know one another, but for the bill, which
  // shows the machine.
  never('web-data-knows-no-screen', '^web/src/data/', '^web/src/(shell|projects|model|bill|sheets|buying)/'),
  // Work on lines that both bill and sheet offer.
  never('web-lines-know-no-station', '^web/src/lines/', '^web/src/(shell|projects|model|bill|sheets|buying)/'),
  never('web-controls-know-no-one', '^web/src/controls/', '^web/src/(?!controls/|count\\.ts)'),
  never('web-shell-knows-no-station', '^web/src/shell/', '^web/src/(projects|model|bill|sheets|buying)/'),
  never('web-projects-alone', '^web/src/projects/', '^web/src/(model|bill|sheets|buying)/'),
  never('web-model-alone', '^web/src/model/', '^web/src/(projects|bill|sheets|buying)/'),
  never('web-bill-with-model', '^web/src/bill/', '^web/src/(projects|sheets|buying)/'),
  never('web-sheets-alone', '^web/src/sheets/', '^web/src/(projects|model|bill|buying)/'),
  never('web-buying-with-model', '^web/src/buying/', '^web/src/(projects|bill|sheets)/'),
  // server: rooms in one order, routes on top; a migration is history and knows nothing of what came later.
  ...rooms('server/src', ['store', 'jobs', 'suppliers', 'opened', 'desk', 'log', 'http', 'projects', 'work', 'routes']),
  ...rooms('core/src/sheets', ['paper', 'laid', 'drawn', 'planned', 'byHand', 'checked']),
  ...rooms('core/src/documents', ['kinds', 'project', 'intended']),
  ...rooms('core/src/views', ['scene', 'lines', 'seen']),
  ...rooms('engine/src', ['shapes', 'paper', 'tables', 'pool']),
  ...rooms('web/src/data', ['made', 'bills', 'editing']),
  ...rooms('web/src/model', ['tree', 'solid', 'flat']),
  ...rooms('web/src/sheets', ['surface', 'inspector']),
  never('server-routes-on-top', '^server/src/(?!app\\.ts|routes/)', '^server/src/routes/'),
  // What jobs do stays in their thread: nothing that answers requests can reach it, so no request waits for it.
  never('server-work-in-its-thread', '^server/src/(?!work/)', '^server/src/work/'),
  never(
    'server-migrations-know-no-one',
    '^server/src/store/migrations/',
    '^(server/src/(?!store/migrations/)|core|contract|engine)/?',
  ),
  never(
    'server-migrations-for-the-database',
    '^server/src/(?!store/database\\.ts|store/migrations/)',
    '^server/src/store/migrations/',
  ),
  // engine: the kernel is loaded in workers only, where a crash of it ends nothing else.
  never('engine-kernel-in-workers', '^engine/src/(?!pool/worker\\.ts)', '^engine/src/shapes/tessellate\\.ts$'),
  never('engine-by-its-door', '^(server|bin)/', '^engine/src/(?!index\\.ts$)'),
  // contract: documents know nothing of requests.
  never('contract-documents-alone', '^contract/src/documents/', '^contract/src/(?!documents/)'),
  never('contract-documents-by-their-door', '^contract/src/[^/]+$', '^contract/src/documents/(?!index\\.ts$)'),
  never('contract-by-its-door', '^(server|web|bin|engine)/', '^contract/src/(?!index\\.ts$)'),
];

module.exports = {
  forbidden: [
    ...direction,
    ...doors,
    ...inside,
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
