// No room left: on the drive, and in the browser. Nothing half-written stays, the person is told, and the work goes on
// when there is room.

import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterEach, beforeEach, describe, expect, inject, it } from 'vitest';
import { type Browser, dropFolder, openBrowser, removeProfile } from './browser';
import { filesIn, newFolder, photoBytes, photosIn, put, read, sha256, until } from './folders';
import { WAYS, connectBy } from './ways';
import { drives, jobEnded, openApplication, openPlace, shownCount } from './person';

const origin = inject('origin');
let browser: Browser;

beforeEach(async () => {
  browser = await openBrowser({ origin });
});

afterEach(async () => {
  await browser.close();
  removeProfile(browser.profile);
});

/** A real file system of a few megabytes, where this machine lets one be mounted. */
function smallDisk(): string | null {
  const folder = mkdtempSync(path.join(tmpdir(), 'wembo-small-'));
  return spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=3m', 'tmpfs', folder]).status === 0 ? folder : null;
}

describe.each(Object.entries(WAYS))('a full drive, %s', (_, way) => {
  const disk = smallDisk();

  it.runIf(disk !== null)(
    'stops the copy, keeps what is verified, leaves no part file, and goes on when there is room',
    async () => {
      await way.open(browser.page);
      const target = disk ?? '';
      const folder = newFolder('Studio');
      for (let index = 0; index < 12; index++)
        put(folder, `p${index}.jpg`, await photoBytes({ seed: index + 1, width: 1900, height: 1300 }));
      await connectBy(way, browser, folder, 'Studio');
      await connectBy(way, browser, target, 'Stick');
      await openPlace(browser.page, 'Safekeep');
      await drives(browser.page, 'Studio', 'Stick');
      await browser.page.getByRole('button', { name: 'Copy and verify' }).click();
      await browser.page.getByText('The drive is full. Nothing was left half-written').first().waitFor(); // of the photo, and perhaps of the manifest too
      const copied = photosIn(target);
      expect(copied.length).toBeGreaterThan(0);
      expect(copied.length).toBeLessThan(12);
      for (const file of copied) expect(sha256(read(target, file)), file).toBe(sha256(read(folder, file)));
      // records of the drive may just be tried
      const parts = () => filesIn(target).filter((name) => name.includes('part') || name.endsWith('.crswap'));
      await until('no part stays', () => parts().length === 0);
      execFileSync('mount', ['-o', 'remount,size=40m', target]);
      await browser.page.getByRole('button', { name: 'Resume', exact: true }).first().click();
      await jobEnded(browser.page, 'Second copy: Studio → Stick');
      expect(photosIn(target)).toHaveLength(12);
      execFileSync('umount', ['-l', target]);
    },
  );
});

describe('a browser without room', () => {
  it('stops the scan and says so; with room again it goes on to the end', async () => {
    const folder = newFolder('Studio');
    for (let index = 0; index < 30; index++)
      put(folder, `p${index}.jpg`, await photoBytes({ seed: index + 1, width: 1500, height: 1000 }));
    // before the application opens its catalog: what room there is, the browser asks once in half a minute
    const devtools = await browser.context.newCDPSession(await browser.context.newPage());
    await devtools.send('Storage.overrideQuotaForOrigin', { origin, quotaSize: 600_000 });
    await openApplication(browser.page, origin);
    await dropFolder(browser, folder);
    await browser.page.getByRole('button', { name: 'Connect and catalog' }).click();
    await browser.page.getByText('The browser has no room left for the catalog').waitFor();
    await devtools.send('Storage.overrideQuotaForOrigin', { origin });
    await browser.page.getByRole('button', { name: 'Resume', exact: true }).first().click();
    await jobEnded(browser.page, 'Catalog: Studio');
    await openPlace(browser.page, 'Find');
    await until('all photos', async () => (await shownCount(browser.page)) === 30);
  });
});
