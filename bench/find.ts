// Finding: building the index, opening it from its file, memory, and four queries, each with its count, facets by year,
// camera, rating and the top 20 keywords, and the first 200 ids; against SQLite (WebAssembly, full text and indexes)
// and a general text index, in the same run. `npm run bench -- find [photos]`; more than 200,000 photos leave the other
// two out but for the memory they allow.

import initSqlJs, { type Database } from 'sql.js';
import MiniSearch from 'minisearch';
import { SearchIndex } from '../src/core/search/search-index';
import { type SearchRecord, plainly } from '../src/core/search/search-record';
import { randomFrom } from '../src/demo/paint/noise';
import { until } from '../tests/e2e/folders';
import { openPlace, shownCount } from '../tests/e2e/person';
import { ORIGIN } from './server';
import { withFilledCatalog } from './sift';

const WORDS = 30_000;
const KEYWORDS = 4000;
const random = randomFrom(20261126);
const count = (value: number) => value.toLocaleString('en');

/** Zipf: the nth word is used in proportion to 1/n. */
function zipf(size: number): () => number {
  const sums = new Float64Array(size);
  let sum = 0;
  for (let rank = 0; rank < size; rank++) sums[rank] = sum += 1 / (rank + 1);
  return () => {
    const at = random() * sum;
    let [low, high] = [0, size - 1];
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((sums[middle] ?? 0) < at) low = middle + 1;
      else high = middle;
    }
    return low;
  };
}

const SYLLABLES = [
  'bo',
  'at',
  'sli',
  'fer',
  'ry',
  'no',
  'rd',
  'wo',
  'ol',
  'ha',
  'rb',
  'our',
  'ki',
  'la',
  'ks',
  'vik',
  'tor',
  'sha',
  'vn',
  'ei',
  'du',
  'mu',
  'sto',
  'ne',
];
const wordAt = (rank: number): string => {
  let word = '';
  for (let left = rank + 24; left > 0; left = Math.floor(left / 24)) word += SYLLABLES[left % 24];
  return word;
};
const [word, keyword] = [zipf(WORDS), zipf(KEYWORDS)];
const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)] as T;
const CAMERAS = ['Norda K4', 'Norda K2', 'Norda K2s', 'Marin 5', 'Marin 7', 'Scan 4', 'Pocket 3', 'Pocket 4'];
const LENSES = ['24 mm f/2.8', '35 mm f/2', '50 mm f/1.8', '85 mm f/1.8', '24–70 mm f/4', '70–200 mm f/4'];
const PLACES = Array.from({ length: 120 }, (_, at) => wordAt(5000 + at));

function photo(at: number): SearchRecord {
  const [year, month, date] = [
    2004 + Math.floor(random() * 23),
    1 + Math.floor(random() * 12),
    1 + Math.floor(random() * 28),
  ];
  const day = year * 10_000 + month * 100 + date;
  const second = Math.floor(random() * 86_400);
  const words = (length: number) => Array.from({ length }, () => wordAt(word())).join(' ');
  const drive = pick(['Studio', 'Attic', 'Copy']);
  const iso = pick([100, 200, 400, 800, 1600, 3200, 6400]);
  return {
    id: `${at.toString(16).padStart(8, '0')}${Math.floor(random() * 2 ** 32)
      .toString(16)
      .padStart(8, '0')}`,
    names: [`IMG_${String(at).padStart(7, '0')}.jpg`],
    folders: [`${year}/${year}-${String(month).padStart(2, '0')}`],
    driveFolders: [`${drive}:/${year}/${year}-${String(month).padStart(2, '0')}`],
    drives: [drive],
    camera: pick(CAMERAS),
    lens: pick(LENSES),
    format: 'jpeg',
    profile: 'sRGB',
    video: false,
    day,
    second,
    addedAt: 1.7e12,
    aspect: pick([1.5, 0.667]),
    megapixels: 24,
    copies: pick([1, 2, 3]),
    marks: [],
    lacks: [],
    onDrives: [],
    onlyOn: [],
    safeUntil: 0,
    edited: false,
    sent: [],
    measures: null,
    large: false,
    placed: true,
    shot: {
      body: 'b',
      at: day * 100_000 + second,
      fraction: false,
      seconds: 1 / 250,
      fNumber: 8,
      iso,
      focalMm: 35,
      biasEv: 0,
      stems: [`s/${at}`],
      raw: false,
      given: null,
      overlaps: {},
    },
    fields: {
      rating: pick([0, 0, 0, 1, 2, 3, 4, 5]),
      caption: words(9),
      headline: words(4),
      keywords: [...new Set(Array.from({ length: 5 }, () => `k${wordAt(keyword())}`))],
      city: pick(PLACES),
      country: 'Faroe Islands',
      captured: `${year}-${month}-${date}`,
    },
  };
}

