// How the archive lies on its drives: which files have second copies, what went wrong with some, when they were
// checked.

import {
  type DeliveryProfile,
  type MadePicture,
  NEW_PROFILE,
  type PictureSettings,
  type ProfileContent,
} from '@/core/send-out/delivery-profile';
import { createHash } from 'node:crypto';
import { memorySource } from '@/core/bytes/source';
import { digestBoth } from '@/core/metadata/picture-digest/image-digest';
import { manifestLine } from '@/core/fixity/manifest';
import { isPhotoName } from '@/core/formats/containers/formats';
import type { LadderView, Marker } from '@/core/sift/judging';
import type { Setting } from '@/core/catalog/change';
import type { Kit } from '@/core/describe/kit';
import { type DriveFacts, NO_FACTS } from '@/core/fixity/drive-facts';
import { FACTS_PREFIX, RULE_SETTING } from '@/core/fixity/keeping';
import type { Pattern } from '@/core/names/pattern';
import { type Accession, type AccessionFile, accessionPage, photoNumber } from '@/core/take-in/accession';
import { NEW_SHEET, type Sheet } from '@/core/take-in/sheet';
import { planSidecar } from '@/core/metadata/xmp/sidecar';
import type { MadeFile } from './frames';
import { tracks } from './tracks';
import { demoShorthand, demoVocabulary } from './words';

export type LaidDrive = 'attic' | 'harbour' | 'studio' | 'card' | 'copy' | 'offsite';

/** In the order they are connected. */
export const DRIVES: {
  key: LaidDrive;
  id: string;
  name: string;
  takenOut: boolean;
  card?: true;
  checkedAt: string | null;
}[] = [
  { key: 'studio', id: 'demo-studio-0001', name: 'Studio', takenOut: false, checkedAt: null },
  {
    key: 'harbour',
    id: 'demo-harbour-002',
    name: 'Harbours 2012–2019',
    takenOut: false,
    checkedAt: '2026-03-08T09:30:00Z',
  },
  { key: 'attic', id: 'demo-attic-00003', name: 'Attic 2004–2011', takenOut: false, checkedAt: '2025-01-19T14:00:00Z' },
  { key: 'copy', id: 'demo-copy-000004', name: 'Copy, Klaksvík', takenOut: false, checkedAt: '2026-03-08T11:10:00Z' },
  { key: 'card', id: 'demo-card-000005', name: 'Card HS-7', takenOut: false, card: true, checkedAt: null },
  { key: 'offsite', id: 'demo-offsite-006', name: 'Off-site 2023', takenOut: true, checkedAt: '2023-11-12T13:20:00Z' },
];

/** What is wrong in the archive, on purpose. Paths from the drive's root. */
export const PLANTED = {
  /** Never finished writing, as old cards leave them. */
  empty: { drive: 'attic', path: '07-2004 Klaksvik/FJC_0216.JPG' },
  /** One bit in a hundred thousand bytes turned over. */
  damaged: { drive: 'copy', path: '2019/2019-09-28 Rust/NK4_3008.jpg' },
  /** In the manifest and not there. */
  missing: [
    '2012/2012-11-03 Sørvágur/NK2_0902.jpg',
    '2014/2014-01-25 Haldarsvík/NK2_3021.jpg',
    '2020/2020-10-09 Kallur/NK4_4413.jpg',
  ],
  /** Put elsewhere by hand. */
  moved: {
    '2018/2018-06-23 Kallur/NK4_0702.jpg': 'For the calendar/NK4_0702.jpg',
    '2022/2022-07-02 Tjørnuvík/R1A0402.jpg': 'For the calendar/R1A0402.jpg',
  } as Record<string, string>,
  /** Sidecars whose photo is gone. */
  orphans: [
    { drive: 'harbour', path: '2015/2015-03-20 Eclipse/NK2_4299.xmp' },
    { drive: 'copy', path: '2012/2012-11-03 Sørvágur/NK2_0902.xmp' },
  ],
  /** Taken in before the card was full: frames of the card under the names they got. */
  takenIn: {
    folder: '2026/2026-08-29 Gjógv',
    frames: ['NK4_9962.jpg', 'NK4_9963.jpg', 'NK4_9964.jpg', 'NK4_9965.jpg'],
  },
} as const;

