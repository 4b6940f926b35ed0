// What a person does who asks "am I safe, and if not, what do I click", on real folders: a rule, copies, damage by script,
// a check, a repair with its evidence, a drill, doubles, a drive replaced and forgotten. Judged by `diff -r`,
// `sha256sum -c` and the files themselves.

import { spawnSync } from 'node:child_process';
import { copyFileSync, cpSync, rmSync } from 'node:fs';
import path from 'node:path';
import { expect, inject } from 'vitest';
import { complaints } from './axe';
import { type Browser, openBrowser, removeProfile } from './browser';
import { filesIn, newFolder, put, read, rot, sha256sum, until } from './folders';
import {
  allWritten,
  choose,
  connectFolder,
  drivePhotos,
  fill,
  jobEnded,
  lookThrough,
  openApplication,
  openPlace,
  selectPhoto,
  typeScope,
} from './person';
import { story } from './story';

const origin = inject('origin');
const TODAY = /_wembo\/set-aside\/\d{4}-\d{2}-\d{2}\//;

/** What `diff` says of two folders, our own records aside. */
const diff = (a: string, b: string): string =>
  spawnSync('diff', ['-r', '-x', '_wembo', a, b], { encoding: 'utf8' }).stdout;

story('a person keeps photos safe', (step) => {
  let browser: Browser;
  let studio: string;
  const cellar = newFolder('Cellar');
  const bank = newFolder('Bank');
  const vault = newFolder('Vault');

  step('sees at once that nothing is safe, and why', async () => {
    browser = await openBrowser({ origin });
    const { page } = browser;
    await openApplication(page, origin);
    studio = await drivePhotos(browser, 5);
    put(studio, 'letters/ð to the museum.txt', 'Dear museum,');
    await connectFolder(browser, cellar, 'Cellar');
    await openPlace(page, 'Safekeep');
    await page.getByRole('heading', { name: '0 of 5 photos are safe' }).waitFor();
    await page.getByRole('link', { name: '5 one verified copy only' }).waitFor();
    await page.getByText('3 verified copies on different drives, 1 of them elsewhere').waitFor();
    expect(await complaints(page)).toEqual([]);
  });

  step('says what the rule is, where a drive is kept, and copies what lacks a copy', async () => {
    const { page } = browser;
    await page.getByRole('button', { name: 'Your rule…' }).click();
    await page.getByRole('spinbutton', { name: 'Verified copies, on different drives' }).fill('2');
    await page.getByRole('button', { name: 'Keep the rule' }).click();
    await page.getByText('Safe is what has 2 verified copies').first().waitFor();
    await page.getByRole('button', { name: 'Cellar', exact: true }).click();
    await page.getByText('elsewhere: not in the house where you work').click();
    await page.getByLabel('kept in').fill('at my sister’s');
    await page.getByLabel('kept in').press('Enter');
    await page.getByText('Nothing: no photo lies on it.').waitFor();
    expect(await complaints(page)).toEqual([]);
    await page.keyboard.press('Escape');
    await page
      .getByRole('row', { name: /Cellar/ })
      .getByText('at my sister’s · elsewhere')
      .waitFor();
    await page.getByRole('link', { name: 'Copy: too few copies by your rule' }).click();
    await page.locator('#second-copy').getByText('the search (5)').waitFor();
    await choose(page, 'to', 'Cellar');
    await page.getByText('5 photos, ').waitFor();
    await page.getByRole('button', { name: 'Copy and verify' }).click();
    await jobEnded(page, 'Second copy: Studio → Cellar');
    await page.getByRole('heading', { name: 'All 5 photos are safe' }).waitFor();
    expect(sha256sum(cellar)).toMatchObject({ ok: true });
    const settings = () => read(cellar, '_wembo/settings.json').toString('utf8');
    await until('what was said is on the drive', () => settings().includes('at my sister’s'));
  });

  step('finds the damage, looks at the evidence, and brings the good copy back', async () => {
    const { page } = browser;
    const good = read(cellar, 'p2.jpg');
    rot(cellar, 'p2.jpg');
    await page.getByRole('button', { name: 'Check Cellar' }).click();
    await jobEnded(page, 'Check: Cellar');
    await page.getByRole('heading', { name: '4 of 5 photos are safe' }).waitFor();
    await page.getByRole('link', { name: /^Cellar, .*1 damaged, missing or in doubt/ }).waitFor();
    await page.getByRole('button', { name: 'Look closer… p2.jpg' }).click();
    await page.getByText('1 byte differs, in 1 place').waitFor();
    await page.getByRole('img', { name: 'Damaged, on Cellar' }).waitFor();
    expect(await complaints(page)).toEqual([]);
    const bent = read(cellar, 'p2.jpg');
    await page.getByRole('dialog').getByRole('button', { name: 'Bring back from Studio' }).click();
    await page.getByText('p2.jpg: brought back').waitFor();
    await page.getByRole('heading', { name: 'All 5 photos are safe' }).waitFor();
    expect(read(cellar, 'p2.jpg').equals(good)).toBe(true);
    const aside = filesIn(cellar).filter((name) => TODAY.test(name) && name.endsWith('.jpg'));
    expect(aside.map((name) => read(cellar, name).equals(bent))).toEqual([true]);
    await openPlace(page, 'Find');
    await typeScope(page, 'name:p2.jpg');
    await selectPhoto(page, 'Photo 2');
    await page.getByRole('button', { name: 'History' }).click();
    await page.getByText('brought back from a verified copy').waitFor();
    await page.getByText('found damaged').waitFor();
    await page.keyboard.press('Escape');
    await typeScope(page, '');
  });

  step('runs a drill', async () => {
    const { page } = browser;
    await openPlace(page, 'Safekeep');
    await allWritten(page);
    await choose(page, 'Restore from', 'Cellar');
    await page.getByRole('button', { name: 'Run a drill' }).click();
    await jobEnded(page, 'Drill: from Cellar');
    await page.getByText(/^Last drill .*, from Cellar: all 5 photos came back right\.$/).waitFor();
    expect([...filesIn(studio), ...filesIn(cellar)].filter((name) => name.includes('drill'))).toEqual([]);
  });

  step('frees room on a drive: what would not be safe without it stays, and why is said', async () => {
    const { page } = browser;
    const room = page.getByRole('region', { name: 'Free room' });
    const ask = async () => {
      await choose(page, 'Free room on', 'Studio');
      await room.getByRole('button', { name: 'What may go?' }).click();
    };
    await ask();
    await room.getByText('Nothing may go. 5 files stay:').waitFor();
    await room.getByText('Too few verified copies on other drives: 5').waitFor();
    expect(await complaints(page)).toEqual([]);
    // p1 has its copies elsewhere too
    await connectFolder(browser, vault, 'Vault');
    await openPlace(page, 'Find');
    await typeScope(page, 'name:p1.jpg');
    await selectPhoto(page, 'Photo 1');
    await openPlace(page, 'Safekeep');
    await page.locator('#second-copy').getByText('the selection (1)').click();
    await choose(page, 'from', 'Studio');
    await choose(page, 'to', 'Vault');
    await page.getByRole('button', { name: 'Copy and verify' }).click();
    await jobEnded(page, 'Second copy: Studio → Vault');
    await allWritten(page);
    await ask();
    await room.getByText(/^1 file may go from Studio, .* 4 files stay:/).waitFor();
    await room.getByRole('button', { name: 'Remove 1 file from Studio' }).click();
    await jobEnded(page, 'Free room: Studio');
    await page.getByRole('heading', { name: 'All 5 photos are safe' }).waitFor();
    expect(filesIn(studio).filter((name) => /^p\d/.test(name))).toEqual(['p2.jpg', 'p3.jpg', 'p4.jpg', 'p5.jpg']);
    expect(sha256sum(vault)).toMatchObject({ ok: true });
    // and back, for what comes
    await choose(page, 'from', 'Cellar');
    await choose(page, 'to', 'Studio');
    await page.getByRole('button', { name: 'Copy and verify' }).click();
    await jobEnded(page, 'Second copy: Cellar → Studio');
    expect(filesIn(studio)).toContain('p1.jpg');
    await openPlace(page, 'Find');
    await typeScope(page, '');
    await openPlace(page, 'Safekeep');
  });

  step(
    'makes a bag of photos, and checks it: complete, valid, and neither once a bit is turned and a file gone',
    async () => {
      const { page } = browser;
      const bags = page.getByRole('region', { name: 'Bags' });
      await bags.getByText('the search (5)').click();
      await bags.getByLabel('Name').fill('Boats of Sørvágur');
      await bags.getByLabel('Description').fill('Five photos,\nfor the museum');
      await bags.getByLabel('Organization').fill('Museum of Boats');
      await choose(page, 'On', 'Vault');
      expect(await complaints(page)).toEqual([]);
      await bags.getByRole('button', { name: 'Make the bag' }).click();
      await jobEnded(page, 'Bag: Vault, bags/Boats of Sørvágur');
      await expect.poll(() => bags.innerText()).toMatch(/5 photos in 5 files, .* It is a bag/); // told in full where it is not
      const folder = path.join(vault, 'bags/Boats of Sørvágur');
      for (const manifest of ['manifest-sha256.txt', 'tagmanifest-sha256.txt'])
        expect(spawnSync('sha256sum', ['-c', '--quiet', '--strict', manifest], { cwd: folder }).status).toBe(0);
      expect(read(folder, 'bag-info.txt').toString()).toContain(
        'External-Description: Five photos,\n  for the museum\n',
      );
      await choose(page, 'Bag on', 'Vault');
      await bags.getByLabel('Folder of the bag').fill('bags/Boats of Sørvágur');
      await bags.getByRole('button', { name: 'Check it' }).click();
      await bags.getByText('Complete and valid: 10 files read').waitFor();
      await bags.getByRole('button', { name: 'Pack into one file' }).click();
      await bags.getByText(/Packed as .*Boats of Sørvágur\.zip.* and read back/).waitFor();
      const elsewhere = newFolder('Unpacked');
      spawnSync('unzip', ['-q', `${folder}.zip`, '-d', elsewhere]);
      expect(diff(folder, path.join(elsewhere, 'Boats of Sørvágur'))).toBe('');
      expect(filesIn(path.join(elsewhere, 'Boats of Sørvágur'))).toEqual(filesIn(folder));
      rot(folder, 'data/p3.jpg');
      await bags.getByRole('button', { name: 'Check it' }).click();
      await bags.getByText('Complete, but not valid: 1 file is not what a checksum says.').waitFor();
      rmSync(path.join(folder, 'data/p4.jpg'));
      await bags.getByRole('button', { name: 'Check it' }).click();
      await bags.getByText('Not complete, so not valid.').waitFor();
      await bags.getByText('It is listed, and not there.').waitFor();
      expect(await complaints(page)).toEqual([]);
    },
  );

  step('puts doubles on one drive aside, and back', async () => {
    const { page } = browser;
    copyFileSync(path.join(studio, 'p1.jpg'), path.join(studio, 'p1 again.jpg'));
    await lookThrough(page, 'Studio');
    await openPlace(page, 'Safekeep');
    const doubles = page.getByRole('region', { name: 'Twice on one drive' });
    await doubles.getByText('p1 again.jpg').waitFor();
    expect(await complaints(page)).toEqual([]);
    await doubles.getByRole('button', { name: 'Set aside 1 file' }).click();
    await until('it lies aside', () =>
      filesIn(studio).some((name) => TODAY.test(name) && name.endsWith('p1 again.jpg')),
    );
    await doubles.waitFor({ state: 'detached' });
    expect(filesIn(studio)).toContain('p1.jpg');
    await page.getByRole('button', { name: 'Undo' }).click();
    await until('it is back', () => filesIn(studio).includes('p1 again.jpg'));
    await allWritten(page);
  });

  step('replaces a drive by a new one, which gets all that lay on it, and forgets the old one', async () => {
    const { page } = browser;
    await connectFolder(browser, bank, 'Bank');
    await openPlace(page, 'Safekeep');
    await page.getByRole('button', { name: 'Studio', exact: true }).click();
    await page.getByRole('button', { name: 'Replace…' }).click();
    await choose(page, 'The drive that takes its place', 'Bank');
    await page.getByText('and all files that are no photos are copied to “Bank”').waitFor();
    await page.getByRole('button', { name: 'Copy, verify, replace' }).click();
    await page.getByText('The drive took the place of the old one').first().waitFor();
    expect(diff(studio, bank)).toBe('');
    expect(sha256sum(bank)).toMatchObject({ ok: true });
    const old = page.getByRole('button', { name: /^Studio, until \d{4}-\d{2}-\d{2}$/ });
    await old.click();
    await page.getByText(/^Retired since .*“Studio” took its place\.$/).waitFor();
    await page.getByRole('button', { name: 'Forget…' }).click();
    await page.getByRole('button', { name: 'Forget it', exact: true }).click();
    await old.waitFor({ state: 'detached' });
    await page.getByRole('heading', { name: 'All 5 photos are safe' }).waitFor();
    expect(read(studio, 'letters/ð to the museum.txt').toString('utf8')).toBe('Dear museum,');
  });

  step(
    'copies into folders by a pattern; the drive comes back without its mark, and two records become one',
    async () => {
      const { page } = browser;
      const dated = newFolder('Dated');
      await connectFolder(browser, dated, 'Dated');
      await openPlace(page, 'Safekeep');
      await choose(page, 'from', 'Studio');
      await choose(page, 'to', 'Dated');
      await page.getByText('folders by a pattern').click();
      await page.getByText(/^p1.*\.jpg will lie there as \d{4}\/\d{4}-\d\d-\d\d.*\/p1.*\.jpg\.$/).waitFor();
      expect(await complaints(page)).toEqual([]);
      await page.getByRole('button', { name: 'Copy and verify' }).click();
      await jobEnded(page, 'Second copy: Studio → Dated');
      expect(
        filesIn(dated).filter((name) => /^\d{4}\/\d{4}-\d\d-\d\d.*\/p\d.*\.jpg$/.test(name)).length,
      ).toBeGreaterThan(4);
      expect(sha256sum(dated)).toMatchObject({ ok: true });
      // elsewhere by now, and without its mark: a new drive for all that can be seen
      const again = newFolder('Found');
      cpSync(dated, again, { recursive: true });
      rmSync(path.join(again, '_wembo'), { recursive: true });
      rmSync(dated, { recursive: true });
      await connectFolder(browser, again, 'Found');
      await openPlace(page, 'Safekeep');
      await page.getByRole('button', { name: 'Dated', exact: true }).click();
      await page.getByRole('button', { name: 'The same disk as…' }).click();
      await page.getByRole('radio', { name: /^Found has \d of its \d files/ }).click();
      await page.getByText('“Dated” goes, “Found” stays').waitFor();
      expect(await complaints(page)).toEqual([]);
      await page.getByRole('button', { name: 'They are one disk' }).click();
      await page.getByText('are one drive now: “Found”').waitFor();
      await page.getByRole('button', { name: 'Dated', exact: true }).waitFor({ state: 'detached' });
      await openPlace(page, 'Overview');
      await jobEnded(page, 'Catalog: Found');
      await openPlace(page, 'Safekeep');
    },
  );

  step('declares a drive lost, is told what that costs, and takes it back', async () => {
    const { page } = browser;
    await page.getByRole('button', { name: 'Cellar', exact: true }).click();
    await page.getByText('Nothing is lost: all 5 photos have a verified copy on another drive.').first().waitFor();
    await page.getByRole('button', { name: 'It is lost…' }).click();
    await page.getByRole('button', { name: 'It is lost', exact: true }).click();
    await page.getByText(/^Lost since .*nothing on it counts as a copy\.$/).waitFor();
    await page.keyboard.press('Escape');
    await page.getByRole('heading', { name: '0 of 5 photos are safe' }).waitFor();
    await page.getByRole('button', { name: 'Undo' }).click();
    await page.getByRole('heading', { name: 'All 5 photos are safe' }).waitFor();
  });

  step('backs the catalog up, restores it beside the one that is open, looks into it, and goes back', async () => {
    const { page } = browser;
    const backup = page.getByRole('region', { name: 'Backup of the catalog' });
    await backup.getByText('No backup was made yet.').waitFor();
    await choose(page, 'Back up on', 'Studio'); // Bank has its name now
    await backup.getByRole('button', { name: 'Back up', exact: true }).click();
    await jobEnded(page, 'Backup of the catalog: Studio');
    await backup.getByText(/^Last backup .*, on Studio; all you did is in it\.$/).waitFor();
    const [file = ''] = filesIn(bank).filter((name) => name.startsWith('_wembo/backups/'));
    const unpacked = spawnSync('gunzip', ['-c', path.join(bank, file)], { encoding: 'utf8' }).stdout;
    expect(unpacked.split('\n').filter((line) => line.includes('"Photo 3"')).length).toBeGreaterThan(0);
    await backup.getByRole('button', { name: 'Look for backups' }).click();
    await backup.getByRole('button', { name: 'Restore beside this one' }).waitFor();
    expect(await complaints(page)).toEqual([]);
    // what is said after it is not in it
    await openPlace(page, 'Find');
    await selectPhoto(page, 'Photo 3');
    await fill(page, 'Headline', 'Said later');
    await openPlace(page, 'Safekeep');
    await backup.getByText('1 act is not in it yet.').waitFor();
    await backup.getByRole('button', { name: 'Look for backups' }).click();
    await backup.getByRole('button', { name: 'Restore beside this one' }).click();
    await page.getByText(/records restored, beside the catalog that is open/).waitFor();
    await backup.getByRole('button', { name: 'Open it' }).click();
    await openPlace(page, 'Find');
    await typeScope(page, 'headline:"Photo 3"');
    await selectPhoto(page, 'Photo 3');
    await openPlace(page, 'Safekeep');
    await backup.getByText('This is a restored catalog.').waitFor();
    await backup.getByRole('button', { name: 'Back to the one before' }).click();
    await openPlace(page, 'Find');
    await selectPhoto(page, 'Said later');
    await openPlace(page, 'Safekeep');
    await backup.getByRole('button', { name: 'Delete…' }).click();
    await page.getByRole('button', { name: 'Delete it' }).click();
    await backup.getByRole('button', { name: 'Open it' }).waitFor({ state: 'detached' });
    await browser.close();
    removeProfile(browser.profile);
  });
});