interface Query {
  name: string;
  /** Another instance of the same kind of question each time. */
  ours: () => { scope: string; sql: [where: string, parameters: (string | number)[]]; words: string | null };
}

const QUERIES: Query[] = [
  {
    name: 'two words',
    ours: () => {
      const [a, b] = [wordAt(Math.floor(random() * 60)), wordAt(Math.floor(random() * 300))];
      return {
        scope: `"${a}" "${b}"`,
        sql: ['id IN (SELECT rowid FROM words WHERE words MATCH ?)', [`"${a}"* "${b}"*`]],
        words: `${a} ${b}`,
      };
    },
  },
  {
    name: 'keyword and rating and years',
    ours: () => {
      const [key, from] = [`k${wordAt(Math.floor(random() * 100))}`, 2004 + Math.floor(random() * 18)];
      return {
        scope: `keyword=${key} rating>=3 taken:${from}..${from + 4}`,
        sql: [
          'id IN (SELECT photo FROM keywords WHERE word = ?) AND rating >= 3 AND day BETWEEN ? AND ?',
          [key, from * 10_000, (from + 4) * 10_000 + 9999],
        ],
        words: null,
      };
    },
  },
  {
    name: 'camera and lens and ISO sorted by date',
    ours: () => {
      const [camera, lens, iso] = [pick(CAMERAS), pick(LENSES), pick([200, 400, 800])];
      return {
        scope: `camera="${camera}" lens="${lens}" iso>=${iso}`,
        sql: ['camera = ? AND lens = ? AND iso >= ?', [camera, lens, iso]],
        words: null,
      };
    },
  },
  {
    name: 'three-letter prefix',
    ours: () => {
      const prefix = wordAt(Math.floor(random() * 2000)).slice(0, 3);
      return {
        scope: prefix,
        sql: ['id IN (SELECT rowid FROM words WHERE words MATCH ?)', [`${prefix}*`]],
        words: prefix,
      };
    },
  },
];

const FACETS = ['year', 'camera', 'rating', 'keyword'] as const;
const quantile = (times: number[], share: number): number =>
  times.toSorted((a, b) => a - b)[Math.min(times.length - 1, Math.floor(times.length * share))] ?? 0;

function measured(repeats: number, once: () => void): { p50: number; p95: number } {
  for (let warm = 0; warm < Math.min(10, repeats); warm++) once();
  const times = Array.from({ length: repeats }, () => {
    const start = performance.now();
    once();
    return performance.now() - start;
  });
  return { p50: quantile(times, 0.5), p95: quantile(times, 0.95) };
}

