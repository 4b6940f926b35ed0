import { describe, expect, it } from 'vitest';
import { foldName } from '../names/file-names';
import { clockSeconds, shiftCaptured } from '../time/captured';
import { isoOfSeconds, secondsOfIso } from '../time/civil';
import {
  type Accession,
  type AccessionFile,
  accessionPage,
  countAccession,
  countsLine,
  nextAccession,
  numberAmong,
  photoNumber,
} from './accession';
import { planEmptying } from './emptying';
import { type SourceFile, filesOf, framesOf, pathUnder, sidecarsOf } from './frames';
import { type ReadFrame, planTakeIn } from './plan';
import { NEW_SHEET, type Sheet } from './sheet';
import { inClockOrder, runsOf } from './runs';

const file = (path: string, sizeBytes = 10, modifiedMs = 5): SourceFile => ({ path, sizeBytes, modifiedMs });
const at = (written: string) => ({ written, offset: null });

describe('the frames of a card', () => {
  it('raw, companion, sidecars and a spoken note are one; the raw comes first', () => {
    const { frames, others } = framesOf(
      [
        'D/A.JPG',
        'D/a.dng',
        'D/A.xmp',
        'D/A.jpg.xmp',
        'D/A.WAV',
        'D/B.jpg',
        'E/A.jpg',
        'D/index.dat',
        'D/lone.wav',
        'D/C.xmp',
      ].map((path) => file(path)),
      true,
    );
    expect(frames.map((frame) => filesOf(frame).map(({ path }) => path))).toEqual([
      ['D/a.dng', 'D/A.JPG', 'D/A.WAV', 'D/A.jpg.xmp', 'D/A.xmp'],
      ['D/B.jpg'],
      ['E/A.jpg'],
    ]);
    expect(others.map(({ path }) => path)).toEqual(['D/index.dat', 'D/lone.wav', 'D/C.xmp']);
    const [first] = frames;
    expect(first && [...sidecarsOf(first)].map(([photo, sidecar]) => [photo, sidecar?.path])).toEqual([
      ['D/a.dng', 'D/A.xmp'],
      ['D/A.JPG', 'D/A.jpg.xmp'],
    ]);
  });

  it('of the first level only, where the folders below are not wanted', () => {
    expect(framesOf([file('A.jpg'), file('D/B.jpg')], false).frames.map(({ key }) => key)).toEqual(['A']);
  });

  it('a new base name changes the base and nothing else, however it was spelt', () => {
    const frame = { base: 'Gjógv 1' };
    expect(pathUnder('D/Gjógv 1.jpg.xmp', frame, 'N', 'x')).toBe('N/x.jpg.xmp');
    expect(pathUnder('D/GJO\u0301GV 1.DNG', frame, '', 'x')).toBe('x.DNG');
  });
});

describe('the order of a shoot', () => {
  it('by the clock, then as people count; undated last', () => {
    const order = inClockOrder([
      { path: 'n', captured: null },
      { path: 'x10', captured: at('2026-08-30T10:00:00') },
      { path: 'x9', captured: at('2026-08-30T10:00:00') },
      { path: 'z', captured: at('1970-01-01T00:00:05') },
    ]);
    expect(order.map(({ path }) => path)).toEqual(['z', 'x9', 'x10', 'n']);
  });

  it('a new run begins with a new day and after half an hour', () => {
    const shot = (written: string) => ({ path: written, captured: at(written) });
    const runs = runsOf(
      ['2026-08-29T23:59:00', '2026-08-30T00:01:00', '2026-08-30T00:31:00', '2026-08-30T01:01:01'].map(shot),
    );
    expect(runs.map(({ day, items }) => [day, items.length])).toEqual([
      [20260829, 1],
      [20260830, 2],
      [20260830, 1],
    ]);
  });

  it('a clock correction moves the digits over any border, and leaves days without a time', () => {
    expect(shiftCaptured(at('2024-02-28T23:59:50.25'), 20)).toEqual(at('2024-02-29T00:00:10.25'));
    expect(shiftCaptured(at('1970-01-01T00:00:00'), -1)?.written).toBe('1969-12-31T23:59:59');
    expect(shiftCaptured(at('1968-07'), 3600)).toEqual(at('1968-07'));
    expect(clockSeconds(at('1968-07'))).toBeNull();
  });

  it('seconds and digits are the same as the machine’s own calendar says, over four hundred years', () => {
    for (let day = -90_000; day < 90_000; day += 37) {
      const seconds = day * 86_400 + ((day * 7919) % 86_400);
      const iso = new Date(seconds * 1000).toISOString().slice(0, 19);
      expect(isoOfSeconds(seconds)).toBe(iso);
      expect(secondsOfIso(iso)).toBe(seconds);
    }
  });
});

