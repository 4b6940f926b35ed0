// Finding on a real folder: the line completes, explains and repairs; facets, collections, rules, look-alikes and what
// was sent; the index is kept and right after a reload, whatever was done to its file; what is kept is on the drive.

import path from 'node:path';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { type Browser, openBrowser, removeProfile } from './browser';
import { newFolder, photoBytes, put, read, until } from './folders';
import { connectFolder, openApplication, openPlace, selectPhoto, shownCount, typeScope } from './person';
import { story } from './story';

const origin = inject('origin');
let browser: Browser;
let folder: string;

const page = () => browser.page;
const line = () => page().getByRole('combobox', { name: 'Search' });
const shelf = (name: string) => page().getByRole('region', { name: `Shelf: ${name}` });
const value = (of: string, name: string | RegExp) => shelf(of).getByRole('button', { name });
const shows = (photos: number) => until(`${photos} photos`, async () => (await shownCount(page())) === photos);
const kept = (file: string) =>
  JSON.parse(read(folder, `_wembo/${file}`).toString('utf8')) as Record<string, Record<string, unknown>[]>;
const eventually = (look: () => unknown) => expect.poll(look, { interval: 200 });
const wall = () => page().getByRole('group', { name: 'Wall' });
const namesOnWall = async () =>
  await wall()
    .getByRole('button', { name: /^(?:Boat|Wool|Slip)/ })
    .evaluateAll((tiles) => tiles.map((tile) => tile.getAttribute('aria-label') ?? ''));
const openShelf = async (name: string) => {
  const title = shelf(name).getByRole('button', { name, exact: true });
  if ((await title.getAttribute('aria-expanded')) === 'false') await title.click();
};

