// A shoot is described on a real folder: kit, runs, captions typed one after the other; the vocabulary is put in order;
// tables go out and come back. What other programs read in the files is what was typed.

import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { afterAll, beforeAll, expect, inject } from 'vitest';
import { type Browser, openBrowser, removeProfile } from './browser';
import { exiftool, filesIn, newFolder, photoBytes, put, read, until } from './folders';
import {
  addKeywords,
  agree,
  allWritten,
  choose,
  connectFolder,
  fill,
  openApplication,
  openPlace,
  selectPhoto,
  shownCount,
  tick,
  typeScope,
} from './person';
import { story } from './story';

const origin = inject('origin');
const PHOTOS = 10;
let browser: Browser;
let folder: string;

const sidecar = (index: number) => (filesIn(folder).includes(`p${index}.xmp`) ? exiftool(folder, `p${index}.xmp`) : {});
/** What the files say sooner or later. */
const inTheFiles = (look: () => unknown) => expect.poll(look, { interval: 200 });
const written = () => allWritten(browser.page);
const openDesk = async (name: 'Captions' | 'Keywords' | 'Kits' | 'Shorthand' | 'Table') => {
  await openPlace(browser.page, 'Describe');
  await browser.page.getByRole('navigation', { name: 'Desks' }).getByRole('button', { name, exact: true }).click();
};
const leftToDo = async (words: string) =>
  Number(
    (
      await browser.page
        .getByRole('region', { name: 'Left to do' })
        .getByRole('button', { name: words })
        .locator('.mono')
        .innerText()
    ).replace(/\D/g, '') || NaN,
  );
/** A file as a person chooses one in the dialog that a button opens. */
async function takeInFile(button: string, file: string): Promise<void> {
  const [chooser] = await Promise.all([
    browser.page.waitForEvent('filechooser'),
    browser.page.getByRole('button', { name: button }).click(),
  ]);
  await chooser.setFiles(file);
}
async function giveOut(act: () => Promise<void>): Promise<string> {
  const [download] = await Promise.all([browser.page.waitForEvent('download'), act()]);
  return readFileSync(await download.path(), 'utf8');
}

beforeAll(async () => {
  folder = newFolder('Studio');
  for (let index = 0; index < PHOTOS; index++)
    put(
      folder,
      `p${index}.jpg`,
      await photoBytes({ seed: index + 1, captured: `2026:08:30 10:${String(index * 5).padStart(2, '0')}:00` }),
    );
  browser = await openBrowser({ origin });
  await openApplication(browser.page, origin);
  await connectFolder(browser, folder, 'Studio');
});

afterAll(async () => {
  await browser.close();
  removeProfile(browser.profile);
});

