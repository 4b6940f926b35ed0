// A real folder with a track beside its photos: the clock is put right, the photos are placed as ExifTool places them,
// named, and moved by hand; what other programs read in the files is what the screen said.

import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, expect, inject } from 'vitest';
import { isoOfSeconds, secondsOfIso } from '@/core/time/civil';
import { type Browser, dropFolder, openBrowser, removeProfile } from './browser';
import { exiftool, filesIn, newFolder, photoBytes, put, read, until } from './folders';
import { connectFolder, ofDrive, openApplication, openPlace, selectPhoto, tick, typeScope } from './person';
import { story } from './story';

const origin = inject('origin');
let browser: Browser;
let folder: string;

/** A walk along the harbour of Gjógv: a fix every fifteen seconds, and twelve minutes without any. */
const START = secondsOfIso('2026-08-30T10:00:00');
const WALK = Array.from({ length: 160 }, (_, index) => ({
  utc: START + index * 15 + (index >= 100 ? 720 : 0),
  lat: 62.326 + index * 0.00008,
  lon: -6.941 + Math.sin(index / 12) * 0.0011,
  ele: 4 + index * 0.2,
}));
const GPX = `<?xml version="1.0" encoding="UTF-8"?><gpx version="1.1" creator="receiver" xmlns="http://www.topografix.com/GPX/1/1"><trk><name>Gjógv</name><trkseg>${WALK.map(({ utc, lat, lon, ele }) => `<trkpt lat="${lat.toFixed(7)}" lon="${lon.toFixed(7)}"><ele>${ele.toFixed(1)}</ele><time>${isoOfSeconds(utc)}Z</time></trkpt>`).join('')}</trkseg></trk></gpx>`;
/** Of the photos, in UTC: on the way, one of them where the receiver saw no sky, and one long after. */
const TAKEN = [95, 240, 611, 1003, 1420, 1760, 2400, 9000].map((seconds) => START + seconds);
/** The clock shows the time of the islands in summer, and is an hour, three minutes and twenty seconds ahead. */
const shown = (utc: number) => isoOfSeconds(utc + 3600 + 3800);
const exifTime = (iso: string) => iso.replace('T', ' ').replaceAll('-', ':');

const sidecar = (index: number): Record<string, unknown> => {
  if (!filesIn(folder).includes(`p${index}.xmp`)) return {};
  const [reading] = JSON.parse(
    execFileSync('exiftool', ['-json', '-n', '-G1', '-struct', path.join(folder, `p${index}.xmp`)], {
      encoding: 'utf8',
    }),
  ) as Record<string, unknown>[];
  return reading ?? {};
};
const position = (index: number) => [sidecar(index)['XMP-exif:GPSLatitude'], sidecar(index)['XMP-exif:GPSLongitude']];
const inTheFiles = (look: () => unknown) => expect.poll(look, { interval: 200 });
const openDesk = async (name: 'Map' | 'Tracks' | 'Place names' | 'Spots of your own') => {
  await openPlace(browser.page, 'Locate');
  await browser.page.getByRole('navigation', { name: 'Desks' }).getByRole('button', { name, exact: true }).click();
};
const clock = () => browser.page.getByRole('listitem', { name: /^Clock of Norda K4/ });
const difference = () => clock().getByRole('textbox', { name: 'Correct by, the clock of Norda K4' });
const found = (words: string) =>
  browser.page.getByRole('complementary', { name: 'What was found' }).getByText(words, { exact: true });
const beside = () => browser.page.getByRole('complementary', { name: 'Photos to place' });

beforeAll(async () => {
  folder = newFolder('Studio ð');
  for (const [index, utc] of TAKEN.entries())
    put(
      folder,
      `p${index}.jpg`,
      await photoBytes({ seed: index + 1, captured: exifTime(shown(utc)), headline: `Photo ${index}` }),
    );
  put(folder, 'walk.gpx', GPX);
  browser = await openBrowser({ origin });
  await openApplication(browser.page, origin);
  await connectFolder(browser, folder, 'Studio');
});

afterAll(async () => {
  await browser.close();
  removeProfile(browser.profile);
});

