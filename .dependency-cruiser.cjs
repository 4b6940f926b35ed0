// Imports go one way: app -> features -> (ui, storage, workers) -> core.
const only = (name, from, to) => ({ name, severity: 'error', from: { path: from, pathNot: '[.]test[.]ts$' }, to: { path: '^src/', pathNot: to } });

module.exports = {
  forbidden: [
    only('core-imports-core', '^src/core/', '^src/core/'),
    only('storage-imports-core-and-workers', '^src/storage/', '^src/(storage|workers|core)/'),
    only('workers-import-core', '^src/workers/', '^src/(workers|core)/|^src/storage/(drives/|jobs/hands)'),
    only('server-imports-core', '^src/server/', '^src/(server|core)/'),
    only('ui-imports-core', '^src/ui/', '^src/(ui|messages|core)/'),
    only('messages-import-core', '^src/messages/', '^src/(messages|core)/'),
    only('demo-imports-core', '^src/demo/', '^src/(demo|core)/'),
    { name: 'features-do-not-import-app', severity: 'error', from: { path: '^src/(features|ui|storage|workers|core)/' }, to: { path: '^src/app/' } },
    {
      name: 'no-place-imports-another-place',
      severity: 'error',
      from: { path: '^src/features/([^/]+)/' },
      to: { path: '^src/features/', pathNot: '^src/features/($1|wall|record-card|scope|naming|judging|picture|describing|map|frame|session)/' },
    },
    { name: 'shared-features-import-no-place', severity: 'error', from: { path: '^src/features/(wall|record-card|scope|naming|judging|picture|describing|map|session)/' }, to: { path: '^src/features/', pathNot: '^src/features/(wall|record-card|scope|naming|judging|picture|describing|map|session)/' } },
    { name: 'dexie-only-in-storage', severity: 'error', from: { path: '^src/', pathNot: '^src/storage/' }, to: { path: 'node_modules/dexie' } },
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true, dependencyTypesNot: ['type-only'] } },
    { name: 'no-orphans', severity: 'error', from: { orphan: true, pathNot: '(\\.d\\.ts|\\.test\\.ts|^src/app/.*|worker\\.ts)$' }, to: {} },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    exclude: { path: '\\.next|\\.demo' },
  },
};