function filledSqlite(SQL: Awaited<ReturnType<typeof initSqlJs>>, photos: Iterable<SearchRecord>): Database {
  const db = new SQL.Database();
  db.run(
    'CREATE TABLE photos (id INTEGER PRIMARY KEY, photo TEXT, day INT, second INT, rating INT, camera TEXT, lens TEXT, iso INT); CREATE TABLE keywords (word TEXT, photo INT); CREATE VIRTUAL TABLE words USING fts4(text)',
  );
  db.run('BEGIN');
  const [row, key, text] = [
    db.prepare('INSERT INTO photos VALUES (?, ?, ?, ?, ?, ?, ?, ?)'),
    db.prepare('INSERT INTO keywords VALUES (?, ?)'),
    db.prepare('INSERT INTO words (rowid, text) VALUES (?, ?)'),
  ];
  let at = 0;
  for (const { id, day, second, camera, lens, shot, fields, names } of photos) {
    at += 1;
    row.run([at, id, day, second, Number(fields.rating), camera, lens, shot.iso]);
    for (const one of fields.keywords as string[]) key.run([one, at]);
    text.run([
      at,
      [fields.caption, fields.headline, ...(fields.keywords as string[]), fields.city, fields.country, names[0]].join(
        ' ',
      ),
    ]);
  }
  for (const statement of [row, key, text]) statement.free();
  db.run(
    'COMMIT; CREATE INDEX k ON keywords (word, photo); CREATE INDEX p ON keywords (photo); CREATE INDEX d ON photos (day, second); CREATE INDEX c ON photos (camera, lens, iso); ANALYZE',
  );
  return db;
}

function askSqlite(db: Database, [where, parameters]: [string, (string | number)[]]): void {
  db.run('DROP TABLE IF EXISTS hit; CREATE TEMP TABLE hit (id INTEGER PRIMARY KEY)');
  db.run(`INSERT INTO hit SELECT id FROM photos WHERE ${where}`, parameters);
  for (const sql of [
    'SELECT count(*) FROM hit',
    'SELECT day / 10000, count(*) FROM hit JOIN photos USING (id) GROUP BY 1',
    'SELECT camera, count(*) FROM hit JOIN photos USING (id) GROUP BY 1',
    'SELECT rating, count(*) FROM hit JOIN photos USING (id) GROUP BY 1',
    'SELECT word, count(*) FROM hit JOIN keywords ON keywords.photo = hit.id GROUP BY 1 ORDER BY 2 DESC LIMIT 20',
    'SELECT photo FROM hit JOIN photos USING (id) ORDER BY day, second LIMIT 200',
  ])
    db.exec(sql);
}

const memory = (): number => {
  globalThis.gc?.();
  const { heapUsed, arrayBuffers } = process.memoryUsage();
  return heapUsed + arrayBuffers;
};