const SHEET: Sheet = {
  ...NEW_SHEET,
  driveId: 'studio',
  blanks: { kind: '', client: '', subject: 'Gjógv' },
  second: { ...NEW_SHEET.second, driveId: 'vault' },
};
const frames = (...shots: [path: string, written: string][]): ReadFrame[] => {
  const listed = framesOf(
    shots.map(([path]) => file(path)),
    true,
  ).frames;
  return listed.map((frame) => ({
    frame,
    captured: at(shots.find(([path]) => path === frame.photos[0]?.path)?.[1] ?? ''),
    camera: 'Norda K4',
  }));
};
const plan = (sheet: Partial<Sheet>, read: ReadFrame[], main: string[] = [], second: string[] | null = []) =>
  planTakeIn({
    frames: read,
    sheet: { ...SHEET, ...sheet },
    accession: '2026.001',
    source: 'Card',
    main: { files: main },
    second: second && { files: second },
  });

describe('the plan of a take-in', () => {
  it('year first by default; new folders are told from those that are there, which keep their spelling', () => {
    const made = plan(
      {},
      frames(['D/A.jpg', '2026-08-30T08:00:00'], ['D/A.wav', ''], ['D/B.jpg', '2026-08-31T08:00:00']),
      ['2026/2026-08-30 GJÓGV/x.jpg'],
    );
    expect(made.files.map(({ from, to, second, number, role }) => [from, to, second, number, role])).toEqual([
      ['D/A.jpg', '2026/2026-08-30 GJÓGV/A.jpg', '2026/2026-08-30 GJÓGV/A.jpg', '2026.001.0001', 'photo'],
      ['D/A.wav', '2026/2026-08-30 GJÓGV/A.wav', '2026/2026-08-30 GJÓGV/A.wav', '2026.001.0001', 'beside'],
      ['D/B.jpg', '2026/2026-08-31 Gjógv/B.jpg', '2026/2026-08-31 Gjógv/B.jpg', '2026.001.0002', 'photo'],
    ]);
    expect(made.folders).toEqual([
      { path: '2026', isNew: false, frames: 0 },
      { path: '2026/2026-08-30 GJÓGV', isNew: false, frames: 1 },
      { path: '2026/2026-08-31 Gjógv', isNew: true, frames: 1 },
    ]);
    expect([made.photos, made.bytes]).toEqual([2, 30]);
  });

  it('one folder for the whole accession, chosen by its first photo', () => {
    expect(
      plan(
        { folderPer: 'accession' },
        frames(['A.jpg', '2026-08-30T08:00:00'], ['B.jpg', '2026-08-31T08:00:00']),
      ).folders.filter(({ frames: count }) => count > 0),
    ).toHaveLength(1);
  });

  it('names that are taken on either drive are found before the start', () => {
    const read = frames(['D/A.jpg', '2026-08-30T08:00:00'], ['E/a.jpg', '2026-08-30T09:00:00']);
    expect(plan({}, read).files.map(({ to }) => to)).toEqual([
      '2026/2026-08-30 Gjógv/A.jpg',
      '2026/2026-08-30 Gjógv/a-2.jpg',
    ]);
    expect(plan({}, read).taken).toEqual(['E/a']);
    expect(plan({}, read, [], ['2026/2026-08-30 Gjógv/a.dng']).taken).toEqual(['D/A', 'E/a']);
  });

  it('the second copy can be the card as it is, below a folder of its own', () => {
    const made = plan(
      { second: { ...SHEET.second, layout: 'card' } },
      frames(['DCIM/104/A.jpg', '2026-08-30T08:00:00']),
      [],
      ['2026-08-30 Card 2026.001/dcim/104/a.jpg'],
    );
    expect(made.files[0]?.second).toBe('2026-08-30 Card 2026.001/DCIM/104/A.jpg');
    expect(made.secondTaken).toEqual(['DCIM/104/A.jpg']);
    expect(plan({}, frames(['A.jpg', '2026-08-30T08:00:00']), [], null).files[0]?.second).toBeNull();
  });

  it('a clock correction counts for folders; a clock of 1970 is a folder of 1970, not a failure', () => {
    expect(plan({ clockSeconds: 3600 }, frames(['A.jpg', '2026-08-30T23:30:00'])).files[0]?.to).toBe(
      '2026/2026-08-31 Gjógv/A.jpg',
    );
    expect(plan({}, frames(['A.jpg', '1970-01-01T00:00:07'])).files[0]?.to).toBe('1970/1970-01-01 Gjógv/A.jpg');
  });

  it('5,000 frames get 5,000 places', () => {
    const read = frames(
      ...Array.from({ length: 5000 }, (_, index): [string, string] => [
        `D${index % 7}/IMG_${String(index % 1000).padStart(4, '0')}.jpg`,
        `2026-08-${String(1 + (index % 28)).padStart(2, '0')}T08:00:00`,
      ]),
    );
    const made = plan(
      {
        names: [
          { kind: 'date', form: 'YYYYMMDD' },
          { kind: 'text', text: '_' },
          { kind: 'sequence', start: 1, digits: 4, over: 'day' },
        ],
      },
      read,
    );
    expect(read).toHaveLength(5000);
    expect(new Set(made.files.map(({ to }) => foldName(to))).size).toBe(5000);
    expect(made.taken).toEqual([]);
  });
});