/** Folders of the working drive that were not copied yet. */
const NOT_COPIED = ['2026/', '2025/2025-09-20 Gathering/'];
/** Years of the attic that lie off-site as well. */
const OFFSITE = /-(2004|2005|2006|2007)\b/;

export interface LaidFile extends MadeFile {
  drive: LaidDrive;
}

/** Puts what was painted on its drives, with copies, troubles, tracks, and the archive folders of checked drives. */
export async function layOut(painted: readonly LaidFile[]): Promise<LaidFile[]> {
  const files: LaidFile[] = [...painted];
  const of = (drive: LaidDrive) => files.filter((file) => file.drive === drive);
  for (const { drive, path, gpx } of tracks()) files.push({ drive, path, bytes: Buffer.from(gpx) });
  files.push({ drive: PLANTED.empty.drive, path: PLANTED.empty.path, bytes: Buffer.alloc(0) });
  PLANTED.takenIn.frames.forEach((name, index) => {
    const onCard = of('card').find(({ path }) => path.endsWith(name));
    if (!onCard) return;
    const base = `${PLANTED.takenIn.folder}/2026-08-29 Gjógv ${String(index + 1).padStart(3, '0')}`;
    files.push(
      { ...onCard, drive: 'studio', path: `${base}.jpg` },
      {
        ...onCard,
        drive: 'studio',
        path: `${base}.xmp`,
        bytes: arrivalSidecar(photoNumber(FIRST_ACCESSION, index + 1), name),
      },
    );
  });
  const eclipse = of('harbour').find(
    ({ path }) => path.startsWith('2015/2015-03-20 Eclipse/') && path.endsWith('.xmp'),
  );
  if (eclipse) files.push({ ...eclipse, path: PLANTED.orphans[0].path });
  files.push(
    ...[...of('studio'), ...of('harbour')]
      .filter(({ path }) => !NOT_COPIED.some((folder) => path.startsWith(folder)))
      .map((file): LaidFile => ({ ...file, drive: 'copy' })),
  );
  files.push(
    ...of('attic')
      .filter(({ path, bytes }) => OFFSITE.test(path) && bytes.length > 0)
      .map((file): LaidFile => ({ ...file, drive: 'offsite' })),
  );
  const manifests = DRIVES.filter(({ checkedAt }) => checkedAt).map(({ key }): LaidFile => ({
    drive: key,
    path: '_wembo/manifest-sha256.txt',
    bytes: manifestOf(of(key)),
  }));
  return [
    ...files.flatMap(withProblem),
    ...manifests,
    { drive: 'studio', path: '_wembo/collections.json', bytes: Buffer.from(collections()) },
    ...kept(files),
  ];
}

function withProblem(file: LaidFile): LaidFile[] {
  if (file.drive !== 'copy') return [file];
  if ((PLANTED.missing as readonly string[]).includes(file.path)) return [];
  const movedTo = PLANTED.moved[file.path];
  if (movedTo) return [{ ...file, path: movedTo }];
  if (file.path !== PLANTED.damaged.path) return [file];
  const bytes = Buffer.from(file.bytes);
  const at = Math.floor(bytes.length / 2); // not in the parts a fingerprint reads
  bytes[at] = bytes[at]! ^ 0x10;
  return [{ ...file, bytes }];
}

const sha256 = (bytes: Buffer) => createHash('sha256').update(bytes).digest('hex');
const manifestOf = (files: LaidFile[]) =>
  Buffer.from(
    files
      .filter(({ path, bytes }) => isPhotoName(path) && bytes.length > 0)
      .map(({ path, bytes }) => ({ path, sha256: sha256(bytes) }))
      .sort((a, b) => (a.path < b.path ? -1 : 1))
      .map(manifestLine)
      .join(''),
  );

