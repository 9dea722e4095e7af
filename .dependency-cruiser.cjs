/**
 * Arrows go one way: app -> features -> ui, store, workers -> core; cli -> core/jobs, and the wording of checks, which
 * has no interface code.
 */
const below = (from, forbidden) => ({
  name: `core-${from}-looks-up`,
  severity: 'error',
  from: { path: `^src/core/(${from})/`, pathNot: '\\.test\\.ts$|/testing/' },
  to: { path: `^src/core/(${forbidden})/` },
});

/** Rooms of a part of the core, in the order in which they build on one another: none looks at a later one. */
const inOrder = (part, rooms) =>
  rooms.slice(0, -1).map((room, k) => ({
    name: `${part}-${room}-looks-up`,
    severity: 'error',
    from: { path: `^src/core/${part}/${room}/`, pathNot: '\\.test\\.ts$' },
    to: { path: `^src/core/${part}/(${rooms.slice(k + 1).join('|')})/` },
  }));

module.exports = {
  forbidden: [
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'core-is-pure',
      comment: 'The core has no interface code and no host: plain mathematics packages and Zod only.',
      severity: 'error',
      from: { path: '^src/core/', pathNot: '\\.test\\.ts$|/testing/' },
      to: {
        pathNot:
          '^src/core/|node_modules/' +
          '(zod|ml-matrix|ml-levenberg-marquardt|fft.js|pure-rand|fast-deep-equal|papaparse|fflate|crc-32)/',
      },
    },
    below('math|units', 'circuit|filter|device|analysis|topology|parts|loudspeaker|measure|design|format|jobs'),
    below('circuit|filter', 'device|analysis|topology|parts|loudspeaker|measure|design|format|jobs'),
    below('device|analysis', 'topology|parts|loudspeaker|measure|design|format|jobs'),
    below('topology', 'loudspeaker|measure|design|format|jobs'),
    below('parts|loudspeaker|measure', 'design|format|jobs'),
    below('design|format', 'jobs'),
    ...inOrder('design', ['document', 'stages', 'compiled', 'values', 'making', 'demo', 'building']),
    ...inOrder('analysis', ['elimination', 'rest', 'ac', 'roots', 'tolerance', 'curves', 'time', 'sound']),
    {
      name: 'ui-store-workers-look-down',
      severity: 'error',
      from: { path: '^src/(ui|store|workers)/' },
      to: { path: '^src/(features|app)/' },
    },
    {
      name: 'features-do-not-import-each-other',
      severity: 'error',
      from: { path: '^src/features/([^/]+)/' },
      to: { path: '^src/features/([^/]+)/', pathNot: '^src/features/$1/' },
    },
    {
      name: 'features-do-not-import-app',
      severity: 'error',
      from: { path: '^src/features/' },
      to: { path: '^src/app/' },
    },
    {
      name: 'cli-goes-through-jobs',
      severity: 'error',
      from: { path: '^cli/', pathNot: '\\.test\\.ts$' },
      to: { path: '^src/', pathNot: '^src/core/(jobs|units)/|^src/core/result|^src/ui/words/' },
    },
    {
      name: 'nothing-imports-tests',
      severity: 'error',
      from: { pathNot: '\\.test\\.tsx?$|^e2e/' },
      to: { path: '\\.test\\.tsx?$|^e2e/' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'require', 'node', 'default', 'types'],
      mainFields: ['module', 'main', 'types'],
    },
  },
};