story('a shoot is described', (step) => {
  step(
    'a new shoot: gets what holds for all by a kit, whose changes are shown first, with blanks and what each photo says filled in',
    async () => {
      const { page } = browser;
      await openDesk('Kits');
      await page.getByRole('button', { name: 'New kit', exact: true }).click();
      const form = page.getByRole('group', { name: 'New kit' });
      await form.getByLabel('Name of the kit').fill('Harbours');
      await form.getByLabel('Creator', { exact: true }).fill('Mia Holt');
      await form.getByLabel('Copyright notice', { exact: true }).fill('© [=year] [=creator]');
      await form.getByRole('button', { name: '+ field' }).click();
      await choose(page, 'Field 5', 'Caption');
      await form.getByLabel('Caption', { exact: true }).fill('[?who does what] at Gjógv, [=date] ([=file]).');
      await form.getByRole('button', { name: '+ field' }).click();
      await page.getByRole('combobox', { name: 'Field 6', exact: true }).click();
      await page.keyboard.type('contact');
      await page.keyboard.press('Enter');
      await form.getByRole('group', { name: 'Creator’s contact' }).getByLabel('E-mail').fill('mia@survey.example');
      await form.getByRole('button', { name: 'Keep the kit' }).click();
      await openPlace(page, 'Find');
      await until('all', async () => (await shownCount(page)) === PHOTOS);
      await page.keyboard.press('Control+a');
      await page.keyboard.press('p');
      const drawer = page.getByRole('dialog', { name: 'Kits for 10 photos' });
      await drawer.getByRole('button', { name: /^Harbours/ }).waitFor();
      await page.keyboard.press('1');
      await drawer.getByText('[?who does what] at Gjógv, 30 August 2026 (p3.jpg).').waitFor();
      await drawer.getByRole('button', { name: 'Put it on 10 photos' }).click();
      await drawer.waitFor({ state: 'hidden' });
      await inTheFiles(() => sidecar(7)['XMP-dc:Description']).toBe(
        '[?who does what] at Gjógv, 30 August 2026 (p7.jpg).',
      );
      await inTheFiles(() => sidecar(7)['XMP-dc:Rights']).toBe('© 2026 Mia Holt');
      expect(sidecar(7)['XMP-iptcCore:CreatorContactInfo']).toEqual({ CiEmailWork: 'mia@survey.example' });
      await openPlace(page, 'Describe');
      await until('the blanks are counted', async () => (await leftToDo('blanks open')) === PHOTOS);
      expect(await leftToDo('no creator')).toBe(0);
    },
  );

  step(
    'a new shoot: gets its captions one after the other, with no more keys than the text and two for each',
    async () => {
      const { page } = browser;
      await openDesk('Shorthand');
      await page.getByRole('button', { name: 'New list' }).click();
      for (const [code, words] of [
        ['jp', 'Jákup á Tokunesi; Jákup á Tokunesi, skipper of the Kvirrulýsið'],
        ['sd', 'Sólja við Slippin'],
      ] as const) {
        await page.getByLabel('Code', { exact: true }).fill(code);
        await page.getByLabel('What it grows into').fill(words);
        await page.keyboard.press('Enter');
        await page.getByRole('rowheader', { name: code }).waitFor();
      }
      await openDesk('Captions');
      await page.getByRole('region', { name: 'Left to do' }).getByRole('button', { name: 'blanks open' }).click();
      const caption = page.getByLabel('Caption', { exact: true });
      const acts = [
        'hauls the net',
        'mends a sail',
        'looks out',
        'ties the boat up',
        'greets a crew',
        'counts the catch',
        'waits',
        'paints the hull',
        'rows home',
        'salts fish',
      ];
      let keys = 0;
      let letters = 0;
      for (const [index, act] of acts.entries()) {
        const code = index % 2 === 0 ? 'jp' : 'sd';
        const who = index % 2 === 0 ? 'Jákup á Tokunesi' : 'Sólja við Slippin';
        await until(`photo ${index} has its blank chosen`, () =>
          caption.evaluate(
            (area: HTMLTextAreaElement, name) =>
              document.activeElement === area &&
              area.value.includes(`(${name})`) &&
              area.value.slice(area.selectionStart, area.selectionEnd) === '[?who does what]',
            `p${index}.jpg`,
          ),
        );
        await page.keyboard.type(code, { delay: 60 });
        await page.keyboard.press('Tab');
        await page.keyboard.type(` ${act}`, { delay: 25 });
        await page.keyboard.press('Control+Enter');
        keys += code.length + 1 + act.length + 1 + 1;
        letters += `${who} ${act}`.length;
      }
      await written();
      for (const [index, act] of acts.entries())
        expect(sidecar(index)['XMP-dc:Description']).toBe(
          `${index % 2 === 0 ? 'Jákup á Tokunesi' : 'Sólja við Slippin'} ${act} at Gjógv, 30 August 2026 (p${index}.jpg).`,
        );
      expect(keys).toBeLessThanOrEqual(letters + 2 * acts.length);
      await until('no blank is open', async () => (await leftToDo('blanks open')) === 0);
      await page.getByRole('region', { name: 'Left to do' }).getByRole('button', { name: 'blanks open' }).click();
    },
  );

  step(
    'a new shoot: a code that has several ways to be said takes the next with Tab, the code again with Escape, and is left alone inside a word',
    async () => {
      const { page } = browser;
      await openPlace(page, 'Find');
      await page.getByRole('group', { name: 'Wall' }).getByRole('button').first().click();
      await openDesk('Captions');
      const headline = page.getByLabel('Headline', { exact: true });
      await headline.click();
      await page.keyboard.type('jp');
      await page.getByText('Jákup á Tokunesi · Jákup á Tokunesi, skipper of the Kvirrulýsið').waitFor();
      await page.keyboard.press('Tab');
      expect(await headline.inputValue()).toBe('Jákup á Tokunesi');
      await page.keyboard.press('Tab');
      expect(await headline.inputValue()).toBe('Jákup á Tokunesi, skipper of the Kvirrulýsið');
      await page.keyboard.press('Escape');
      expect(await headline.inputValue()).toBe('jp');
      await page.keyboard.type('q');
      await page.keyboard.press('Tab');
      expect(await headline.inputValue()).toBe('jpq');
      await headline.click();
      await page.keyboard.press('Control+a');
      await page.keyboard.type('Gjógv in August');
      await page.keyboard.press('Enter');
      await inTheFiles(() => Object.values(sidecar(0))).toContain('Gjógv in August');
    },
  );

  step('a new shoot: the people of the shoot and the words of the photo before are a click away', async () => {
    const { page } = browser;
    await openPlace(page, 'Find');
    await typeScope(page, '');
    await page.getByRole('combobox', { name: 'Search' }).press('Escape');
    await page.getByRole('group', { name: 'Wall' }).getByRole('button').first().click();
    await openDesk('Captions');
    await page.getByLabel('People shown', { exact: true }).fill('Sólja við Slippin');
    await page.keyboard.press('Enter');
    await inTheFiles(() => sidecar(0)['XMP-iptcExt:PersonInImage']).toEqual(['Sólja við Slippin']);
    await page.getByRole('button', { name: 'Next photo' }).click();
    await page
      .getByRole('group', { name: 'People of this shoot' })
      .getByRole('button', { name: '+ Sólja við Slippin' })
      .click();
    await inTheFiles(() => sidecar(1)['XMP-iptcExt:PersonInImage']).toEqual(['Sólja við Slippin']);
    const own = sidecar(1)['XMP-dc:Description'];
    await page.getByRole('button', { name: 'Headline, caption and people from the photo before' }).click();
    await inTheFiles(() => sidecar(1)['XMP-dc:Description']).toBe(sidecar(0)['XMP-dc:Description']);
    await page.keyboard.press('Escape');
    await page.keyboard.press('Control+z');
    await inTheFiles(() => sidecar(1)['XMP-dc:Description']).toBe(own);
  });

  step(
    'a new shoot: a caption of five thousand signs, from right to left and with signs put together, is in the file as it was typed',
    async () => {
      const { page } = browser;
      await openPlace(page, 'Find');
      await typeScope(page, '');
      await page.getByRole('combobox', { name: 'Search' }).press('Escape');
      await page.getByRole('group', { name: 'Wall' }).getByRole('button').nth(9).click();
      const before = String(sidecar(9)['XMP-dc:Description']);
      const long = `مرفأ Gjógv, e\u0301 👩‍🔧 ${'ð'.repeat(4980)}`;
      await fill(page, 'Caption', long);
      await inTheFiles(() => sidecar(9)['XMP-dc:Description']).toBe(long);
      await page.keyboard.press('Control+z');
      await inTheFiles(() => sidecar(9)['XMP-dc:Description']).toBe(before);
    },
  );

  step(
    'a new shoot: several photos say what they say where they differ; what will happen is said before it does',
    async () => {
      const { page } = browser;
      await openPlace(page, 'Find');
      await typeScope(page, '');
      await page.getByRole('combobox', { name: 'Search' }).press('Escape');
      await page.keyboard.press('Control+a');
      const card = page.getByRole('complementary', { name: 'Record card' });
      await card.getByRole('button', { name: /What they say for Headline/ }).click();
      await page
        .getByRole('table', { name: 'What the photos say for Headline' })
        .getByText('Gjógv in August')
        .waitFor();
      await page.keyboard.press('Escape');
      await card.getByLabel('Headline', { exact: true }).fill('At [=day]');
      await card.getByText('Goes to all 10 photos, and replaces what 1 photo says now. One undo.').waitFor();
      await card.getByLabel('Headline', { exact: true }).press('Enter');
      await card.getByLabel('Headline', { exact: true }).blur();
      await inTheFiles(() => [0, 9].map((index) => sidecar(index)['XMP-photoshop:Headline'])).toEqual([
        'At 2026-08-30',
        'At 2026-08-30',
      ]);
      await page.keyboard.press('Control+z');
      await inTheFiles(() => [0, 9].map((index) => sidecar(index)['XMP-photoshop:Headline'])).toEqual([
        'Gjógv in August',
        undefined,
      ]);
    },
  );

  step(
    'keywords: are given as they are typed; those of a run that lack one are a click away; a list that is pasted is many words',
    async () => {
      const { page } = browser;
      await openPlace(page, 'Find');
      await selectPhoto(page, 'Gjógv in August');
      await addKeywords(page, 'rowing boat, slip; "Dam, Sólja"');
      const card = page.getByRole('complementary', { name: 'Record card' });
      await card.getByRole('button', { name: 'Take away “Dam, Sólja”' }).waitFor();
      await page.keyboard.press('Control+a');
      await card.getByRole('button', { name: 'rowing boat 1/10: give it to all' }).waitFor();
      await card.getByRole('button', { name: '9 lack it: select the photos without “slip”' }).click();
      await page.getByText('9 photos selected').waitFor();
      const list = Array.from({ length: 300 }, (_, index) => `word ${index}`).join('\n');
      await page.getByLabel('Add keywords').focus();
      await page.getByLabel('Add keywords').evaluate((input, text) => {
        const data = new DataTransfer();
        data.setData('text/plain', text);
        input.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
      }, list);
      await page.keyboard.press('Enter');
      await card.getByRole('button', { name: 'Take away “word 299”' }).waitFor();
      await inTheFiles(() => sidecar(4)['XMP-dc:Subject']).toHaveLength(300);
      await page.getByLabel('Add keywords').blur();
      await page.keyboard.press('Control+z');
      await inTheFiles(() => sidecar(4)['XMP-dc:Subject']).toBeUndefined();
      await inTheFiles(() => sidecar(0)['XMP-dc:Subject']).toEqual(['rowing boat', 'slip', 'Dam, Sólja']);
    },
  );

  step(
    'keywords: the words stand in a tree: taken in from a file, renamed, moved, merged, deleted, each saying how many photos follow, and undone',
    async () => {
      const { page } = browser;
      const file = path.join(folder, '..', 'words.txt');
      writeFileSync(file, 'vessels\n\trowing boat {oared boat}\n\tsmack # decked\nwool\n');
      await openDesk('Keywords');
      await takeInFile('Load a file…', file);
      await page.getByRole('dialog').getByText('4 words in it: 4 new').waitFor();
      await agree(page, 'Take in');
      const tree = page.getByRole('tree', { name: 'Vocabulary' });
      const inTree = (name: string) => tree.getByRole('treeitem', { name });
      await inTree('smack').waitFor();
      // what was typed before waits to be accepted
      await page.getByRole('tab', { name: 'New' }).click();
      await tick(page.getByRole('checkbox', { name: 'slip' }), true);
      await tick(page.getByRole('checkbox', { name: 'Dam, Sólja' }), true);
      await page.getByRole('button', { name: '2 belong to the vocabulary' }).click();
      await inTree('Dam, Sólja').waitFor();
      await page.getByRole('tab', { name: 'Word' }).click();
      await page.getByLabel('New word').fill('rowing boat');
      await page.getByLabel('New word').press('Enter');
      // by keys alone
      await tree.focus();
      await page.keyboard.press('End');
      await page.keyboard.press(' ');
      await page.getByRole('group', { name: 'Word wool' }).waitFor();
      await page.getByLabel('Find a word').fill('rowing');
      await until('the word and what is above it', async () => (await tree.getByRole('treeitem').count()) === 3);
      await inTree('rowing boat').nth(0).click();
      await page.getByLabel('Find a word').fill('');
      // it was made at the top; now it goes into the one that came with the file
      await page.getByLabel('Merge into another word').fill('vessels › rowing boat');
      await page.keyboard.press('Escape');
      await page.getByRole('button', { name: 'Merge', exact: true }).click();
      await page.getByRole('dialog').getByText('1 photo has the word without saying which of several it is').waitFor();
      await agree(page, 'Do it');
      await page.getByRole('group', { name: 'Word rowing boat' }).getByText('vessels').first().waitFor();
      await page.getByLabel('Name', { exact: true }).fill('oared craft');
      await page.getByRole('button', { name: 'Rename', exact: true }).click();
      await page.getByRole('dialog').getByText('1 photo follows, with its sidecars').waitFor();
      await agree(page, 'Do it');
      await inTheFiles(() => sidecar(0)['XMP-dc:Subject']).toEqual(['oared craft', 'slip', 'Dam, Sólja']);
      await tick(page.getByRole('checkbox', { name: 'also give the words above it' }), true);
      const vocabulary = JSON.parse(read(folder, '_wembo/vocabulary.json').toString('utf8')) as {
        vocabulary: { word: string; deleted: boolean }[];
      };
      expect(
        vocabulary.vocabulary
          .filter(({ deleted }) => !deleted)
          .map(({ word }) => word)
          .sort(),
      ).toEqual(['Dam, Sólja', 'oared craft', 'slip', 'smack', 'vessels', 'wool']);
      await openPlace(page, 'Find');
      await selectPhoto(page, 'Sólja við Slippin counts the catch');
      await addKeywords(page, 'Smack');
      const card = page.getByRole('complementary', { name: 'Record card' });
      await card.getByRole('button', { name: 'Take away “vessels”' }).waitFor();
      await card.getByRole('button', { name: 'Take away “smack”' }).waitFor();
      await openDesk('Keywords');
      await inTree('smack').click();
      await page.getByRole('button', { name: 'Delete the word…' }).click();
      await agree(page, 'Do it');
      await inTree('smack').waitFor({ state: 'hidden' });
      await page.keyboard.press('Control+z');
      await inTree('smack').waitFor();
      const turtle = await giveOut(async () => {
        await page.getByRole('button', { name: 'Save as file…' }).click();
        await page.getByText('SKOS as Turtle').click();
      });
      expect(turtle).toContain('skos:prefLabel "smack"');
    },
  );

  step('keywords: misspelt and nearly equal words are found and put right in bulk', async () => {
    const { page } = browser;
    await openPlace(page, 'Find');
    await page.getByRole('combobox', { name: 'Search' }).press('Escape');
    await selectPhoto(page, 'Gjógv in August');
    await addKeywords(page, 'lighthouse; harbour');
    await page.keyboard.press('d');
    await addKeywords(page, 'lighthuose; harbours');
    await openDesk('Keywords');
    await page.getByRole('tab', { name: 'Nearly the same' }).click();
    await page.getByRole('button', { name: 'Tick all' }).click();
    await page.getByRole('button', { name: /^Turn round: keep “lighthuose”/ }).waitFor();
    await page.getByRole('tab', { name: 'Used once' }).click();
    await tick(page.getByRole('checkbox', { name: 'Dam, Sólja' }), true);
    await page.getByRole('button', { name: 'Take 1 word away' }).click();
    await inTheFiles(() => sidecar(0)['XMP-dc:Subject']).not.toContain('Dam, Sólja');
    await page.getByRole('tab', { name: 'Spelling' }).click();
    await page.getByRole('button', { name: 'Put “lighthuose” right' }).waitFor();
    expect(await page.getByRole('button', { name: 'Put “harbour” right' }).count()).toBe(0);
    await page.getByRole('button', { name: 'Learn “Sólja”' }).click();
    await page.getByRole('button', { name: 'Learn “Sólja”' }).waitFor({ state: 'hidden' });
    await page.getByRole('button', { name: 'Put “lighthuose” right' }).click();
    await page.getByRole('button', { name: 'lighthouse', exact: true }).click();
    await inTheFiles(() => sidecar(1)['XMP-dc:Subject']).toContain('lighthouse');
    await page.getByRole('tab', { name: 'Nearly the same' }).click();
    await page.getByRole('button', { name: 'Tick all' }).click();
    await page.getByRole('button', { name: /^Put \d+ words? right/ }).click();
    await agree(page, 'Do it');
    await until('one spelling is left', async () => {
      await written();
      return (
        new Set(
          [0, 1].flatMap((index) =>
            (sidecar(index)['XMP-dc:Subject'] as string[]).filter((word) => /harbour/i.test(word)),
          ),
        ).size === 1
      );
    });
  });

  step('the form: shows the fields of a kind of work, kept under a name; any other is a search away', async () => {
    const { page } = browser;
    await openPlace(page, 'Find');
    await selectPhoto(page, 'Gjógv in August');
    const card = page.getByRole('complementary', { name: 'Record card' });
    expect(await card.getByLabel('Urgency', { exact: true }).count()).toBe(0);
    await page.getByRole('combobox', { name: 'Find a field' }).click();
    await page.keyboard.type('urgency');
    await page.locator('.ant-select-dropdown:visible').getByTitle('Urgency', { exact: true }).waitFor();
    await page.keyboard.press('Enter');
    await card.getByLabel('Urgency', { exact: true }).waitFor();
    await card.getByRole('button', { name: /Choose groups/ }).click();
    await page.getByLabel('Name of the kind of work').fill('News');
    await page.keyboard.press('Enter');
    await tick(page.getByRole('checkbox', { name: 'Codes and older systems' }), false);
    await card.getByLabel('Urgency', { exact: true }).waitFor({ state: 'hidden' });
    await page.getByRole('button', { name: 'News', exact: true }).click();
    await page.keyboard.press('Escape');
    await allWritten(page); // what was chosen goes to the drives
    await page.reload();
    await selectPhoto(page, 'Gjógv in August');
    await card.getByLabel('Urgency', { exact: true }).waitFor();
  });

  step(
    'codes, dates and tables: a code is looked up by its word; a wrong one is pointed out, and is left to do',
    async () => {
      const { page } = browser;
      await openPlace(page, 'Find');
      await selectPhoto(page, 'Gjógv in August');
      const card = page.getByRole('complementary', { name: 'Record card' });
      await card.getByLabel('Country code', { exact: true }).fill('faroe');
      await page.locator('.ant-select-dropdown:visible').getByText('FRO').last().click();
      await card.getByLabel('Country code', { exact: true }).blur();
      await inTheFiles(() => Object.values(sidecar(0))).toContain('FRO');
      await fill(page, 'Country code', 'FRQ');
      await card.getByText('“FRQ” is not in the ISO 3166-1 country codes.').waitFor();
      await openPlace(page, 'Describe');
      await until('it is counted', async () => (await leftToDo('a wrong code')) === 1);
      await page.keyboard.press('Escape');
      await page.keyboard.press('Control+z');
      await until('and put right', async () => (await leftToDo('a wrong code')) === 0);
    },
  );

  step(
    'codes, dates and tables: the dates of a wrong clock are moved together, shown first; what was written at first is kept',
    async () => {
      const { page } = browser;
      await openPlace(page, 'Find');
      await page.keyboard.press('Control+a');
      await page.getByRole('button', { name: 'Dates…' }).click();
      const drawer = page.getByRole('dialog', { name: 'Dates of 10 photos' });
      await drawer.getByLabel('Date, zone or shift').fill('-11:00');
      await drawer.getByText('2026-08-29T23:00:00').first().waitFor();
      await drawer.getByRole('button', { name: 'Change 10 photos' }).click();
      await inTheFiles(() => sidecar(2)['XMP-photoshop:DateCreated']).toBe('2026:08:29 23:10:00');
      await inTheFiles(() => sidecar(2)['XMP-xmp:CreateDate']).toBe('2026:08:30 10:10:00');
      await page.keyboard.press('Control+z');
      await inTheFiles(() => sidecar(2)['XMP-photoshop:DateCreated']).toBe('2026:08:30 10:10:00');
    },
  );

  step(
    'codes, dates and tables: a table goes out, is edited, and comes back; what it changes is shown before it does',
    async () => {
      const { page } = browser;
      await openDesk('Table');
      await page.getByRole('button', { name: 'Save 10 photos as file…' }).waitFor();
      const text = await giveOut(() => page.getByRole('button', { name: 'Save 10 photos as file…' }).click());
      expect(text.split('\r\n')[0]).toContain('photo,file,headline,caption');
      const file = path.join(folder, '..', 'back.csv');
      writeFileSync(
        file,
        text
          .replace('Gjógv in August', 'Gjógv, “late” August'.replace(',', ';'))
          .replace(/\r\n$/, '\r\nnobody,x.jpg,x,y,z,,,,,\r\n'),
      );
      await takeInFile('Take in a table…', file);
      await page.getByText('Line 12: no photo of this catalog has the number “nobody”.').waitFor();
      await page.getByRole('table', { name: 'What back.csv changes' }).getByText('Gjógv; “late” August').waitFor();
      await page.getByRole('button', { name: 'Change 1 photo' }).click();
      await inTheFiles(() => Object.values(sidecar(0))).toContain('Gjógv; “late” August');
    },
  );
});