/** Digests of a photo on a drive that was checked: what the last check found. Files that went wrong since have none. */
export async function proofOf({
  drive,
  path,
  bytes,
}: LaidFile): Promise<{ sha256: string; imageSha256?: string; verifiedAt: number } | null> {
  const checkedAt = DRIVES.find(({ key }) => key === drive)?.checkedAt;
  if (!checkedAt || !isPhotoName(path) || bytes.length === 0) return null;
  if (drive === PLANTED.damaged.drive && (path === PLANTED.damaged.path || Object.values(PLANTED.moved).includes(path)))
    return null;
  const newDigest = async () => {
    const hash = createHash('sha256');
    return { update: (part: Uint8Array) => void hash.update(part), hex: () => hash.digest('hex') };
  };
  const digests = await digestBoth(memorySource(bytes), path, newDigest, () => {});
  return {
    sha256: digests.file,
    ...(digests.image && { imageSha256: digests.image }),
    verifiedAt: Date.parse(checkedAt),
  };
}

function collections(): string {
  const list = [
    ['Exhibition 2027', 'marker:exhibition'],
    ['Boats since 2016', 'boat OR ferry OR smack taken:2016..'],
    ['Four bars and up', 'rating:4..'],
    ['Only one copy', 'copies:..1'],
    ['Norðoyar', 'province:Norðoyar'],
    ['Winter light', 'keyword:winter OR keyword:"northern light"'],
    ['Rejected, to look at again', 'rating:..-1'],
    ['Scans', 'keyword:"black and white"'],
  ].map(([name, scope], index) => ({
    id: `demo-collection-${index + 1}`,
    name,
    scope,
    updatedAt: Date.UTC(2026, 2, 8 + index),
    deleted: false,
  }));
  return `${JSON.stringify({ format: 'wembo-collections', version: 1, collections: list }, null, 1)}\n`;
}

/** The number under which the first frames of the card were taken in. */
const FIRST_ACCESSION = '2026.001';
const STUDIO = 'demo-studio-0001';
const COPY = 'demo-copy-000004';

/** What was written beside a frame when it was taken in. */
function arrivalSidecar(number: string, name: string): Buffer {
  const plan = planSidecar({
    existing: null,
    fields: { identifier: [number], originalName: name },
    embedded: {},
    ending: 'jpg',
  });
  if (!('bytes' in plan)) throw new Error('a new sidecar can be planned');
  return Buffer.from(plan.bytes);
}