export async function benchFind(photosAsked: number): Promise<void> {
  await benchFolders(Math.min(photosAsked, 100_000));
  const say = (line: string) => console.log(`find     ${line}`);
  const withOthers = photosAsked <= 200_000;
  const kept: SearchRecord[] = [];
  const before = memory();
  let index = new SearchIndex();
  let ms = 0;
  for (let at = 0; at < photosAsked; at++) {
    const one = photo(at);
    if (withOthers) kept.push(one);
    const start = performance.now();
    index.put(one);
    ms += performance.now() - start;
  }
  const settling = performance.now();
  index.settle();
  index.answer('', FACETS, 200); // sorts by time
  ms += performance.now() - settling;
  const bytes = index.toBytes();
  let first = 0;
  // the middle of five: clearing away what building left behind falls into one of them
  const opening = measured(5, () => {
    index = SearchIndex.fromBytes(bytes) ?? index;
    first = index.answer('', FACETS, 200).count;
  });
  say(
    `${count(first)} photos: built in ${(ms / 1000).toFixed(1)} s, opened and answered in ${opening.p50.toFixed(0)} ms, ${(bytes.length / photosAsked).toFixed(0)} bytes a photo in its file and in memory, of which ${(index.textBytes / photosAsked).toFixed(0)} are texts as they are written${withOthers ? '' : `; process ${((memory() - before) / photosAsked).toFixed(0)}`}`,
  );

  const changed = { ...photo(photosAsked), ...(kept[17] ?? {}) };
  const edit = measured(200, () => {
    index.put({
      ...changed,
      fields: { ...changed.fields, rating: Math.floor(random() * 6), caption: `${wordAt(word())} ${wordAt(word())}` },
    });
    index.answer('rating>=3 taken:2019', FACETS, 200);
  });
  say(
    `a caption and rating changed and the scope asked again: p50 ${edit.p50.toFixed(2)} ms, p95 ${edit.p95.toFixed(2)} ms`,
  );
  let more = photosAsked;
  const added = measured(100, () => {
    index.put(photo(more++));
    index.search(plainly('rating>=5 taken:2019'));
  });
  say(
    `a photo more, with its place in time and among its sets, and a scope asked for the wall: p50 ${added.p50.toFixed(2)} ms, p95 ${added.p95.toFixed(2)} ms`,
  );

  const db = withOthers ? filledSqlite(await initSqlJs(), kept) : null;
  const general = withOthers ? new MiniSearch<{ id: number; text: string }>({ fields: ['text'] }) : null;
  general?.addAll(
    kept.map(({ fields, names }, id) => ({
      id,
      text: [fields.caption, fields.headline, ...(fields.keywords as string[]), fields.city, names[0]].join(' '),
    })),
  );
  for (const { name, ours } of QUERIES) {
    const own = measured(withOthers ? 300 : 100, () => void index.answer(ours().scope, FACETS, 200));
    const sqlite = db && measured(25, () => askSqlite(db, ours().sql));
    const text =
      general && ours().words !== null
        ? measured(25, () => void general.search(ours().words ?? '', { combineWith: 'AND', prefix: true }).length)
        : null;
    say(
      `${name}: p50 ${own.p50.toFixed(2)} ms, p95 ${own.p95.toFixed(2)} ms${sqlite ? `; SQLite p95 ${sqlite.p95.toFixed(0)} ms, ${(sqlite.p95 / own.p95).toFixed(0)} times as long` : ''}${text ? `; a general text index, without facets, p95 ${text.p95.toFixed(0)} ms, ${(text.p95 / own.p95).toFixed(0)} times` : ''}`,
    );
  }
}

const FOLDERS = 50_000;

/** A tree of many folders, counted anew after a photo changed, and a search in one of them; SQLite only counts photos by folder. */
async function benchFolders(photosAsked: number): Promise<void> {
  const folderOf = (at: number) => {
    const folder = at % FOLDERS;
    return `${2004 + (folder % 20)}/client ${Math.floor(folder / 20) % 250}/shoot ${folder}`;
  };
  const index = new SearchIndex();
  const db = new (await initSqlJs()).Database();
  db.run('CREATE TABLE photos (id INTEGER PRIMARY KEY, folder TEXT); BEGIN');
  const row = db.prepare('INSERT INTO photos VALUES (?, ?)');
  for (let at = 0; at < photosAsked; at++) {
    const folder = folderOf(at);
    index.put({ ...photo(at), folders: [folder], driveFolders: [`Studio:/${folder}`], drives: ['Studio'] });
    row.run([at, folder]);
  }
  row.free();
  db.run('COMMIT; CREATE INDEX f ON photos (folder); ANALYZE');
  index.settle();
  let more = photosAsked;
  let years = 0;
  const tree = measured(20, () => {
    index.put({ ...photo(more), driveFolders: [`Studio:/${folderOf(more++)}`] });
    years = index.folders.open(['Studio:/'])['Studio:/']?.length ?? 0;
  });
  const opened = measured(100, () => void index.folders.open(['Studio:/', 'Studio:/2019']));
  const asked = measured(100, () => void index.search(plainly(`folder:"Studio:/${2004 + (more++ % 20)}"`)));
  const sqlite = measured(10, () => db.exec('SELECT folder, count(*) FROM photos GROUP BY folder'));
  console.log(
    `find     ${count(FOLDERS)} folders with ${count(photosAsked)} photos (${years} at the top): tree counted anew p95 ${tree.p95.toFixed(0)} ms, a folder opened ${opened.p95.toFixed(2)} ms, searched in ${asked.p95.toFixed(1)} ms; SQLite counts photos by folder in ${sqlite.p95.toFixed(0)} ms`,
  );
}