/** A picture with large forms, so that its look is its own, from a few numbers. */
async function picture(shapes: [x: number, y: number, size: number, colour: string][], quality = 85): Promise<Buffer> {
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="480" height="320"><rect width="480" height="320" fill="#8a8a8a"/>${shapes.map(([x, y, size, colour]) => `<rect x="${x}" y="${y}" width="${size}" height="${size}" fill="${colour}"/>`).join('')}</svg>`;
  return sharp(Buffer.from(svg)).jpeg({ quality }).toBuffer();
}

beforeAll(async () => {
  folder = newFolder('Finding ð');
  const make = async (
    file: string,
    headline: string,
    captured: string,
    keywords: string[],
    image: Buffer,
    camera = 'Norda K4',
  ) => put(folder, file, await photoBytes({ captured, camera, headline, keywords, picture: image }));
  const forms = (at: number): [number, number, number, string][] => [
    [(at * 67) % 300, (at * 41) % 180, 120, '#141414'],
    [(at * 113) % 340, (at * 29) % 200, 90, '#f2f2f0'],
    [(at * 151) % 380, (at * 83) % 240, 70, '#b3261e'],
  ];
  for (let at = 0; at < 9; at++)
    await make(
      `boats/b${at}.jpg`,
      `Boat ${at}`,
      `20${15 + at}:07:0${1 + (at % 3)} 10:00:0${at}`,
      at % 2 === 0 ? ['boat', 'slip'] : ['boat'],
      await picture(forms(at)),
      at < 6 ? 'Norda K4' : 'Norda K2',
    );
  for (let at = 0; at < 5; at++)
    await make(
      `wool/w${at}.jpg`,
      `Wool ${at}`,
      `2019:0${1 + at}:11 12:00:00`,
      ['wool'],
      await picture(forms(20 + at)),
      'Marin 5',
    );
  // the same picture, once more and more strongly compressed
  await make('boats/copy.jpg', 'Boat 0 again', '2015:07:01 10:00:02', ['boat'], await picture(forms(0), 40));
  // the same picture data, with other words
  await make('elsewhere/same.jpg', 'Plank seven', '2012:01:05 09:00:00', ['plank'], await picture(forms(7)), 'Norda Q');
  browser = await openBrowser({ origin });
  await openApplication(page(), origin);
  await connectFolder(browser, folder, 'Finding');
  await openPlace(page(), 'Find');
  await shows(16);
});

afterAll(async () => {
  await browser.close();
  removeProfile(browser.profile);
});

describe('the search line', () => {
  it('completes words, fields and values, by keyboard; every letter narrows', async () => {
    await line().fill('woo');
    await shows(5);
    await page().getByRole('option', { name: /wool/ }).first().waitFor();
    await line().fill('cam');
    await page()
      .getByRole('option', { name: /camera: Camera/ })
      .waitFor();
    await line().press('ArrowDown');
    await line().press('Enter');
    await until('the field', async () => (await line().inputValue()) === 'camera:');
    await page().getByRole('option', { name: 'Norda K2 3' }).click();
    await until('the value', async () => (await line().inputValue()).trim() === 'camera="Norda K2"');
    await shows(3);
    await page().getByRole('button', { name: 'Clear the search' }).click();
    await shows(16);
  });

  it('says what it does not understand and where, and puts it right on a click', async () => {
    await line().fill('boat ratng:0');
    await page().getByText('“ratng” is no field; it narrows nothing.').waitFor();
    await shows(10);
    await page().getByRole('button', { name: 'Take rating:0' }).click();
    expect(await line().inputValue()).toBe('boat rating:0');
    await line().fill('boat OR');
    await page().getByText('Nothing stands behind OR; it narrows nothing.').waitFor();
    await page().getByRole('button', { name: 'Leave it out' }).click();
    expect(await line().inputValue()).toBe('boat');
  });

  it('reads plain words, and says what it did not read', async () => {
    await line().fill('level pictures of boats from 2015 to 2017 gloomily');
    const reading = page().getByRole('option', { name: /orientation:level .*not understood: gloomily/ });
    await reading.waitFor();
    await line().fill('level pictures of a boat from 2015 to 2017');
    await page().getByRole('option', { name: 'Read as orientation:level boat taken:2015..2017' }).click();
    expect(await line().inputValue()).toBe('orientation:level boat taken:2015..2017');
    await shows(4);
    expect(
      await page()
        .getByRole('option', { name: /Read as/ })
        .count(),
    ).toBe(0); // it is said in the language now
  });

  it('keeps scopes that were used, and pinned ones longer', async () => {
    await line().fill('wool taken:2019-03');
    await shows(1);
    await page().getByRole('button', { name: 'Pin this search' }).click();
    await line().press('Escape');
    await page().keyboard.press('Backspace');
    await shows(16);
    await line().click();
    await page().getByRole('option', { name: 'Pinned wool taken:2019-03' }).click();
    await shows(1);
  });

  it('says which condition excludes what when nothing is found, and drops it', async () => {
    await line().fill('wool camera:k4');
    await line().press('Escape');
    const nothing = page()
      .getByRole('main')
      .getByRole('row', { name: /^Camera has “k4” 7 5/ }); // alone, and without it
    await nothing.getByRole('button', { name: 'Drop Camera has “k4”' }).click();
    await shows(5);
    await line().fill('woll');
    await line().press('Escape');
    await page().getByRole('main').getByRole('button', { name: 'wool · 5' }).click();
    await shows(5);
  });

  it.each(['((((', 'rating:>=>=3 )) OR', '"', 'in:in:in:"', 'colour:zzz like:', '%00 \u202e'])(
    'an address that asks for %s is answered',
    async (nonsense) => {
      await page().goto(`${origin}/find?q=${encodeURIComponent(nonsense)}`);
      await until(
        'an answer',
        async () =>
          (await page()
            .getByText(/\d+ shown/)
            .isVisible()) && !(await page().getByText('could not be opened').isVisible()),
      );
      expect(await line().inputValue()).toBe(nonsense);
    },
  );
});

describe('facets', () => {
  it('ask for any of several values, leave others out, and count in the scope', async () => {
    await page().goto(`${origin}/find`);
    await shows(16);
    await value('Camera', /^Norda K4/).click();
    await shows(7);
    await value('Camera', /^Norda Marin 5/).click();
    await shows(12);
    expect(await line().inputValue()).toBe('camera="Norda K4" OR camera="Norda Marin 5"');
    expect(await value('Camera', /^Norda K2/).innerText()).toMatch(/3$/); // its own condition does not hide what else there is
    await until('keywords of these', async () => /3$/.test(await value('Keyword', /^slip/).innerText())); // boats 0, 2 and 4
    await shelf('Keyword').getByRole('button', { name: 'not slip' }).click();
    await until('without slip', async () => (await line().inputValue()).endsWith('-keyword=slip'));
    await shows(9);
    await shelf('Camera').getByRole('button', { name: 'Any camera' }).click();
    await until('only that', async () => (await line().inputValue()) === '-keyword=slip');
    await shows(11);
    await page().getByRole('button', { name: 'Clear the search' }).click();
    await shows(16);
  });

  it('take clicks that come faster than the address: each adds to the one before', async () => {
    const clicked = [
      await value('Camera', /^Norda K4/).elementHandle(),
      await value('Camera', /^Norda K2/).elementHandle(),
      await value('Keyword', /^slip/).elementHandle(),
    ];
    await page().evaluate((buttons) => buttons.forEach((button) => (button as HTMLElement | null)?.click()), clicked);
    await until(
      'all three',
      async () => (await line().inputValue()) === 'camera="Norda K4" OR camera="Norda K2" keyword=slip',
    );
    await shows(5);
    await page().getByRole('button', { name: 'Clear the search' }).click();
    await shows(16);
  });
});

story('collections: gathered, in folders, by rules, and what goes when one goes', (step) => {
  step('are gathered by key, by drag and in folders, ordered by hand, undone, and on the drive', async () => {
    await typeScope(page(), 'wool');
    await shows(5);
    await line().press('Escape');
    await selectPhoto(page(), 'Wool 0');
    await selectPhoto(page(), 'Wool 1').then(() => undefined);
    await wall()
      .getByRole('button', { name: 'Wool 3' })
      .click({ modifiers: ['Control'] });
    await page().keyboard.press('g');
    const gather = page().getByRole('dialog');
    await gather.getByRole('combobox', { name: 'Collection' }).fill('Best');
    await gather.getByRole('combobox', { name: 'Collection' }).press('Enter');
    await eventually(() =>
      kept('collections.json').collections?.map(({ name, kind, photoIds }) => [
        name,
        kind,
        (photoIds as string[]).length,
      ]),
    ).toEqual([['Best', 'hand', 2]]);
    await typeScope(page(), 'boat');
    await line().press('Escape');
    await selectPhoto(page(), 'Boat 4');
    await wall()
      .getByRole('button', { name: /^Boat 4/ })
      .dragTo(value('Collections', /^Best/));
    await until('three in it', async () => /3$/.test(await value('Collections', /^Best/).innerText()));
    await value('Collections', /^Best/).click();
    await until('its scope', async () => (await line().inputValue()) === 'in:Best sort:hand');
    await eventually(namesOnWall).toEqual(['Wool 1', 'Wool 3', 'Boat 4']);
    await selectPhoto(page(), 'Boat 4');
    await page().getByRole('button', { name: 'Place…' }).click();
    await page().getByRole('menuitem', { name: 'To the front' }).click();
    await until('in front', async () => (await namesOnWall()).join() === 'Boat 4,Wool 1,Wool 3');
    await page().keyboard.press('Control+z');
    await until('as before', async () => (await namesOnWall()).join() === 'Wool 1,Wool 3,Boat 4');
    await page().keyboard.press('Control+z');
    await until('the drag undone', async () => /2$/.test(await value('Collections', /^Best/).innerText())); // on the wall it stays until one looks anew
    await page().keyboard.press('Control+Shift+z');
    await eventually(() => (kept('collections.json').collections?.[0]?.photoIds as string[]).length).toBe(3);
  });

  step(
    'stand in folders; a smart one is made by rules, refers to another by name, and follows its new name',
    async () => {
      await shelf('Collections').getByRole('button', { name: 'New…' }).click();
      await page().getByRole('menuitem', { name: 'Folder…' }).click();
      await page().getByRole('textbox', { name: 'Name of the folder' }).fill('Harbours');
      await page().keyboard.press('Enter');
      await shelf('Collections').getByRole('button', { name: 'Edit collection Best' }).click();
      await page().getByRole('combobox', { name: 'In the folder' }).click();
      await page().getByTitle('in Harbours').click();
      await until('inside', async () => /3$/.test(await value('Collections', /^Harbours/).innerText()));
      await page().keyboard.press('Escape');
      await shelf('Collections').getByRole('button', { name: 'New…' }).click();
      await page().getByRole('menuitem', { name: 'Smart collection by rules…' }).click();
      const drawer = page().getByRole('dialog');
      await drawer.getByRole('textbox', { name: 'Name' }).fill('Best of the K4');
      await drawer.getByRole('textbox', { name: 'The same as text' }).fill('in:Best');
      await drawer.getByRole('button', { name: 'Add a rule' }).click();
      await drawer.getByRole('combobox', { name: 'Field' }).last().fill('Camera');
      await page().locator('.ant-select-dropdown:visible').getByTitle('Camera', { exact: true }).click();
      await drawer.getByRole('combobox', { name: 'Value' }).last().fill('k4');
      await until(
        'the text of both',
        async () =>
          (await drawer.getByRole('textbox', { name: 'The same as text' }).inputValue()) === 'in:Best camera:k4',
      );
      await drawer.getByRole('status').getByText('1 photo').waitFor();
      await drawer.getByRole('button', { name: 'Keep' }).click();
      await value('Collections', /^Best of the K4/).waitFor();
      await shelf('Collections').getByRole('button', { name: 'Edit collection Best', exact: true }).click();
      await page().getByRole('textbox', { name: 'Name' }).fill('Chosen');
      await page().keyboard.press('Enter');
      await eventually(
        () => kept('collections.json').collections?.find(({ name }) => name === 'Best of the K4')?.scope,
      ).toBe('in:Chosen camera:k4');
      await page().keyboard.press('Escape');
      await until('still one', async () => /1$/.test(await value('Collections', /^Best of the K4/).innerText()));
    },
  );

  step('are not removed in silence where another refers to them, and say what is gone', async () => {
    await shelf('Collections').getByRole('button', { name: 'Edit collection Chosen' }).click();
    await page().getByRole('button', { name: 'Remove (photos stay)' }).click();
    const question = page().getByRole('dialog').filter({ hasText: '“Best of the K4” refers to “Chosen”' });
    await question.getByRole('button', { name: 'Remove it all the same' }).click();
    await value('Collections', /“Chosen” is gone/).waitFor();
    await until('nothing of it', async () => /0$/.test(await value('Collections', /^Best of the K4/).innerText()));
    await page().keyboard.press('Escape');
    await page().keyboard.press('Control+z');
    await until('found again', async () => /1$/.test(await value('Collections', /^Best of the K4/).innerText()));
  });

  step('are taken in from a file, and a file that is none says so and changes nothing', async () => {
    const given = path.join(mkdtempSync(path.join(tmpdir(), 'wembo-given-')), 'given.json');
    const take = async () => {
      await shelf('Collections').getByRole('button', { name: 'New…' }).click();
      const [chooser] = await Promise.all([
        page().waitForEvent('filechooser'),
        page().getByRole('menuitem', { name: 'From a file…' }).click(),
      ]);
      await chooser.setFiles(given);
    };
    writeFileSync(
      given,
      JSON.stringify({
        format: 'wembo-collections',
        version: 1,
        collections: [
          { id: 'from-elsewhere', name: 'Wool of spring', scope: 'wool month:3..5', updatedAt: 1, deleted: false },
        ],
      }),
    );
    await take();
    await until('with its count', async () => /3$/.test(await value('Collections', /^Wool of spring/).innerText()));
    writeFileSync(given, '{"format":"wembo-kits"');
    await take();
    await page().getByText('given.json: is not JSON. Nothing was taken in.').waitFor();
    await page().keyboard.press('Escape');
  });
});

describe('from a photo', () => {
  it('to its day in other years, its hour, and photos of its colours', async () => {
    await typeScope(page(), 'boat');
    await line().press('Escape');
    await selectPhoto(page(), 'Boat 3');
    const goTo = async (name: string | RegExp) => {
      await page().getByRole('button', { name: 'Go to…' }).click();
      await page().getByRole('menuitem', { name }).first().click();
    };
    await goTo('This day in other years');
    await until('its scope', async () => (await line().inputValue()) === 'taken:--07-01');
    await shows(4); // 2015, twice, 2018 and 2021
    await selectPhoto(page(), 'Boat 3');
    await goTo('Around this time');
    await until('its scope', async () => (await line().inputValue()) === 'around:2018-07-01T10:00~30m');
    await shows(1);
    await selectPhoto(page(), 'Boat 3');
    await goTo(/^Photos with the colour #/);
    await until(
      'by colour',
      async () => (await line().inputValue()).startsWith('colour:#') && (await shownCount(page())) === 16,
    ); // the ground of all of them
    await openShelf('Colour');
    await shelf('Colour').getByRole('button', { name: 'red', exact: true }).click();
    await until('red', async () => (await line().inputValue()) === 'colour:red');
    await page().getByRole('button', { name: 'Clear the search' }).click();
  });

  it('to what it was sent for, which is kept on the drive and found ever after', async () => {
    await typeScope(page(), 'wool');
    await shows(5);
    await line().press('Escape');
    await page().keyboard.press('Control+a');
    await page().getByRole('button', { name: 'More…' }).click();
    await page().getByRole('menuitem', { name: 'Note where they were sent…' }).click();
    await page().getByRole('combobox', { name: 'To whom, or what for' }).fill('Museum print');
    await page().getByRole('button', { name: 'Note it' }).click();
    await eventually(() =>
      kept('deliveries.json').deliveries?.map(({ name, photoIds }) => [name, (photoIds as string[]).length]),
    ).toEqual([['Museum print', 5]]);
    await typeScope(page(), 'sent:"Museum print"');
    await shows(5);
    await typeScope(page(), '-sent:any');
    await shows(11);
    await line().press('Escape');
    await page().keyboard.press('Control+z');
    await shows(16);
    await page().keyboard.press('Control+Shift+z');
    await page().getByRole('button', { name: '5 stay; look anew' }).click();
    await shows(11);
    await page().getByRole('button', { name: 'Clear the search' }).click();
    await until('the shelf', async () => /5$/.test(await value('Where it went', /^Museum print/).innerText()));
  });
});

describe('look-alikes', () => {
  it('are shown in groups by how near they are, to be decided side by side', async () => {
    await page().getByText('Look-alikes', { exact: true }).click();
    const alike = (name: RegExp) =>
      page()
        .getByRole('region', { name: '2 alike' })
        .filter({ has: page().getByRole('button', { name }) });
    await alike(/^Plank seven/)
      .getByText('the same picture data; only what is written differs')
      .waitFor();
    const group = alike(/^Boat 0 again/);
    await group.getByText(/bits apart|no difference that was measured/).waitFor();
    expect(await group.getByRole('button', { name: /^Boat 0/ }).count()).toBe(2);
    await group.getByRole('button', { name: 'Select all but the best' }).click();
    await until('one is selected', async () => (await group.getByRole('button', { pressed: true }).count()) === 1);
    await group.getByRole('button', { name: 'Side by side' }).click();
    await until(
      'both beside each other',
      async () => (await page().getByRole('region', { name: 'Side by side' }).getByRole('article').count()) === 2,
    );
    await page().keyboard.press('Escape');
    await page().getByText('Wall', { exact: true }).click();
    await typeScope(page(), 'like:b0.jpg~4');
    await shows(2);
    await page().getByRole('button', { name: 'Clear the search' }).click();
  });
});

describe('the index', () => {
  const fileOfIndex = () =>
    page().evaluate(async () => {
      const folder = await (await navigator.storage.getDirectory()).getDirectoryHandle('wembo-index');
      const handle = await folder.getFileHandle('wembo.bin').catch(() => null);
      return handle === null ? 0 : (await handle.getFile()).size;
    });

  it('is kept, and what changed after that is found when the page is opened again', async () => {
    await until('it is kept', async () => (await fileOfIndex()) > 0);
    await typeScope(page(), 'wool');
    await line().press('Escape');
    await selectPhoto(page(), 'Wool 2');
    const card = page().getByRole('complementary', { name: 'Record card' });
    await card.getByLabel('City', { exact: true }).fill('Gjógv');
    await card.getByLabel('City', { exact: true }).blur();
    await eventually(() => read(folder, 'wool/w2.xmp').toString('utf8').includes('Gjógv')).toBe(true);
    await page().goto(`${origin}/find?q=city%3Dgjogv`); // before it was kept again
    await shows(1);
    await page().getByText('The index is complete').or(page().getByText('1 shown')).first().waitFor();
  });

  it('whose file is damaged is built anew', async () => {
    await page().evaluate(async () => {
      const folder = await (await navigator.storage.getDirectory()).getDirectoryHandle('wembo-index');
      const handle = await folder.getFileHandle('wembo.bin');
      const bytes = new Uint8Array(await (await handle.getFile()).arrayBuffer());
      bytes[Math.floor(bytes.length / 2)] = (bytes[Math.floor(bytes.length / 2)] ?? 0) ^ 255;
      const file = await handle.createWritable();
      await file.write(bytes);
      await file.close();
    });
    await page().goto(`${origin}/find?q=boat`);
    await shows(10);
    await typeScope(page(), 'city=gjogv OR sent:any');
    await shows(5);
  });
});