/** What the museum keeps under names, and the record of the first accession. */
function kept(files: readonly LaidFile[]): LaidFile[] {
  const on = (path: string, text: string): LaidFile => ({
    drive: 'studio',
    path: `_wembo/${path}`,
    bytes: Buffer.from(text),
  });
  const list = (format: string, shelf: string, items: object[]) =>
    `${JSON.stringify({ format, version: 1, [shelf]: items }, null, 1)}\n`;
  const at = Date.UTC(2026, 7, 29, 20);
  const names: Pattern = [
    { kind: 'date', form: 'YYYY-MM-DD' },
    { kind: 'text', text: ' ' },
    { kind: 'blank', of: 'subject' },
    { kind: 'text', text: ' ' },
    { kind: 'sequence', start: 1, digits: 4, over: 'folder' },
  ];
  const sheet: Sheet = {
    ...NEW_SHEET,
    driveId: STUDIO,
    names,
    kitIds: ['demo-kit-holt'],
    keywords: ['Faroe Islands', 'harbour'],
    second: { ...NEW_SHEET.second, driveId: COPY },
  };
  const kits: Kit[] = [
    {
      id: 'demo-kit-holt',
      name: 'Survey, Mia Holt',
      updatedAt: at,
      deleted: false,
      entries: [
        { key: 'creator', mode: 'fill', value: ['Mia Holt'] },
        { key: 'creatorTitle', mode: 'fill', value: 'survey photographer' },
        { key: 'copyrightNotice', mode: 'fill', value: '© 2026 Faroe Harbours Survey' },
        { key: 'credit', mode: 'fill', value: 'Mia Holt / Faroe Harbours Survey' },
        { key: 'source', mode: 'fill', value: 'Faroe Harbours Survey' },
        { key: 'country', mode: 'fill', value: 'Faroe Islands' },
        { key: 'countryCode', mode: 'fill', value: 'FO' },
      ],
    },
    {
      id: 'demo-kit-gjogv',
      name: 'Gjógv',
      updatedAt: at,
      deleted: false,
      entries: [
        { key: 'sublocation', mode: 'fill', value: 'the gorge harbour' },
        { key: 'city', mode: 'fill', value: 'Gjógv' },
        { key: 'province', mode: 'fill', value: 'Eysturoy' },
        { key: 'caption', mode: 'fill', value: '[?Who] at [=place], [=date].' },
        { key: 'keywords', mode: 'add', value: ['Gjógv', 'Eysturoy'] },
      ],
    },
  ];
  const profile = (id: string, name: string, content: Partial<ProfileContent>): DeliveryProfile => ({
    ...NEW_PROFILE,
    ...content,
    id: `demo-profile-${id}`,
    name,
    updatedAt: at,
    deleted: false,
  });
  const profiles: DeliveryProfile[] = [
    profile('press', 'Press', {
      picture: made({ size: { kind: 'long-edge', pixels: 3600 }, quality: 92 }),
      names: [
        { kind: 'text', text: 'survey-' },
        { kind: 'sequence', start: 1, digits: 4, over: 'folder' },
      ],
      folder: {
        kind: 'on-drive',
        driveId: STUDIO,
        parts: [
          { kind: 'text', text: 'delivered' },
          { kind: 'level' },
          { kind: 'text', text: 'press' },
          { kind: 'level' },
          { kind: 'date', form: 'YYYY' },
        ],
      },
      sentAs: 'Press list',
    }),
    profile('website', 'Website', {
      picture: made({
        format: 'webp',
        size: { kind: 'long-edge', pixels: 2048 },
        quality: 82,
        bytesLimit: 400_000,
        ppi: 72,
        sharpening: 'screen',
      }),
      folder: { kind: 'beside', name: 'delivered' },
      words: { which: 'rights', place: 'out', people: 'out' },
      watermark: {
        text: '© [=year] [=creator]',
        picture: null,
        place: 'bottom-right',
        size: 0.05,
        opacity: 0.7,
      },
    }),
    profile('print', 'Exhibition prints', {
      picture: made({
        format: 'tiff',
        size: { kind: 'print', long: 40, unit: 'cm' },
        colour: 'kept',
        sharpening: 'paper',
      }),
      names: [{ kind: 'photo-number' }, { kind: 'text', text: '-' }, { kind: 'old-name' }],
      folder: { kind: 'on-drive', driveId: STUDIO, parts: [{ kind: 'text', text: 'prints' }] },
      words: { which: 'descriptive', place: 'in', people: 'in' },
    }),
  ];
  const ladder: LadderView = {
    id: 'ladder',
    name: 'Ladder',
    meanings: {
      5: 'for the book',
      4: 'hang in an exhibition',
      3: 'show the survey',
      2: 'belongs to the series',
      1: 'usable',
      '-1': 'failed, or twice',
    },
    updatedAt: at,
    deleted: false,
  };
  const markers: Marker[] = (
    [
      ['exhibition', '#b8863b', 'gate'],
      ['to print', '#4f7d8c', 'square'],
      ['ask permission', '#a4553f', 'ring'],
    ] as const
  ).map(([name, color, shape], index) => ({
    id: `demo-marker-${index + 1}`,
    name,
    color,
    shape,
    order: index + 1,
    updatedAt: at,
    deleted: false,
  }));
  const taken = PLANTED.takenIn.frames.flatMap((name, index): AccessionFile[] => {
    const frame = files.find(({ drive, path }) => drive === 'card' && path.endsWith(name));
    const path = `${PLANTED.takenIn.folder}/2026-08-29 Gjógv ${String(index + 1).padStart(3, '0')}.jpg`;
    return frame
      ? [
          {
            from: frame.path,
            number: photoNumber(FIRST_ACCESSION, index + 1),
            role: 'photo',
            sizeBytes: frame.bytes.length,
            modifiedMs: at,
            sha256: sha256(frame.bytes),
            placed: [{ driveId: STUDIO, path }],
          },
        ]
      : [];
  });
  const accession: Accession = {
    id: 'demo-accession-1',
    number: FIRST_ACCESSION,
    name: 'Gjógv',
    note: 'The first four, to look at the light. The rest of the card follows.',
    source: 'Card HS-7',
    startedAt: at,
    endedAt: at + 9000,
    onSource: taken.length,
    known: 0,
    leftOut: 0,
    routine: null,
    sheet: { ...NEW_SHEET, driveId: STUDIO },
  };
  const when = (milliseconds: number) => `${new Date(milliseconds).toISOString().slice(0, 19).replace('T', ' ')} UTC`;
  return [
    on('ladder.json', list('wembo-ladder', 'ladder', [ladder])),
    on('markers.json', list('wembo-markers', 'markers', markers)),
    on('vocabulary.json', list('wembo-vocabulary', 'vocabulary', demoVocabulary(at))),
    on('shorthand.json', list('wembo-shorthand', 'shorthand', demoShorthand(at))),
    on('kits.json', list('wembo-kits', 'kits', kits)),
    on('delivery-profiles.json', list('wembo-delivery-profiles', 'deliveryProfiles', profiles)),
    on('settings.json', list('wembo-settings', 'settings', safekeeping(at))),
    on(
      'name-patterns.json',
      list('wembo-name-patterns', 'patterns', [
        { id: 'demo-names-shoot', name: 'Day, place, number', parts: names, updatedAt: at, deleted: false },
      ]),
    ),
    on(
      'routines.json',
      list('wembo-routines', 'routines', [
        { id: 'demo-routine-card', name: 'Survey card, two copies', sheet, updatedAt: at, deleted: false },
      ]),
    ),
    on(
      `accessions/${FIRST_ACCESSION}.json`,
      `${JSON.stringify({ format: 'wembo-accession', version: 1, ...accession, files: taken }, null, 1)}\n`,
    ),
    on(
      `accessions/${FIRST_ACCESSION}.txt`,
      accessionPage(accession, taken, () => 'Studio', when),
    ),
  ];
}