const IN_BROWSER = 100_000;

/** Milliseconds from a letter that is typed to the counts of what it finds, on the screen. In the page. */
async function typing(scopes: string[]): Promise<number[]> {
  const line = document.querySelector<HTMLInputElement>('[role=combobox][aria-label=Search]');
  const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')?.set;
  if (!line || !set) throw new Error('no scope line');
  const shown = () => document.querySelector('main strong')?.textContent ?? ''; // the count over the wall
  const type = async (scope: string): Promise<number> => {
    const before = shown();
    const start = performance.now();
    set.call(line, scope);
    line.dispatchEvent(new Event('input', { bubbles: true }));
    while (shown() === before && performance.now() - start < 5000) await new Promise(requestAnimationFrame);
    return performance.now() - start;
  };
  const times: number[] = [];
  for (const scope of scopes) {
    times.push(await type(scope));
    await type(''); // all photos in between, so that two counts that are the same follow nowhere
    await new Promise((resolve) => setTimeout(resolve, 150));
  }
  return times;
}

/** The built application with 100,000 photos: opening with the kept index and without, and typing. */
export async function benchFindInBrowser(work: string): Promise<void> {
  await withFilledCatalog(work, IN_BROWSER, async (page) => {
    const kept = () =>
      page.evaluate(async () => {
        const folder = await (
          await navigator.storage.getDirectory()
        )
          .getDirectoryHandle('wembo-index')
          .catch(() => null);
        const file = await (await folder?.getFileHandle('wembo.bin').catch(() => null))?.getFile();
        return { bytes: file?.size ?? 0, at: file?.lastModified ?? 0 };
      });
    const opened = async () => {
      const start = performance.now();
      await page.goto(`${ORIGIN}/find`);
      await until('all photos', async () => (await shownCount(page)) === IN_BROWSER + 1, 240_000);
      return performance.now() - start;
    };
    const built = await opened();
    await until('the index is kept', async () => (await kept()).bytes > 1e6, 120_000);
    const times = [await opened(), await opened(), await opened()].sort((a, b) => a - b);
    console.log(
      `find     ${count(IN_BROWSER)} photos in the application: opened in ${((times[1] ?? 0) / 1000).toFixed(1)} s with the kept index of ${((await kept()).bytes / 1e6).toFixed(0)} MB, in ${(built / 1000).toFixed(1)} s where it is built`,
    );
    await openPlace(page, 'Find');
    const scopes = (number: number) =>
      Array.from(
        { length: number },
        (_, at) =>
          [`word${at * 3}`, `har rating>=${at % 5} taken:${2004 + (at % 18)}`, `town ${at}`, `made ${at}`][at % 4] ??
          '',
      );
    const typed = async (number: number) => {
      const taken = (await page.evaluate(typing, scopes(number))).sort((a, b) => a - b);
      return `p50 ${quantile(taken, 0.5).toFixed(0)} ms, p95 ${quantile(taken, 0.95).toFixed(0)} ms, the longest ${(taken.at(-1) ?? 0).toFixed(0)} ms`;
    };
    console.log(`         a scope typed, to its count on the screen: ${await typed(40)}`);
    const before = (await kept()).at;
    await page.getByRole('group', { name: 'Wall' }).getByRole('button').first().click();
    await page.keyboard.press('4');
    const meanwhile = await typed(90);
    console.log(
      `         the same, while the index is kept after a change${(await kept()).at > before ? '' : ' (it was not)'}: ${meanwhile}`,
    );
  });
}
