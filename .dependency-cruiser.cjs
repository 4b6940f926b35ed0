// Imports go one way. Of each list below a folder may import itself and those that stand before it; so there is no ring of folders.

const FLOORS = ['core', 'messages', 'ui', 'storage', 'workers', 'engine', 'features', 'app'];
const CORE = [
  'bytes',
  'problems',
  'text',
  'geo',
  'time',
  'picture',
  'formats/xmp',
  'formats/iim',
  'formats/tiff',
  'formats/containers',
  'fields',
  'metadata/xmp',
  'metadata/reading',
  'metadata/picture-digest',
  'metadata/embed',
  'looks',
  'fixity',
  'names',
  'bagit',
  'vocabulary',
  'take-in',
  'describe',
  'locate/tracks',
  'locate',
  'locate/places',
  'send-out',
  'sift',
  'query',
  'catalog',
  'search',
  'wall',
];
const STORAGE = ['drives', 'archive', 'file-tasks', 'host', 'catalog', 'connections', 'jobs'];

const PARTS = [
  'session',
  'selection',
  'search',
  'panels',
  'needs',
  'desks',
  'jobs',
  'connecting',
  'collections',
  'almanac',
  'judging',
  'naming',
  'search-line',
  'shelves',
  'describing',
  'picture',
  'map',
  'record-card',
  'wall',
];

const isTest = '[.]test[.]tsx?$';

/** A folder itself, without those in it that the list names apart. */
const inside = (base, name, list) => {
  const apart = list.filter((other) => other.startsWith(`${name}/`)).map((other) => other.slice(name.length + 1));
  return `^${base}/${name}/${apart.length > 0 ? `(?!${apart.join('|')})` : ''}`;
};

const downwards = (base, list) =>
  list.slice(0, -1).map((name, at) => ({
    name: `${base}/${name} imports only what stands before it`,
    severity: 'error',
    from: { path: inside(base, name, list), pathNot: isTest },
    to: {
      path: list
        .slice(at + 1)
        .map((later) => inside(base, later, list))
        .join('|'),
    },
  }));

const apart = (name, from, to) => ({
  name,
  severity: 'error',
  from: { path: from, pathNot: isTest },
  to: { path: '^src/', pathNot: to },
});

module.exports = {
  forbidden: [
    ...downwards('src', FLOORS),
    ...downwards('src/core', CORE),
    ...downwards('src/storage', STORAGE),
    ...downwards('src/features/parts', PARTS),
    ...[
      ['src/core', CORE],
      ['src/storage', STORAGE],
      ['src/features/parts', PARTS],
    ].map(([base, list]) => ({
      name: `every folder of ${base} stands in its list`,
      severity: 'error',
      from: { path: `^${base}/`, pathNot: `^${base}/(${list.join('|')})/|ambient` },
      to: {},
    })),
    apart('storage and workers show nothing', '^src/(storage|workers)/', '^src/(storage|workers|core)/'),
    apart('what the screen says is made from the core', '^src/(messages|ui)/', '^src/(messages|ui|core)/'),
    apart('the server has the core', '^src/server/', '^src/(server/|core/|storage/(drives|archive|file-tasks|host)/)'),
    apart('the demo has the core', '^src/demo/', '^src/(demo|core)/'),
    {
      name: 'no place imports another place',
      severity: 'error',
      from: { path: '^src/features/places/([^/]+)/' },
      to: { path: '^src/features/(places|frame)/', pathNot: '^src/features/places/$1/' },
    },
    {
      name: 'what places share imports no place',
      severity: 'error',
      from: { path: '^src/features/parts/' },
      to: { path: '^src/features/(places|frame)/' },
    },
    {
      name: 'the engine runs without React',
      severity: 'error',
      from: { path: '^src/engine/' },
      to: { path: 'node_modules/(react|antd|next)/' },
    },
    {
      name: 'Dexie only in storage',
      severity: 'error',
      from: { path: '^src/', pathNot: '^src/storage/' },
      to: { path: 'node_modules/dexie' },
    },
    {
      name: 'no ring of files',
      severity: 'error',
      from: {},
      to: { circular: true, dependencyTypesNot: ['type-only'] },
    },
    {
      name: 'no file nobody needs',
      severity: 'error',
      from: { orphan: true, pathNot: '(\\.d\\.ts|\\.test\\.ts|^src/app/.*|worker\\.ts)$' },
      to: {},
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    exclude: { path: '\\.next|\\.demo' },
  },
};