/** What the museum says of its drives, and what it calls safe: a verified copy in Klaksvík or at the bank. */
function safekeeping(at: number): Setting[] {
  const facts = (key: LaidDrive, more: Partial<DriveFacts>): Setting => ({
    id: `${FACTS_PREFIX}${DRIVES.find((drive) => drive.key === key)?.id ?? ''}`,
    value: { ...NO_FACTS, ...more },
    updatedAt: at,
    deleted: false,
  });
  return [
    { id: RULE_SETTING, value: { copies: 2, elsewhere: 1, verifiedWithinDays: 365 }, updatedAt: at, deleted: false },
    facts('studio', { medium: 'solid-state', place: 'survey office', boughtOn: '2021-02' }),
    facts('harbour', { medium: 'hard-disk', place: 'survey office', boughtOn: '2019-11' }),
    facts('attic', { medium: 'hard-disk', place: 'attic', boughtOn: '2012', note: 'Clicks when it is cold.' }),
    facts('copy', { medium: 'hard-disk', place: 'store, Klaksvík', elsewhere: true, boughtOn: '2020-03' }),
    facts('offsite', { medium: 'hard-disk', place: 'bank box', elsewhere: true, boughtOn: '2023-11' }),
  ];
}

const made = (patch: Partial<MadePicture>): PictureSettings => ({ ...(NEW_PROFILE.picture as MadePicture), ...patch });
