/** One direction of imports: core ← contract ← formats ← engine ← server, cli; web takes core and contract. */
/** What computes beside the page: workers, and what only they load. */
const WEB_COMPUTING = 'web/(preview|compare|grade)/([a-zA-Z]+\\.worker|measuredDifference)\\.ts$';
const TESTS = '\\.test\\.tsx?$';

const only = (name, from, allowed) => ({
  name: `${name}-imports`,
  severity: 'error',
  comment: `${name} may import ${allowed.join(', ')} alone.`,
  from: { path: from.endsWith('$') ? `^src/${from}` : `^src/${from}/`, pathNot: TESTS },
  to: { path: '^(src|demo|tests|bench)/', pathNot: allowed.map((a) => `^src/${a}/`) },
});

/** The ladder of core: a rung imports those before it, and none after it. */
const RUNGS = [
  'base',
  'math',
  'units',
  'camera',
  'materials',
  'model',
  'stage',
  'image',
  'frame',
  'shots',
  'plan',
  'planning',
  'edit',
  'movie',
  'preflight',
  'forecast',
  'review',
  'handover',
];

const ladder = RUNGS.map((rung, i) => ({
  name: `core-${rung}`,
  severity: 'error',
  comment: `core/${rung} imports no higher rung of core.`,
  from: { path: `^src/core/${rung}/`, pathNot: TESTS },
  to: { path: '^src/core/', pathNot: RUNGS.slice(0, i + 1).map((r) => `^src/core/${r}/`) },
}));

module.exports = {
  forbidden: [
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    ...ladder,
    {
      name: 'core-has-rungs-alone',
      severity: 'error',
      comment: 'Every file of core stands on a rung.',
      from: { path: '^src/core/', pathNot: RUNGS.map((r) => `^src/core/${r}/`) },
      to: {},
    },
    only('core', 'core', ['core']),
    only('contract', 'contract', ['core', 'contract']),
    only('formats', 'formats', ['core', 'contract', 'formats']),
    only('engine', 'engine', ['core', 'contract', 'formats', 'engine']),
    {
      ...only('server', 'server', ['core', 'contract', 'formats', 'engine', 'server']),
      from: { path: '^src/server/', pathNot: [TESTS, '^src/server/main\\.ts$'] },
    },
    {
      // What is done to a data folder from outside is the server's; the command line only names it.
      ...only('cli', 'cli', ['core', 'contract', 'formats', 'engine', 'cli', 'server/maintenance']),
    },
    {
      ...only('web', 'web', ['core', 'contract', 'web']),
      from: { path: '^src/web/', pathNot: [TESTS, `^src/${WEB_COMPUTING}`] },
    },
    only('web-workers', WEB_COMPUTING, ['core', 'contract', 'formats/environment', 'engine', 'web/preview', 'web/compare', 'web/grade']),
    {
      name: 'core-is-pure',
      severity: 'error',
      comment: 'core knows no DOM, no Node, no database.',
      from: { path: '^src/(core|contract)/', pathNot: TESTS },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'core-libraries',
      severity: 'error',
      from: { path: '^src/(core|contract)/', pathNot: TESTS },
      to: {
        path: 'node_modules',
        pathNot: 'node_modules/(zod|gl-matrix|@noble/hashes|astronomy-engine|luxon|@photostructure/tz-lookup|@types/(gl-matrix|luxon))/',
      },
    },
  ],
  options: { tsConfig: { fileName: 'tsconfig.json' }, tsPreCompilationDeps: true, doNotFollow: { path: 'node_modules' } },
};