story('a shoot is put on the map', (step) => {
  step('a track beside the photos: is found with the drive, with its facts and the zone of its place', async () => {
    const { page } = browser;
    await openDesk('Tracks');
    const tracks = page.getByRole('region', { name: 'Tracks' });
    await tracks.getByText('walk.gpx').waitFor();
    await tracks.getByText('2026-08-30 11:00 to 11:51, Atlantic/Faroe (+01:00)').waitFor();
    await tracks.getByText(/160 points in 1 segment, 1\.\d km, 1 gap: 11:24–11:37/).waitFor();
    expect(await clock().locator('.ant-select').innerText()).toContain('Atlantic/Faroe');
  });

  step(
    'a track beside the photos: the clock is put right by typing; photos are previewed, and placed as ExifTool places them; undo takes it back',
    async () => {
      const { page } = browser;
      await difference().fill('-1:03:20');
      await difference().press('Enter');
      await found('7 found').waitFor();
      await page.getByText('between points 5 s before and 10 s after').first().waitFor();
      await found('1 not found').click();
      await page.getByText(/^nearest point of a track 1 h 38 min 15 s away$/).waitFor();
      await found('7 found').click();
      await page.getByRole('button', { name: 'Place 7 photos' }).click();
      await page.getByText('7 photos placed').waitFor();

      // the same photos with the true time, placed by ExifTool with the same limits
      const theirs = mkdtempSync(path.join(tmpdir(), 'wembo-theirs-'));
      for (const [index, utc] of TAKEN.entries())
        put(theirs, `p${index}.jpg`, await photoBytes({ seed: index + 1, captured: exifTime(isoOfSeconds(utc)) }));
      execFileSync(
        'exiftool',
        [
          '-q',
          '-m',
          '-overwrite_original',
          '-api',
          'GeoMaxIntSecs=600',
          '-api',
          'GeoMaxExtSecs=600',
          '-geotag',
          path.join(folder, 'walk.gpx'),
          '-geotime<${DateTimeOriginal}+00:00',
          theirs,
        ],
        { stdio: 'ignore' },
      );
      const read = JSON.parse(
        execFileSync('exiftool', ['-json', '-n', '-GPSLatitude', '-GPSLongitude', '-GPSAltitude', theirs], {
          encoding: 'utf8',
        }),
      ) as ({ SourceFile: string } & Record<string, number>)[];
      read.sort((a, b) => (a.SourceFile < b.SourceFile ? -1 : 1)); // it lists a folder in the order of the disk
      await inTheFiles(() => TAKEN.flatMap((_, index) => (position(index)[0] === undefined ? [] : [index]))).toEqual(
        read.flatMap((one, index) => (one.GPSLatitude === undefined ? [] : [index])),
      );
      for (const [index, one] of read.entries()) {
        if (one.GPSLatitude === undefined) continue;
        const ours = sidecar(index);
        expect(Math.abs(Number(ours['XMP-exif:GPSLatitude']) - one.GPSLatitude)).toBeLessThan(1e-6);
        expect(Math.abs(Number(ours['XMP-exif:GPSLongitude']) - (one.GPSLongitude ?? 0))).toBeLessThan(1e-6);
        expect(Math.abs(Number(ours['XMP-exif:GPSAltitude']) - (one.GPSAltitude ?? 0))).toBeLessThan(0.15);
        expect(ours['XMP-exif:GPSMapDatum']).toBe('WGS-84');
        expect(ours['XMP-exif:GPSProcessingMethod']).toBe('GPS');
        expect(ours['XMP-exif:GPSDateTime']).toBe(`${exifTime(isoOfSeconds(TAKEN[index]!))}Z`);
      }
      await page.keyboard.press('Control+z');
      await inTheFiles(() => position(0)).toEqual([undefined, undefined]);
      await page.keyboard.press('Control+Shift+z');
      await inTheFiles(() => typeof position(0)[0]).toBe('number');
    },
  );

  step(
    'a track beside the photos: photos that have a place keep it unless asked otherwise; the fit finds the difference from those that have one',
    async () => {
      const { page } = browser;
      await found('7 kept').waitFor();
      await difference().fill('0');
      await difference().press('Enter');
      await page.getByRole('button', { name: 'Fit to the tracks: Norda K4' }).click();
      await page.getByText(/^−1 h 3 min (19|20|21) s, quite sure$/).waitFor();
      await page.getByText(/^explains 7 of 7 placed photos, half of them within 0 m of the track$/).waitFor();
      await clock().getByRole('button', { name: 'Take it' }).click();
      await expect.poll(() => difference().inputValue()).toMatch(/^−1 h 3 min (19|20|21) s$/);
    },
  );

  step(
    'a track beside the photos: the row of the photos is pulled along by pointer and by keys, and the matches follow',
    async () => {
      const { page } = browser;
      await tick(page.getByRole('checkbox', { name: 'also those that have a position' }), true);
      const row = page.getByRole('slider', { name: /^Photos of Norda K4/ });
      const before = Number(await row.getAttribute('aria-valuenow'));
      await row.press('ArrowRight');
      await row.press('Shift+ArrowLeft');
      await expect.poll(async () => Number(await row.getAttribute('aria-valuenow'))).toBe(before - 59);
      const box = (await row.boundingBox())!;
      await page.mouse.move(box.x + 300, box.y + 10);
      await page.mouse.down();
      await page.mouse.move(box.x + 420, box.y + 10, { steps: 6 });
      await until('the photos have gone off the track', async () => (await found('7 found').count()) === 0);
      await page.mouse.up();
      await until('it is kept', async () => Number(await row.getAttribute('aria-valuenow')) > before + 500);
      await difference().fill('-1:03:20');
      await difference().press('Enter');
      await found('7 found').waitFor();
      await tick(page.getByRole('checkbox', { name: 'also those that have a position' }), false);
    },
  );

  step('a track beside the photos: a photo of a clock gives the difference', async () => {
    const { page } = browser;
    await page.getByRole('button', { name: 'A photo of a clock…: Norda K4' }).click();
    const dialog = page.getByRole('dialog');
    await dialog.getByRole('radio', { name: 'a receiver, in UTC' }).click();
    await dialog.getByRole('textbox', { name: 'What the clock shows' }).fill(isoOfSeconds(TAKEN[0]!).replace('T', ' '));
    await dialog.getByText('To be added to the camera’s clock: −1 h 3 min 20 s').waitFor();
    await dialog.getByRole('button', { name: 'Take it' }).click();
    await dialog.waitFor({ state: 'hidden' });
    expect(await difference().inputValue()).toBe('−1 h 3 min 20 s');
  });

  step(
    'a track beside the photos: the dates are put right as a change of its own; what the camera wrote stays in the file',
    async () => {
      const { page } = browser;
      await page.getByRole('button', { name: 'Put its dates right…: Norda K4' }).click();
      await page.getByRole('button', { name: 'Put right', exact: true }).click();
      await page.getByText('The dates of 8 photos were put right').waitFor();
      await inTheFiles(() => sidecar(3)['XMP-photoshop:DateCreated']).toBe(
        `${exifTime(isoOfSeconds(TAKEN[3]! + 3600))}+01:00`,
      );
      expect(exiftool(folder, 'p3.jpg')['ExifIFD:DateTimeOriginal']).toBe(exifTime(shown(TAKEN[3]!)));
      await found('7 kept').waitFor();
      expect(await difference().inputValue()).toBe('0 s');
      await page.keyboard.press('Escape');
      await page.locator('h1').click();
      await page.keyboard.press('Control+z');
      await inTheFiles(() => sidecar(3)['XMP-photoshop:DateCreated'] ?? 'as in the file').not.toBe(
        `${exifTime(isoOfSeconds(TAKEN[3]! + 3600))}+01:00`,
      );
      await expect.poll(() => difference().inputValue()).toBe('−1 h 3 min 20 s');
    },
  );

  step(
    'tracks that are handed over: several at once, dropped: good ones are kept on the drive, a hostile one is refused in a sentence',
    async () => {
      const { page } = browser;
      const handed = newFolder('handed over');
      put(
        handed,
        'later.csv',
        `time,latitude,longitude\n${isoOfSeconds(TAKEN[7]! - 20)}Z,62.28,-6.96\n${isoOfSeconds(TAKEN[7]! + 20)}Z,62.2802,-6.9602\n`,
      );
      put(
        handed,
        'bomb.gpx',
        '<!DOCTYPE gpx [<!ENTITY a "ha"><!ENTITY b "&a;&a;&a;&a;">]><gpx><trk><name>&b;</name></trk></gpx>',
      );
      await dropFolder(browser, path.join(handed, 'later.csv'));
      await page.getByText('1 track added').waitFor();
      await dropFolder(browser, path.join(handed, 'bomb.gpx'));
      await page.getByText(/bomb\.gpx: The file carries a document type/).waitFor();
      await found('1 found').waitFor();
      await until('it lies on the drive', () => filesIn(folder).includes('_wembo/tracks/later.csv'));
      expect(read(folder, '_wembo/tracks/later.csv')).toEqual(read(handed, 'later.csv'));
    },
  );

  step(
    'by hand: a photo is dragged onto the map, another put at typed coordinates, another where its neighbour is',
    async () => {
      const { page } = browser;
      await openPlace(page, 'Find');
      await selectPhoto(page, 'Photo 6');
      await openDesk('Map');
      await beside().getByRole('button', { name: 'Without a position' }).click();
      await inTheFiles(() => position(6)).toEqual([undefined, undefined]);
      await beside().getByRole('button', { name: 'Select none' }).click();
      await beside().getByRole('heading', { name: '2 without a position' }).waitFor();
      await page.getByRole('group', { name: 'Photos on the map' }).getByRole('button').first().waitFor();
      const target = page.getByRole('application');
      await beside()
        .getByRole('button', { name: /^p6\.jpg/ })
        .dragTo(target, { targetPosition: { x: 300, y: 200 } });
      await page.getByText(/^1 photo put at/).waitFor();
      await inTheFiles(() => [
        typeof position(6)[0],
        sidecar(6)['XMP-exif:GPSProcessingMethod'],
        sidecar(6)['XMP-exif:GPSDateTime'],
      ]).toEqual(['number', 'MANUAL', undefined]);

      await beside()
        .getByRole('button', { name: /^p7\.jpg/ })
        .click();
      const where = beside().getByRole('combobox', { name: 'Put them at' });
      await where.fill('62° 17′ 13.2″ N, 6° 58′ 4.8″ W');
      await where.press('Enter');
      await inTheFiles(() => position(7).map((degrees) => Number(degrees).toFixed(6))).toEqual([
        '62.287000',
        '-6.968000',
      ]);
      await where.fill('klaksvik');
      await page.locator('.ant-select-dropdown:visible').getByText('Klaksvík, Norðoyar, Faroe Islands').click();
      await inTheFiles(() => position(7)).toEqual([62.22655, -6.58901]);
      await beside().getByText('Place shown', { exact: true }).click();
      await where.fill('klaksvik');
      await page.locator('.ant-select-dropdown:visible').getByText('Klaksvík, Norðoyar, Faroe Islands').click();
      await inTheFiles(() => sidecar(7)['XMP-iptcExt:LocationShown']).toMatchObject([
        { City: 'Klaksvík', CountryCode: 'FRO', GPSLatitude: expect.closeTo(62.22655, 6) as number },
      ]);
      await beside().getByText('Where the camera stood', { exact: true }).click();
      await beside().getByRole('button', { name: 'Where the nearest in time is' }).click();
      await inTheFiles(() => position(7)).toEqual(position(6));
      await beside().getByRole('button', { name: 'Without a position' }).click();
      await inTheFiles(() => position(7)).toEqual([undefined, undefined]);
      await beside().getByRole('button', { name: 'Select none' }).click();
      await beside().getByRole('heading', { name: '1 without a position' }).waitFor();
    },
  );

  step(
    'by hand: an area of the map becomes part of the scope, and the map is left for the photos around one',
    async () => {
      const { page } = browser;
      await page.getByRole('button', { name: 'Only what is in view' }).click();
      const scope = page.getByRole('combobox', { name: 'Search' });
      await expect.poll(() => scope.inputValue()).toMatch(/^area:[\d.]+,-[\d.]+,[\d.]+,-[\d.]+$/);
      await beside().getByText('Every photo of the search has a position.').waitFor();
      await typeScope(page, '');
      await openPlace(page, 'Find');
      await selectPhoto(page, 'Photo 0');
      const card = page.getByRole('region', { name: 'Where it was taken' });
      await card.getByText(/62°19′/).waitFor();
      await page.getByRole('button', { name: 'Go to…' }).click();
      await page.getByRole('menuitem', { name: 'Around this place' }).click();
      await expect.poll(() => scope.inputValue()).toMatch(/^near:62\.\d+,-6\.\d+~500m$/);
      await typeScope(page, '');
    },
  );

  step('the map: shows tiles of the person’s own, and says so of a file that holds none', async () => {
    const { page } = browser;
    // a browser that remembers no file it was given
    await page.evaluate(() => Reflect.deleteProperty(window, 'showOpenFilePicker'));
    await openDesk('Map');
    const pick = async (file: string) => {
      const [chooser] = await Promise.all([
        page.waitForEvent('filechooser'),
        page.getByRole('button', { name: /^(Add a map file…|Tiles: )/ }).click(),
      ]);
      await chooser.setFiles(file);
    };
    const own = newFolder('tiles');
    put(own, 'other.pmtiles', Buffer.alloc(200));
    await pick(path.join(own, 'other.pmtiles'));
    await page.getByText('“other.pmtiles” is no PMTiles archive of version 3.').waitFor();
    put(own, 'harbours.pmtiles', await oneTile());
    await pick(path.join(own, 'harbours.pmtiles'));
    await page.getByRole('button', { name: 'Tiles: harbours.pmtiles' }).waitFor();
    await page.getByRole('button', { name: 'Without it' }).click();
    await page.getByRole('button', { name: 'Add a map file…' }).waitFor();
  });

  /** A PMTiles archive (specification, version 3) with one picture, of the whole world, and nothing compressed. */
  async function oneTile(): Promise<Buffer> {
    const tile = await sharp({ create: { width: 256, height: 256, channels: 3, background: '#8899aa' } })
      .png()
      .toBuffer();
    const directory = Buffer.from([1, 0, 1, ...varint(tile.length), 1]); // one entry: tile 0, a run of one, its length, its offset plus one
    const metadata = Buffer.from('{}');
    const header = Buffer.alloc(127);
    header.write('PMTiles', 0, 'latin1');
    header.writeUInt8(3, 7);
    const places = [
      127,
      directory.length,
      127 + directory.length,
      metadata.length,
      0,
      0,
      127 + directory.length + metadata.length,
      tile.length,
      1,
      1,
      1,
    ];
    places.forEach((value, at) => header.writeBigUInt64LE(BigInt(value), 8 + at * 8));
    header.writeUInt8(1, 96); // clustered
    header.writeUInt8(1, 97); // directories and metadata are not compressed
    header.writeUInt8(1, 98); // tiles are not compressed further
    header.writeUInt8(2, 99); // PNG
    header.writeInt32LE(-1_800_000_000, 102);
    header.writeInt32LE(-850_000_000, 106);
    header.writeInt32LE(1_800_000_000, 110);
    header.writeInt32LE(850_000_000, 114);
    return Buffer.concat([header, directory, metadata, tile]);
  }

  const varint = (value: number): number[] => (value < 128 ? [value] : [(value & 127) | 128, ...varint(value >>> 7)]);

  step(
    'words: of the nearest place are shown, then written where nothing stands; a spot of one’s own goes before; a private one marks its photos',
    async () => {
      const { page } = browser;
      await openDesk('Spots of your own');
      await page.getByRole('application').click({ position: { x: 40, y: 300 } });
      const form = page.getByRole('form', { name: 'Spot' });
      await form.getByLabel('Name', { exact: true }).fill('the gorge');
      await form.getByLabel('Radius in metres').fill('500000'); // wherever on the map that click was
      await form.getByLabel('Radius in metres').blur();
      await form.getByLabel('Location', { exact: true }).fill('Gjógv, the gorge');
      await tick(form.getByRole('checkbox', { name: /^Private/ }), true);
      await form.getByRole('button', { name: 'Keep' }).click();
      await page.getByText(/^private, 500000 m around/).waitFor();
      await until(
        'it lies on the drive',
        () =>
          filesIn(folder).includes('_wembo/spots.json') &&
          read(folder, '_wembo/spots.json').toString('utf8').includes('the gorge'),
      );

      await openDesk('Place names');
      await page.getByRole('button', { name: 'For the whole search instead' }).click();
      await page.getByRole('button', { name: 'Look them up' }).click();
      await page.getByText('7 photos with a position, 1 photo without one.').waitFor();
      const table = page.getByRole('table', { name: 'What would change' });
      await table.getByText('Gjógv, the gorge').first().waitFor();
      await page.getByRole('button', { name: 'Write them' }).click();
      await inTheFiles(() => [
        sidecar(0)['XMP-photoshop:Country'],
        sidecar(0)['XMP-iptcCore:CountryCode'],
        sidecar(0)['XMP-iptcCore:Location'],
      ]).toEqual(['Faroe Islands', 'FRO', 'Gjógv, the gorge']);
      expect(sidecar(0)['XMP-iptcExt:LocationCreated']).toMatchObject([
        {
          CountryCode: 'FRO',
          Sublocation: 'Gjógv, the gorge',
          GPSLatitude: expect.closeTo(62.3265, 3) as number,
          GPSAltitudeRef: 0,
        },
      ]);
      await openPlace(page, 'Find');
      await selectPhoto(page, 'Photo 0');
      await page.getByText('In the private area “the gorge”: its place is left out when it is sent out').waitFor();
    },
  );

  step('out and back: nothing inside a private spot goes out; the others do, as GPX that gpsbabel reads', async () => {
    const { page } = browser;
    await openDesk('Map');
    await page.getByRole('button', { name: 'Save as…' }).click();
    await page.getByRole('menuitem', { name: 'GPX way points' }).click();
    await page.getByText('7 photos inside a private spot stay here.').waitFor();
    await openDesk('Spots of your own');
    await page.getByRole('button', { name: 'Change', exact: true }).click();
    const form = page.getByRole('form', { name: 'Spot' });
    await tick(form.getByRole('checkbox', { name: /^Private/ }), false);
    await form.getByRole('button', { name: 'Keep' }).click();
    await page.getByText(/^500000 m around/).waitFor();
    await openDesk('Map');
    await page.getByRole('button', { name: 'Save as…' }).click();
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('menuitem', { name: 'GPX way points' }).click(),
    ]);
    const file = path.join(newFolder('out'), 'photos.gpx');
    writeFileSync(file, readFileSync(await download.path()));
    const lines = execFileSync('gpsbabel', ['-i', 'gpx', '-f', file, '-o', 'csv', '-F', '-'], { encoding: 'utf8' })
      .trim()
      .split('\n');
    expect(lines).toHaveLength(7);
    expect(lines[0]).toMatch(/^62\.3265\d, -6\.9404\d, /);
    expect(readFileSync(file, 'utf8')).toContain('<name>p0.jpg</name>');
  });

  step('out and back: with writing into the files on, the GPS directory of EXIF says the same', async () => {
    const { page } = browser;
    await openPlace(page, 'Overview');
    await ofDrive(page, 'Studio', 'Write into the files as well');
    const gps = () => exiftool(folder, 'p0.jpg');
    await inTheFiles(() => [
      gps()['GPS:GPSLatitudeRef'],
      gps()['GPS:GPSMapDatum'],
      gps()['GPS:GPSProcessingMethod'],
      gps()['GPS:GPSDateStamp'],
      gps()['GPS:GPSTimeStamp'],
    ]).toEqual(['North', 'WGS-84', 'GPS', '2026:08:30', '10:01:35']);
    expect(
      Number(
        JSON.parse(
          execFileSync('exiftool', ['-json', '-n', '-GPS:GPSLatitude', path.join(folder, 'p0.jpg')], {
            encoding: 'utf8',
          }),
        )[0].GPSLatitude,
      ),
    ).toBeCloseTo(Number(position(0)[0]), 7);
  });

  step('out and back: on another computer everything of it is back: positions, tracks, clocks and spots', async () => {
    await browser.close();
    removeProfile(browser.profile);
    browser = await openBrowser({ origin });
    await openApplication(browser.page, origin);
    await dropFolder(browser, folder);
    await openPlace(browser.page, 'Overview');
    await browser.page
      .getByRole('listitem')
      .filter({ hasText: 'Catalog: Studio' })
      .filter({ hasText: 'finished' })
      .first()
      .waitFor();
    await openDesk('Tracks');
    await browser.page.getByRole('region', { name: 'Tracks' }).getByText('later.csv').waitFor();
    await found('7 kept').waitFor();
    await expect.poll(() => difference().inputValue()).toBe('−1 h 3 min 20 s');
    await openDesk('Spots of your own');
    await browser.page.getByText('the gorge').first().waitFor();
  });

  step('the map: a map file that is dropped anywhere is laid on it, and remembered until it is removed', async () => {
    const { page } = browser;
    const own = newFolder('tiles');
    put(own, 'harbours.pmtiles', await oneTile());
    await openPlace(page, 'Find');
    await dropFolder(browser, path.join(own, 'harbours.pmtiles'));
    await page.getByRole('button', { name: 'Tiles: harbours.pmtiles' }).waitFor();
    await page.reload();
    await page.getByRole('button', { name: 'Tiles: harbours.pmtiles' }).waitFor();
    await page.getByRole('button', { name: 'Without it' }).click();
    await page.reload();
    await page.getByRole('button', { name: 'Add a map file…' }).waitFor();
  });
});
