import { describe, expect, it } from 'vitest';
import { type DeliveryProfile, NEW_PROFILE } from '@/core/send-out/delivery-profile';
import { MemoryDrive } from '../drives/memory-drive';
import { DRIVE_FILE, readAccessions, readDriveFile, writeAccession, writeDriveFile } from './archive-files';
import { savedFile, problemOfSaved, readSaved, writeSaved } from './saved-files';

const A = 'a'.repeat(64);
const COLLECTIONS_FILE = savedFile('collections');
/** As the first release wrote collections: all of them were smart. */
const COLLECTIONS_1 =
  '{\n "format": "wembo-collections",\n "version": 2,\n "collections": [\n  {\n   "id": "c1",\n   "name": "On the slip",\n   "kind": "smart",\n   "parentId": null,\n   "scope": "keyword:slip",\n   "photoIds": [],\n   "pinned": false,\n   "order": 0,\n   "updatedAt": 5,\n   "deleted": false\n  }\n ]\n}\n';
/** One real sample of each file at the version that is written now. */
const SAMPLES = {
  [DRIVE_FILE]:
    '{\n "format": "wembo-drive",\n "version": 1,\n "id": "41ad3cc4-b649-4b40-9367-0e4c562eab15",\n "name": "Studio ð",\n "createdAt": 1795575692062\n}\n',
  [COLLECTIONS_FILE]:
    '{\n "format": "wembo-collections",\n "version": 2,\n "collections": [\n  {\n   "id": "c1",\n   "name": "On the slip",\n   "kind": "smart",\n   "parentId": null,\n   "scope": "keyword:slip",\n   "photoIds": [],\n   "pinned": false,\n   "order": 0,\n   "updatedAt": 5,\n   "deleted": false\n  }\n ]\n}\n',
};

const drive = (files: Record<string, string> = {}) => {
  const made = new MemoryDrive();
  for (const [path, text] of Object.entries(files)) made.put(path, text);
  return made;
};

describe('the files in _wembo', () => {
  it('each is read and written back to the same bytes', async () => {
    const old = drive(SAMPLES);
    const made = drive();
    const mark = await readDriveFile(old);
    if (!mark) throw new Error('must be read');
    await writeDriveFile(made, mark);
    await writeSaved(made, 'collections', (await readSaved(old, 'collections')).items, { bytes: null, broken: [] });
    for (const [path, text] of Object.entries(SAMPLES)) expect(made.text(path), path).toBe(text);
  });

  it('collections of version 1 are smart ones at the top, and are written as version 2', async () => {
    const read = await readSaved(drive({ [COLLECTIONS_FILE]: COLLECTIONS_1 }), 'collections');
    expect(read.items).toEqual([
      {
        id: 'c1',
        name: 'On the slip',
        kind: 'smart',
        parentId: null,
        scope: 'keyword:slip',
        photoIds: [],
        pinned: false,
        order: 0,
        updatedAt: 5,
        deleted: false,
      },
    ]);
    const made = drive();
    await writeSaved(made, 'collections', read.items, { bytes: null, broken: [] });
    expect(made.text(COLLECTIONS_FILE)).toBe(SAMPLES[COLLECTIONS_FILE]);
  });

  it('are absent without complaint', async () => {
    expect([await readDriveFile(drive()), await readSaved(drive(), 'collections')]).toEqual([
      null,
      { bytes: null, items: [], broken: [] },
    ]);
  });

  it.each([
    [
      'of a newer version is refused with both numbers',
      { [COLLECTIONS_FILE]: '{"format":"wembo-collections","version":3}' },
      'has version 3; this Wembo reads version 2',
    ],
    ['that is not JSON is refused', { [COLLECTIONS_FILE]: 'half a si' }, 'is not JSON'],
    [
      'that is something else is refused',
      { [COLLECTIONS_FILE]: '{"format":"wembo-collections","version":1,"collections":7}' },
      'collections',
    ],
  ])('one %s', async (_, files, reason) => {
    await expect(readSaved(drive(files), 'collections')).rejects.toThrow(reason);
  });

  it('are not written when they would say the same', async () => {
    const made = drive();
    await writeDriveFile(made, { id: 'drive-0001', name: 'Studio', createdAt: 5 });
    const before = new Map(made.files);
    await writeDriveFile(made, { id: 'drive-0001', name: 'Studio', createdAt: 5 });
    expect(made.files).toEqual(before);
  });

  it.each(['../../x', 'a/b', 'short', 'x'.repeat(65), 'with blank 1'])(
    'a mark whose id is %s is none: it would become part of paths',
    async (id) => {
      await expect(
        readDriveFile(
          drive({ [DRIVE_FILE]: JSON.stringify({ format: 'wembo-drive', version: 1, id, name: 'x', createdAt: 1 }) }),
        ),
      ).rejects.toThrow('id');
    },
  );
});

