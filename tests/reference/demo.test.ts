// The demo archive against ExifTool, exiv2, xmllint and sha256sum: every file is read without a warning but the one
// planted on purpose, what was planned is what is read, the pictures are what the painter paints, and the troubles of
// the archive are those that were planted.

import { execFileSync, spawnSync } from 'node:child_process';
import { copyFileSync, mkdtempSync, readFileSync, readdirSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { memorySource } from '@/core/bytes/source';
import { readPhoto } from '@/core/metadata/reading/reading';
import { PLANTED } from '@/demo/archive/drives';
import { filesOfFrame } from '@/demo/archive/frames';
import { paintView, paintingName } from '@/demo/archive/paintings';
import { type Shoot, type ViewKind, frameName, viewsOf } from '@/demo/archive/shoot';
import { PHOTOS, SHOOTS, VIEWS } from '@/demo/archive/shoots';
import { CAMERAS } from '@/demo/archive/world';

type Reading = Record<string, unknown>;
let readings: Reading[] = [];

const PICTURES = 'src/demo/pictures';
const EMPTY = `.demo/${PLANTED.empty.drive}/${PLANTED.empty.path}`;
const OWN_DRIVES = ['attic', 'harbour', 'studio', 'card'];
const onOwnDrive = (file: string) => OWN_DRIVES.includes(file.split('/')[1] ?? '');
const pictureOf = (shoot: Shoot, frame: number) =>
  readFileSync(path.join(PICTURES, shoot.drive, paintingName(shoot, frame)));

beforeAll(() => {
  const output = execFileSync(
    'sh',
    [
      '-c',
      "exiftool -json -n -struct -charset filename=utf8 -charset iptc=Latin -warning -error -DateTimeOriginal -Model -Orientation -ImageSize -IPTC:Headline -IPTC:Keywords -XMP:Headline -FileType -ext '*' --ext gpx --ext json --ext txt --ext bin -r .demo; exit 0",
    ],
    { encoding: 'utf8', maxBuffer: 1 << 28, stdio: ['ignore', 'pipe', 'ignore'] },
  );
  readings = JSON.parse(output) as Reading[];
});

describe('the files', () => {
  it('are those of the plan: each photo once on its own drive, a companion beside some raws, sidecars where it is described so', () => {
    const own = readings.filter(({ SourceFile }) => onOwnDrive(String(SourceFile)) && SourceFile !== EMPTY);
    const companions = SHOOTS.filter(({ format }) => format === 'dng+jpeg').reduce(
      (sum, shoot) => sum + viewsOf(shoot).flatMap(({ frames }) => frames).length,
      0,
    );
    expect(own.filter(({ FileType }) => FileType !== 'XMP')).toHaveLength(
      PHOTOS + companions + PLANTED.takenIn.frames.length,
    );
    const described = SHOOTS.filter((shoot) => shoot.described === 'sidecar').flatMap((shoot) =>
      viewsOf(shoot).flatMap(({ frames }) => frames),
    ).length;
    expect(own.filter(({ FileType }) => FileType === 'XMP')).toHaveLength(
      described + 1 + PLANTED.takenIn.frames.length,
    ); // one is an orphan; what was taken in already has one each
  });

  it('are of many kinds, all that cameras and scanners made of them', () => {
    expect([...new Set(readings.map(({ FileType }) => String(FileType)))].sort()).toEqual(
      expect.arrayContaining(['AVI', 'AVIF', 'DNG', 'Extended WEBP', 'JPEG', 'PNG', 'TIFF', 'XMP']),
    );
  });

  it('are read by ExifTool without a warning, but for the file planted', () => {
    expect(
      readings
        .filter(({ Warning, Error: fault }) => Warning !== undefined || fault !== undefined)
        .map(({ SourceFile, Warning, Error: fault }) => [SourceFile, Warning ?? fault]),
    ).toEqual([[EMPTY, expect.any(String)]]);
  });

  it('are read by us as by ExifTool: dates, cameras, turned sizes and the Latin-1 text of old files', async () => {
    let compared = 0;
    for (const theirs of readings) {
      const file = String(theirs.SourceFile);
      if (theirs.FileType !== 'JPEG' || file === EMPTY || !onOwnDrive(file)) continue;
      const ours = await readPhoto(memorySource(readFileSync(file)), file);
      expect(ours.problems, file).toEqual([]);
      expect(ours.captured?.written.replace('T', ' ').replaceAll('-', ':').slice(0, 19), file).toBe(
        theirs.DateTimeOriginal,
      );
      expect(ours.camera.model, file).toBe(theirs.Model);
      const [width, height] = String(theirs.ImageSize).split(/[ x]/).map(Number);
      expect(Number(theirs.Orientation) > 4 ? [ours.height, ours.width] : [ours.width, ours.height], file).toEqual([
        width,
        height,
      ]);
      if (ours.disagreements.length === 0) expect(ours.fields.headline, file).toBe(theirs.Headline);
      if (ours.disagreements.length === 0 && theirs.Keywords !== undefined)
        expect(ours.fields.keywords, file).toEqual([theirs.Keywords].flat().map(String));
      compared += 1;
    }
    expect(compared).toBeGreaterThan(390);
  });

  it('two programs disagree in the files of the plan, in headline and keywords', async () => {
    const shoots = SHOOTS.filter(({ described }) => described === 'both');
    expect(shoots.length).toBeGreaterThanOrEqual(2);
    for (const shoot of shoots) {
      const file = `.demo/${shoot.drive}/${shoot.folder}/${frameName(shoot, 0)}.${CAMERAS[shoot.camera].ending}`;
      const { disagreements } = await readPhoto(memorySource(readFileSync(file)), file);
      expect(disagreements.map(({ key }) => key).sort(), file).toEqual(
        expect.arrayContaining(['headline', 'keywords']),
      );
    }
  });

  it('the raws are whole for ExifTool and exiv2, and hold the camera’s picture as their preview', () => {
    const raws = readings
      .filter(({ FileType, SourceFile }) => FileType === 'DNG' && onOwnDrive(String(SourceFile)))
      .map(({ SourceFile }) => String(SourceFile));
    expect(raws.length).toBeGreaterThanOrEqual(5);
    const bare = (file: string) => SHOOTS.some(({ folder, format }) => format === 'dng-bare' && file.includes(folder));
    expect(raws.filter(bare).length).toBeGreaterThan(0);
    for (const file of raws) {
      const [raw] = JSON.parse(
        execFileSync(
          'exiftool',
          [
            '-json',
            '-n',
            '-validate',
            '-warning',
            // of one without a preview the sensor's directory is the main one
            ...['PhotometricInterpretation', 'CFAPattern2', 'ImageWidth'].map(
              (tag) => `-${bare(file) ? 'IFD0' : 'SubIFD'}:${tag}`,
            ),
            file,
          ],
          { encoding: 'utf8' },
        ),
      ) as Reading[];
      expect([raw?.PhotometricInterpretation, raw?.CFAPattern2, raw?.ImageWidth], file).toEqual([
        32803,
        '0 1 1 2',
        1200,
      ]);
      const shoot = SHOOTS.find(
        ({ folder, drive, format }) => file.includes(folder) && drive === 'studio' && format?.startsWith('dng'),
      );
      const frame = shoot
        ? viewsOf(shoot)
            .flatMap(({ frames }) => frames)
            .find((at) => file.endsWith(`${frameName(shoot, at)}.dng`))
        : undefined;
      if (!shoot || frame === undefined) throw new Error(`${file} is not in the plan`);
      expect(readFileSync(file).includes(pictureOf(shoot, frame)), file).toBe(!bare(file));
      expect(
        execFileSync('exiv2', ['-K', 'Exif.Image.UniqueCameraModel', '-Pt', file], { encoding: 'utf8' }).trim(),
      ).toBe(CAMERAS[shoot.camera].model);
    }
  });

  it('the videos have their twenty pictures, two seconds of them, and the camera’s time', () => {
    const clips = execFileSync(
      'sh',
      [
        '-c',
        'exiftool -json -n -FrameCount -FrameRate -Duration -VideoCodec -Compression -ImageWidth -DateTimeOriginal -r -ext avi .demo/attic',
      ],
      { encoding: 'utf8' },
    );
    const videos = JSON.parse(clips) as Reading[];
    expect(videos).toHaveLength(1);
    for (const video of videos)
      expect([
        video.FrameCount,
        video.FrameRate,
        video.Duration,
        video.ImageWidth,
        String(video.DateTimeOriginal).length,
      ]).toEqual([20, 10, 2, 640, 19]);
  });

  it('the files of later formats are what they say for ExifTool: size, profile, codec, the camera’s time', () => {
    const names = ['FHS-0011.tif', 'NK2_5011.psd', 'NK4_6021.jxl', 'ALD0141.HEIC', 'ALD0220.MP4', 'ALD0221.jpg'];
    const files = names.map(
      (name) => execFileSync('find', ['.demo', '-name', name], { encoding: 'utf8' }).split('\n')[0]!,
    );
    const said = JSON.parse(
      execFileSync(
        'exiftool',
        [
          '-json',
          '-FileType',
          '-BitsPerSample',
          '-ProfileDescription',
          '-CompressorID',
          '-DateTimeOriginal',
          '-CreateDate',
          '-warning',
          ...files,
        ],
        { encoding: 'utf8' },
      ),
    ) as Reading[];
    expect(said.map(({ FileType }) => FileType)).toEqual(['TIFF', 'PSD', 'JXL', 'HEIC', 'MP4', 'JPEG']);
    expect(said.map(({ Warning }) => Warning).filter(Boolean)).toEqual([]);
    const [scan, psd, jxl, heic, video, wide] = said;
    expect([scan?.BitsPerSample, scan?.ProfileDescription, wide?.ProfileDescription]).toEqual([
      '16 16 16',
      'sP3C',
      'sP3C',
    ]);
    expect([psd, heic].map((one) => String(one?.DateTimeOriginal).slice(0, 10))).toEqual(['2015:08:22', '2021:06:18']);
    expect(String(jxl?.DateTimeOriginal ?? '2021:06:18').slice(0, 10)).toBe('2021:06:18');
    expect([video?.CompressorID, String(video?.CreateDate)]).toEqual(['avc1', '2022:07:29 15:10:00']);
  });

  it('the tracks are well-formed for xmllint, and ExifTool places the photos of the launch by theirs', () => {
    const folder = '.demo/harbour/2019/2019-07-04 Klaksvík slip';
    execFileSync('sh', ['-c', 'find .demo -name "*.gpx" -print0 | xargs -0 xmllint --noout --nonet'], {
      stdio: 'pipe',
    });
    const copy = path.join(mkdtempSync(path.join(tmpdir(), 'wembo-placed-')), 'placed.jpg');
    copyFileSync(`${folder}/NK4_2034.jpg`, copy);
    execFileSync('exiftool', ['-q', '-overwrite_original', '-gps:all=', copy]);
    execFileSync('exiftool', [
      '-q',
      '-overwrite_original',
      '-geotag',
      `${folder}/2019-07-04.gpx`,
      '-geotime<${DateTimeOriginal}${OffsetTimeOriginal}',
      copy,
    ]);
    const out = execFileSync(
      'exiftool',
      ['-json', '-n', '-GPSLatitude', '-GPSLongitude', copy, `${folder}/NK4_2034.jpg`],
      { encoding: 'utf8' },
    );
    const [placed, camera] = JSON.parse(out) as { GPSLatitude: number; GPSLongitude: number }[];
    // a ten-thousandth of a degree of latitude is eleven metres
    expect(Math.abs(placed!.GPSLatitude - camera!.GPSLatitude)).toBeLessThan(0.0002);
    expect(Math.abs(placed!.GPSLongitude - camera!.GPSLongitude)).toBeLessThan(0.0004);
  });

  it('sha256sum finds what is wrong on the copy, and nothing on the drive it was copied from', () => {
    const check = (drive: string) => {
      const { stdout, status } = spawnSync('sha256sum', ['-c', '--quiet', '_wembo/manifest-sha256.txt'], {
        cwd: `.demo/${drive}`,
        encoding: 'utf8',
      });
      return { bad: stdout.trim().split('\n').filter(Boolean), status };
    };
    expect(check('harbour')).toEqual({ bad: [], status: 0 });
    expect(check('offsite')).toEqual({ bad: [], status: 0 });
    const { bad } = check('copy');
    expect(bad.filter((line) => line.endsWith(': FAILED'))).toEqual([`${PLANTED.damaged.path}: FAILED`]);
    expect(bad.filter((line) => line.endsWith('FAILED open or read'))).toHaveLength(
      PLANTED.missing.length + Object.keys(PLANTED.moved).length,
    );
  });
});

describe('the pictures', () => {
  const files = () =>
    OWN_DRIVES.flatMap((drive) =>
      readdirSync(path.join(PICTURES, drive)).map((name) => path.join(PICTURES, drive, name)),
    );

  it('are one for each photo, 30 MB in all at most, and mostly between 30 and 160 kB', () => {
    const sizes = files().map((file) => statSync(file).size);
    expect(sizes).toHaveLength(PHOTOS);
    expect(sizes.reduce((sum, size) => sum + size, 0)).toBeLessThan(30_000_000);
    expect(sizes.filter((size) => size > 30_000 && size < 160_000).length / sizes.length).toBeGreaterThan(0.8);
  });

  it.each(['fog', 'rust', 'slip'] as const)('the painter paints the same bytes again: %s', async (motif) => {
    const view = VIEWS.find(
      ({ number, frames }) => SHOOTS[number]!.motif === motif && frames.length > (motif === 'slip' ? 1 : 0),
    );
    if (!view) throw new Error(`no view of ${motif}`);
    const shoot = SHOOTS[view.number]!;
    for (const { name, bytes } of await paintView(shoot, view.view))
      expect(bytes.equals(readFileSync(path.join(PICTURES, shoot.drive, name))), name).toBe(true);
  });

  it('and the files made of them are the same bytes again', async () => {
    const shoot = SHOOTS.find(({ headline }) => headline === 'Launching the Kvirrulýsið after her third refit')!;
    const [view] = viewsOf(shoot);
    for (const frame of view!.frames)
      for (const { path: file, bytes } of await filesOfFrame(shoot, view!, frame, pictureOf(shoot, frame)))
        expect(bytes.equals(readFileSync(`.demo/${shoot.drive}/${file}`)), file).toBe(true);
  });

  const [WIDE, TALL] = [120, 80];
  const grey = async (shoot: Shoot, frame: number) =>
    sharp(pictureOf(shoot, frame)).grayscale().resize(WIDE, TALL, { fit: 'fill' }).raw().toBuffer();
  /** Mean difference once one picture is laid on the other as well as a shift of a few pixels can do it. */
  const apart = (one: Buffer, other: Buffer) => {
    let least = Infinity;
    for (let dy = -3; dy <= 3; dy++) {
      for (let dx = -3; dx <= 3; dx++) {
        let sum = 0;
        for (let y = 3; y < TALL - 3; y++)
          for (let x = 3; x < WIDE - 3; x++) sum += Math.abs(one[y * WIDE + x]! - other[(y + dy) * WIDE + x + dx]!);
        least = Math.min(least, sum / ((TALL - 6) * (WIDE - 6)));
      }
    }
    return least;
  };
  const ofKind = (kind: ViewKind) =>
    SHOOTS.flatMap((shoot) =>
      viewsOf(shoot)
        .filter((view) => view.kind === kind)
        .map((view) => ({ shoot, view })),
    );

  it('brackets grow lighter from frame to frame', async () => {
    for (const { shoot, view } of ofKind('bracket')) {
      const means = await Promise.all(
        view.frames.map(async (frame) => (await sharp(pictureOf(shoot, frame)).stats()).channels[1]!.mean),
      );
      expect(
        [...means].sort((a, b) => a - b),
        shoot.folder,
      ).toEqual(means);
    }
  });

  it('near-duplicates are nearer to each other than to another view of the shoot', async () => {
    for (const { shoot, view } of ofKind('near')) {
      const other = viewsOf(shoot).find(({ kind, index }) => kind === 'plain' && index !== view.index);
      if (!other) continue;
      const [one, two, far] = await Promise.all([
        grey(shoot, view.frames[0]!),
        grey(shoot, view.frames[1]!),
        grey(shoot, other.frames[0]!),
      ]);
      expect(apart(one, two), shoot.folder).toBeLessThan(apart(one, far));
    }
  });

  it('what is out of focus or shaken is less sharp at 100 % than the frames beside it', async () => {
    // variance of the Laplacian: Pertuz, Puig and Garcia, "Analysis of focus measure operators", 2013 (from memory)
    const sharpness = async (shoot: Shoot, frame: number) => {
      const { data, info } = await sharp(pictureOf(shoot, frame))
        .grayscale()
        .convolve({ width: 3, height: 3, kernel: [0, 1, 0, 1, -4, 1, 0, 1, 0], offset: 128 })
        .raw()
        .toBuffer({ resolveWithObject: true });
      const mean = data.reduce((sum, value) => sum + value, 0) / data.length;
      return data.reduce((sum, value) => sum + (value - mean) ** 2, 0) / (info.width * info.height);
    };
    const failures = [...ofKind('focus'), ...ofKind('shaken')];
    expect(failures.length).toBeGreaterThanOrEqual(8);
    for (const { shoot, view } of failures) {
      const sharpView = viewsOf(shoot).find(({ kind }) => kind === 'plain');
      if (sharpView)
        expect(await sharpness(shoot, view.frames[0]!), shoot.folder).toBeLessThan(
          await sharpness(shoot, sharpView.frames[0]!),
        );
    }
  });
});
