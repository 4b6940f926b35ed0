// Describing with 100,000 photos: a keyword for 10,000 of them in the built application; two words merged over all of
// them, and what is offered while typing in a vocabulary of 20,000, in Node. Each against the plainest way to do the
// same.

import { planOnPhotos } from '../src/core/vocabulary/plan';
import { Completions } from '../src/core/vocabulary/completion';
import { findAlike } from '../src/core/vocabulary/alike';
import { vocabularyOf } from '../src/core/vocabulary/vocabulary';
import { until } from '../tests/e2e/folders';
import { openPlace, shownCount, typeScope } from '../tests/e2e/person';
import { withFilledCatalog } from './sift';
import { plain } from '@/core/text/fold';

const PHOTOS = 100_000;
const WORDS = 20_000;
/** At least so many photos are given a keyword. */
const GIVEN = 10_000;

const time = <T>(work: () => T): { ms: number; result: T } => {
  const started = performance.now();
  const result = work();
  return { ms: performance.now() - started, result };
};
const median = (values: number[]): number => values.toSorted((a, b) => a - b)[Math.floor(values.length / 2)] ?? NaN;

function coreFigures(): string {
  const syllables = ['bo', 'ska', 'vi', 'ður', 'gjo', 'tin', 'hel', 'ma', 'ro', 'fu', 'glo', 'ney'];
  const name = (index: number) =>
    `${syllables[index % 12]}${syllables[Math.floor(index / 12) % 12]}${syllables[Math.floor(index / 144) % 12]}${syllables[Math.floor(index / 1728) % 12]}${index >= 20_736 ? index : ''}`;
  const words = Array.from({ length: WORDS }, (_, index) => ({
    id: `w${index}`,
    word: name(index),
    parentId: null,
    synonyms: [],
    note: '',
    updatedAt: 1,
    deleted: false,
  }));
  const listed = words.map(({ id, word }, index) => ({ id, word, also: [], path: '', count: index % 500 }));
  const built = time(() => {
    const completions = new Completions(() => listed);
    completions.of('x', 1);
    return completions;
  });
  const again = time(() => new Completions(() => listed).of('x', 1));
  const typed = ['b', 'bo', 'gjo', 'gjov', 'skavi', 'ma', 'helfu', 'r'];
  const offered = median(typed.map((text) => time(() => built.result.of(text, 8)).ms));
  const plainly = median(
    typed.map(
      (text) =>
        time(() =>
          listed
            .filter(({ word }) => plain(word).startsWith(plain(text)))
            .sort((a, b) => b.count - a.count)
            .slice(0, 8),
        ).ms,
    ),
  );
  const alike = time(() => findAlike(listed));
  const vocabulary = vocabularyOf(words);
  const photos = Array.from({ length: PHOTOS }, (_, index) => ({
    id: `p${index}`,
    fields: { keywords: [name(index % 300), name(7), 'harbour'] },
  }));
  const merged = time(() => planOnPhotos(vocabulary, photos, { wordId: 'w7', word: name(7), to: [name(8)] }));
  const reference = time(() =>
    photos.map(({ fields: { keywords } }) => [...new Set(keywords.map((word) => (word === name(7) ? name(8) : word)))]),
  );
  return (
    `words offered per key in a vocabulary of ${WORDS.toLocaleString('en')}: ${offered.toFixed(2)} ms, reading through the list ${plainly.toFixed(2)} ms (${(plainly / offered).toFixed(0)} times as long); put in order in ${built.ms.toFixed(0)} ms at first, ${again.ms.toFixed(0)} ms when a word was given\n` +
    `         near-equal pairs among them: ${alike.result.length.toLocaleString('en')} in ${alike.ms.toFixed(0)} ms\n` +
    `         a merge planned over ${PHOTOS.toLocaleString('en')} photos: ${merged.ms.toFixed(0)} ms for ${merged.result.edits.length.toLocaleString('en')} edits, replacing in plain lists ${reference.ms.toFixed(0)} ms (${(merged.ms / reference.ms).toFixed(1)} times)`
  );
}

export async function benchDescribe(work: string): Promise<void> {
  console.log(`describe ${coreFigures()}`);
  await withFilledCatalog(work, PHOTOS, async (page) => {
    await page.waitForTimeout(3000);
    // of the ninety towns of the made photos, eleven begin so
    await typeScope(page, 'city:"Town 1"');
    await until('the towns', async () => ((number) => number > GIVEN && number < PHOTOS)(await shownCount(page)));
    const count = await shownCount(page);
    await page.getByRole('combobox', { name: 'Search' }).press('Escape');
    await page.keyboard.press('Control+a');
    await page.getByLabel('Add keywords').waitFor();
    await page.waitForTimeout(2000);
    await page.getByLabel('Add keywords').fill('given');
    const started = Date.now();
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'Take away “given”' }).waitFor({ timeout: 120_000 });
    const shown = Date.now() - started;
    // the plainest way: the same records written into the database and nothing else
    const alone = await page.evaluate(async (number) => {
      const db = await new Promise<IDBDatabase>((resolve) => {
        const open = indexedDB.open('wembo');
        open.onsuccess = () => resolve(open.result);
      });
      const read = db.transaction('photos').objectStore('photos').getAll(undefined, number);
      const records = await new Promise<unknown[]>(
        (resolve) => (read.onsuccess = () => resolve(read.result as unknown[])),
      );
      const before = performance.now();
      const transaction = db.transaction('photos', 'readwrite');
      for (const record of records) transaction.objectStore('photos').put(record);
      await new Promise((resolve) => (transaction.oncomplete = resolve));
      return performance.now() - before;
    }, count);
    console.log(
      `         a keyword for ${count.toLocaleString('en')} of ${PHOTOS.toLocaleString('en')} photos: shown after ${shown} ms, ${(shown / alone).toFixed(1)} times writing those records alone (${alone.toFixed(0)} ms)`,
    );
    await openPlace(page, 'Describe');
    await page.getByRole('button', { name: 'Keywords', exact: true }).click();
    await page.getByLabel('New word').fill('harbour; port');
    await page.keyboard.press('Enter');
    await page.getByLabel('Find a word').fill('harbour');
    await page
      .getByRole('tree')
      .getByRole('treeitem', { name: /^harbour/ })
      .click();
    await page.getByLabel('Merge into another word').fill('port');
    await page.keyboard.press('Escape');
    const asked = Date.now();
    await page.getByRole('button', { name: 'Merge', exact: true }).click();
    await page.getByRole('dialog').getByText('follow, with their sidecars').waitFor({ timeout: 240_000 });
    const said = Date.now() - asked;
    await page.getByRole('dialog').getByRole('button', { name: 'Do it' }).click();
    await page.getByLabel('Find a word').fill('port');
    await page
      .getByText(/^100.000 photos$/)
      .first()
      .waitFor({ timeout: 300_000 });
    console.log(
      `         merging a word that ${PHOTOS.toLocaleString('en')} photos carry: counted and said in ${said} ms, done and shown ${Date.now() - asked} ms after it was asked for`,
    );
  });
}