/** One real sample of each further file, as written by the release that brought it. */
const SHEET = {
  driveId: 'd1',
  withSubfolders: true,
  withVideos: true,
  folder: [{ kind: 'date', form: 'YYYY' }, { kind: 'level' }, { kind: 'blank', of: 'subject' }, { kind: 'role' }],
  folderPer: 'photo',
  names: [{ kind: 'old-name' }, { kind: 'sequence', start: 1, digits: 4, over: 'folder' }],
  blanks: { kind: '', client: '', subject: 'Gjógv' },
  keepOldName: true,
  kitIds: ['k1'],
  keywords: ['boat'],
  marker: '',
  clockSeconds: -3600,
  second: { driveId: null, layout: 'card', folder: [{ kind: 'source' }, { kind: 'accession' }] },
  previews: 'by-night',
  copiesToEmpty: 2,
};
const KEPT_SAMPLES = {
  kits: [
    {
      id: 'k1',
      name: 'Survey',
      entries: [
        { key: 'creator', mode: 'fill', value: ['Mia Holt'] },
        { key: 'contact', mode: 'replace', value: { city: 'Tórshavn' } },
      ],
      updatedAt: 5,
      deleted: false,
    },
  ],
  patterns: [
    {
      id: 'n1',
      name: 'By day',
      parts: [{ kind: 'text', text: '_' }, { kind: 'camera-number' }, { kind: 'camera' }, { kind: 'photo-number' }],
      updatedAt: 5,
      deleted: true,
    },
  ],
  routines: [{ id: 'r1', name: 'Card', sheet: SHEET, updatedAt: 5, deleted: false }],
} as const;
const FORMAT = { kits: 'wembo-kits', patterns: 'wembo-name-patterns', routines: 'wembo-routines' };
const VERSION = { kits: 1, patterns: 1, routines: 2 };

describe.each(['kits', 'patterns', 'routines'] as const)('what is kept under names: %s', (savedKind) => {
  const text = `${JSON.stringify({ format: FORMAT[savedKind], version: VERSION[savedKind], [savedKind]: KEPT_SAMPLES[savedKind] }, null, 1)}\n`;

  it('each is read and written back to the same bytes', async () => {
    const made = drive();
    const { items } = await readSaved(drive({ [savedFile(savedKind)]: text }), savedKind);
    await writeSaved(made, savedKind, items as never[], { bytes: null, broken: [] });
    expect(made.text(savedFile(savedKind))).toBe(text);
  });

  it.each([
    ['of a newer version', text.replace(/"version": \d/, '"version": 3'), 'has version 3'],
    ['of another format', text.replace(FORMAT[savedKind], 'something-else'), 'format'],
    ['that is cut short', text.slice(0, -20), 'is not JSON'],
  ])('one %s is refused with the reason', async (_, given, reason) => {
    await expect(readSaved(drive({ [savedFile(savedKind)]: given }), savedKind)).rejects.toThrow(reason);
  });

  it('an item that is none costs itself alone, and stays in the file as it is', async () => {
    const broken = { id: 'x', name: 'half', tomorrow: [1, { deep: 'yes' }] };
    const made = drive({
      [savedFile(savedKind)]: JSON.stringify({
        format: FORMAT[savedKind],
        version: 1,
        [savedKind]: [broken, ...KEPT_SAMPLES[savedKind]],
      }),
    });
    const read = await readSaved(made, savedKind);
    expect(read.items).toEqual(KEPT_SAMPLES[savedKind]);
    await writeSaved(made, savedKind, [], read);
    expect((await readSaved(made, savedKind)).broken).toEqual([broken]);
  });
});

describe('a pattern from outside', () => {
  it.each([
    ['an unknown part', [{ kind: 'shell', command: 'x' }]],
    ['a count over nothing known', [{ kind: 'sequence', start: 1, digits: 4, over: 'moon' }]],
    ['a number of digits without end', [{ kind: 'sequence', start: 1, digits: 4000, over: 'day' }]],
    ['a field that there is not', null],
  ])('with %s is refused', async (_, parts) => {
    const given = parts
      ? { patterns: [{ ...KEPT_SAMPLES.patterns[0], parts }] }
      : { kits: [{ ...KEPT_SAMPLES.kits[0], entries: [{ key: '__proto__', mode: 'fill', value: 'x' }] }] };
    const savedKind = parts ? 'patterns' : 'kits';
    const read = await readSaved(
      drive({ [savedFile(savedKind)]: JSON.stringify({ format: FORMAT[savedKind], version: 1, ...given }) }),
      savedKind,
    );
    expect([read.items.length, read.broken.length]).toEqual([0, 1]);
  });
});