describe('an accession', () => {
  const accession: Accession = {
    id: 'i',
    number: '2026.002',
    name: 'Gjógv',
    note: 'first\nsecond',
    source: 'Card HS-7',
    startedAt: 0,
    endedAt: 1000,
    onSource: 134,
    known: 0,
    leftOut: 0,
    routine: null,
    sheet: SHEET,
  };
  const taken = (from: string, drives: string[], role: AccessionFile['role'] = 'photo'): AccessionFile => ({
    from,
    number: '2026.002.0001',
    role,
    sizeBytes: 3,
    modifiedMs: 4,
    sha256: 'a'.repeat(64),
    placed: drives.map((driveId) => ({ driveId, path: from })),
  });
  const name = (id: string) => ({ studio: 'Studio', vault: 'Vault' })[id] ?? id;

  it('is numbered within its year', () => {
    expect(nextAccession([], 2026)).toBe('2026.001');
    expect(nextAccession(['2026.009', '2025.120', 'x', '2026.1000'], 2026)).toBe('2026.1001');
    expect(photoNumber('2026.001', 12)).toBe('2026.001.0012');
    expect([numberAmong(['urn:x', '2026.001.0012']), numberAmong(['2026.001'])]).toEqual(['2026.001.0012', null]);
  });

  it('a 134-file card must give 134 files on both drives (common practice), said in one line', () => {
    const files = Array.from({ length: 134 }, (_, index) => taken(`${index}.jpg`, ['studio', 'vault']));
    expect(countsLine(countAccession(accession, files), name)).toBe(
      '134 on the card · 134 on Studio · 134 on Vault · all checksums equal',
    );
    expect(
      countsLine(
        countAccession({ ...accession, onSource: 134, known: 3, leftOut: 1 }, [
          ...files.slice(0, 129),
          taken('x', ['studio']),
          taken('x.wav', [], 'beside'),
        ]),
        name,
      ),
    ).toBe('134 on the card · 3 known from before · 1 left out · 130 on Studio · 129 on Vault · 1 not on Vault yet');
  });

  it('has a page of text with everything a reader without Wembo needs', () => {
    const page = accessionPage(accession, [taken('D/A.jpg', ['studio'])], name, (at) => `t${at}`);
    expect(page).toContain('Accession 2026.002  Gjógv\n=========================\n');
    for (const line of [
      'From        Card HS-7',
      'Begun       t0',
      'Note        first\n            second',
      `  SHA-256 ${'a'.repeat(64)}`,
      '  Studio: D/A.jpg',
      '2026.002.0001  D/A.jpg  3 bytes',
    ])
      expect(page).toContain(line);
  });
});

describe('whether a card may be emptied', () => {
  it('only what is verified often enough, unchanged, and was taken in', () => {
    const known = (driveIds: string[], modifiedMs = 5) => ({
      sizeBytes: 10,
      modifiedMs,
      copies: driveIds.map((driveId) => ({ driveId, path: 'x', verifiedAt: 1, isAway: driveId === 'away' })),
    });
    const read = new Map([
      ['two', known(['a', 'b'])],
      ['one', known(['a'])],
      ['touched', known(['a', 'b'], 6)],
    ]);
    expect(
      planEmptying([file('two'), file('one'), file('touched'), file('never')], [file('index.dat')], read, {
        copies: 2,
        awayCounts: false,
      }),
    ).toEqual({
      removable: [file('two')],
      obstacles: [
        { path: 'index.dat', why: 'other' },
        { path: 'one', why: 'copies', copies: 1 },
        { path: 'touched', why: 'changed' },
        { path: 'never', why: 'never-read' },
      ],
    });
    expect(planEmptying([file('one')], [], read, { copies: 1, awayCounts: false }).removable).toHaveLength(1);
    const away = new Map([['one', known(['a', 'away'])]]);
    expect(planEmptying([file('one')], [], away, { copies: 2, awayCounts: false }).obstacles).toEqual([
      { path: 'one', why: 'copies', copies: 1 },
    ]);
    expect(planEmptying([file('one')], [], away, { copies: 2, awayCounts: true }).removable).toHaveLength(1);
  });
});