it('routines of version 1, in which videos were called films, are read as they are now', async () => {
  const [{ sheet, ...routine }] = KEPT_SAMPLES.routines;
  const { withVideos, ...rest } = sheet;
  const old = [{ ...routine, sheet: { withFilms: withVideos, ...rest } }];
  const made = drive({
    [savedFile('routines')]: JSON.stringify({ format: 'wembo-routines', version: 1, routines: old }),
  });
  expect((await readSaved(made, 'routines')).items).toEqual(KEPT_SAMPLES.routines);
});

describe('accessions on a drive', () => {
  const accession = {
    id: 'a1',
    number: '2026.002',
    name: 'Gjógv',
    note: '',
    source: 'Card',
    startedAt: 1,
    endedAt: null,
    onSource: 3,
    known: 1,
    leftOut: 0,
    routine: null,
    sheet: SHEET,
    files: [
      {
        from: 'D/A.jpg',
        number: '2026.002.0001',
        role: 'photo',
        sizeBytes: 3,
        modifiedMs: 4,
        sha256: A,
        placed: [{ driveId: 'd1', path: '2026/A.jpg' }],
      },
    ],
  };

  it('are written as JSON and as a page, and read back; one that is damaged is told, and does not keep the others', async () => {
    const made = drive({
      '_wembo/accessions/2026.001.json': 'half a rec',
      '_wembo/accessions/2026.003.json': JSON.stringify({ format: 'wembo-accession', version: 9 }),
    });
    await writeAccession(made, accession as never, 'a page');
    const told: string[] = [];
    const read = await readAccessions(made, (path, error) => told.push(`${path}: ${String(error)}`));
    expect(read).toEqual([{ format: 'wembo-accession', version: 2, ...accession }]);
    expect(told).toEqual([
      expect.stringMatching(/2026\.001\.json.*is not JSON/),
      expect.stringMatching(/2026\.003\.json.*has version 9/),
    ]);
    expect(made.text('_wembo/accessions/2026.002.txt')).toBe('a page');
  });
});

describe('what is entered', () => {
  const kit = { id: 'k', name: 'x', entries: [], updatedAt: 1, deleted: false };
  it('is held against what can be read back: a name of 600 letters is too long, and it is said by how much', () => {
    expect(problemOfSaved('kits', kit)).toBeNull();
    expect(problemOfSaved('kits', { ...kit, name: 'x'.repeat(600) })).toEqual({
      member: 'name',
      tooMany: { has: 600, most: 500 },
    });
    expect(
      problemOfSaved('kits', { ...kit, entries: [{ key: 'caption', mode: 'fill', value: Number.NaN }] }),
    ).toMatchObject({ tooMany: null });
  });
});

it('deliveries and words of version 1, which said less, are read; profiles come back as they were', async () => {
  const delivery = {
    id: 'd',
    name: 'Print',
    date: '2025-01-02',
    note: '',
    photoIds: ['p'],
    updatedAt: 1,
    deleted: false,
  };
  const word = { id: 'w', word: 'boat', parentId: null, synonyms: [], note: '', updatedAt: 1, deleted: false };
  const old = drive({
    [savedFile('deliveries')]: JSON.stringify({ format: 'wembo-deliveries', version: 1, deliveries: [delivery] }),
    [savedFile('vocabulary')]: JSON.stringify({ format: 'wembo-vocabulary', version: 1, vocabulary: [word] }),
  });
  expect((await readSaved(old, 'deliveries')).items).toEqual([delivery]);
  expect((await readSaved(old, 'vocabulary')).items).toEqual([word]);
  const sizes = [
    { kind: 'full' },
    { kind: 'within', width: 3, height: 2 },
    { kind: 'megapixels', megapixels: 12 },
    { kind: 'print', long: 30.5, unit: 'cm' },
  ] as const;
  const picture = NEW_PROFILE.picture.kind === 'made' ? NEW_PROFILE.picture : null;
  const profiles = sizes.map((size, index): DeliveryProfile => ({
    ...NEW_PROFILE,
    picture: picture && index > 0 ? { ...picture, size } : { kind: 'original', sidecar: true },
    watermark: { text: '© [=creator]', picture: null, place: 'middle', size: 0.1, opacity: 0.5 },
    folder:
      index > 1 ? { kind: 'beside', name: 'delivered' } : { kind: 'zip', driveId: null, parts: [], name: 'photos' },
    id: `p${index}`,
    name: `Profile ${index}`,
    updatedAt: 1,
    deleted: false,
  }));
  const made = drive();
  await writeSaved(made, 'deliveryProfiles', profiles, { bytes: null, broken: [] });
  expect((await readSaved(made, 'deliveryProfiles')).items).toEqual(profiles);
});
