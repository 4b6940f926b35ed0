// Finding against the outside: random queries against SQLite on the same data, folding of text against Unicode's own
// data in the platform, edit distance against the textbook's matrix, colour differences against the published pairs,
// perceptual hashes against another implementation on transformed pictures.

import { readdirSync } from 'node:fs';
import path from 'node:path';
import fc from 'fast-check';
import sharp, { type Sharp } from 'sharp';
import phash from 'sharp-phash';
import initSqlJs from 'sql.js';
import { describe, expect, it } from 'vitest';
import { groupsAlike } from '@/core/picture/alike';
import { colourDifference } from '@/core/picture/colour-search';
import { coloursOf, hexOfLab, labOf } from '@/core/picture/colours';
import { hashOf } from '@/core/picture/hash';
import { bitsApart, packColour, unpackColour } from '@/core/picture/measures';
import { parseScope } from '@/core/query/parse-scope';
import { type Query, type Span, queryOf } from '@/core/query/query';
import { slotsIn } from '@/core/search/bit-set';
import { editDistance } from '@/core/text/edit-distance';
import { foldText, wordsOf } from '@/core/text/fold';
import { SearchIndex } from '@/core/search/search-index';
import { searchRecord } from '../fixtures/records';

describe('random queries against SQLite', () => {
  const words = ['boat', 'boathouse', 'slip', 'ferry', 'wool', 'quay', 'old'];
  const photo = fc.record({
    day: fc.constantFrom(0, 19680000, 20190704, 20200110, 20261126),
    rating: fc.integer({ min: -1, max: 5 }),
    copies: fc.integer({ min: 0, max: 3 }),
    iso: fc.constantFrom(null, 100, 400, 6400),
    camera: fc.constantFrom('Norda K4', 'Norda K2'),
    caption: fc.array(fc.constantFrom(...words), { maxLength: 5 }),
    keywords: fc.uniqueArray(fc.constantFrom(...words), { maxLength: 3 }),
    city: fc.constantFrom(null, 'Gjogv', 'Vagur'),
  });
  const records = fc.sample(photo, { numRuns: 800, seed: 11 });

  const index = new SearchIndex();
  records.forEach(({ day, copies, iso, camera, rating, caption, keywords, city }, at) =>
    index.put(
      searchRecord(String(at), {
        names: [],
        day,
        copies,
        camera,
        shot: { ...searchRecord('').shot, iso },
        fields: {
          rating,
          caption: caption.join(' '),
          ...(keywords.length > 0 && { keywords }),
          ...(city !== null && { city }),
        },
      }),
    ),
  );

  const spanSql = (column: string, { from, to, openFrom, openTo }: Span) =>
    [
      from > -Infinity ? `${column} ${openFrom ? '>' : '>='} ${from}` : '1',
      to < Infinity ? `${column} ${openTo ? '<' : '<='} ${to}` : '1',
    ].join(' AND ');
  function sqlOf(query: Query): string {
    if (query.kind !== 'term')
      return query.kind === 'not'
        ? `NOT (${sqlOf(query.of)})`
        : query.of.length === 0
          ? '1'
          : query.of.map((one) => `(${sqlOf(one)})`).join(query.kind === 'all' ? ' AND ' : ' OR ');
    const { test } = query;
    switch (test.kind) {
      case 'text':
        return `EXISTS (SELECT 1 FROM words WHERE photo = id AND word LIKE '${test.text}%'${test.place === 'any' ? '' : ` AND place = '${test.place}'`})`;
      case 'is':
        return test.place === 'camera'
          ? `camera = '${test.text}'`
          : test.place === 'city'
            ? `coalesce(city, '') = '${test.text}'`
            : `EXISTS (SELECT 1 FROM words WHERE photo = id AND word = '${test.text}' AND place = 'keyword')`;
      case 'number':
        return `coalesce(${spanSql(test.of, test.span)}, 0)`;
      case 'taken':
        return `(day > 0 AND ${spanSql('day', test.span)})`;
      case 'month':
        return `(day / 100) % 100 BETWEEN ${test.from} AND ${test.to}`;
      case 'missing':
        return 'city IS NULL';
      default:
        throw new Error(test.kind);
    }
  }

  const term = fc.constantFrom(
    'boat',
    'boa',
    'slip',
    'ferry',
    'keyword:wool',
    'caption:old',
    'keyword=boat',
    'camera="Norda K4"',
    'city=Gjogv',
    'missing:city',
    'rating>=3',
    'rating:1..4',
    'rating:<0',
    'copies<2',
    'iso:<400',
    'iso>100',
    'taken:2019',
    'taken:2019-07..2020',
    'taken:>1968',
    'month:7',
    'month:1..6',
  );
  const tree = fc.letrec<{ node: string }>((tie) => ({
    node: fc.oneof(
      { depthSize: 'small' },
      term,
      term,
      fc.array(tie('node'), { minLength: 2, maxLength: 3 }).map((parts) => `(${parts.join(' ')})`),
      fc.array(tie('node'), { minLength: 2, maxLength: 3 }).map((parts) => `(${parts.join(' OR ')})`),
      tie('node').map((part) => `-${part}`),
    ),
  })).node;

  it('two thousand trees find the same photos', async () => {
    const db = new (await initSqlJs()).Database();
    db.run(
      'CREATE TABLE photos (id INTEGER PRIMARY KEY, day INT, rating INT, copies INT, iso INT, camera TEXT, city TEXT); CREATE TABLE words (photo INT, place TEXT, word TEXT)',
    );
    records.forEach(({ day, rating, copies, iso, camera, caption, keywords, city }, at) => {
      db.run('INSERT INTO photos VALUES (?, ?, ?, ?, ?, ?, ?)', [at, day, rating, copies, iso, camera, city]);
      for (const [place, list] of [
        ['caption', caption],
        ['keyword', keywords],
        ['camera', wordsOf(camera)],
        ['city', city === null ? [] : wordsOf(city)],
      ] as const)
        for (const word of list) db.run('INSERT INTO words VALUES (?, ?, ?)', [at, place, word]);
    });
    db.run('CREATE INDEX w ON words (photo, word)');
    let hits = 0;
    for (const scope of fc.sample(tree, { numRuns: 2000, seed: 12 })) {
      const parsed = parseScope(scope);
      const theirs = (
        db.exec(`SELECT id FROM photos WHERE ${sqlOf(queryOf(parsed))} ORDER BY id`)[0]?.values ?? []
      ).map(([id]) => Number(id));
      expect(Array.from(slotsIn(index.hitsOf(parsed))), scope).toEqual(theirs);
      hits += theirs.length;
    }
    expect(hits).toBeGreaterThan(200_000);
  });
});

describe('folding against Unicode', () => {
  it('letters that are the same by case folding are compared as the same', () => {
    let compared = 0;
    for (let code = 0x41; code < 0x1ffff; code++) {
      const letter = String.fromCodePoint(code);
      if (!/\p{L}/u.test(letter)) continue;
      for (const other of [letter.toLowerCase(), letter.toUpperCase()]) {
        if (other === letter || !new RegExp(`^${letter}$`, 'iu').test(other)) continue; // simple case folding, as ECMAScript takes it from Unicode's CaseFolding.txt
        expect(foldText(other), `${letter} ${code.toString(16)}`).toBe(foldText(letter));
        compared += 1;
      }
    }
    expect(compared).toBeGreaterThan(2500);
  });

  it('the German ß is ss, as by full case folding; composed and decomposed forms, compatibility forms and the Turkish i fold alike', () => {
    for (const [a, b] of [
      ['Straße', 'STRASSE'],
      ['STRAẞE', 'strasse'],
      ['é', 'e\u0301'],
      ['Å', '\u212b'],
      ['ﬁsh', 'fish'],
      ['ＡＢＣ', 'abc'],
      ['İzmir', 'izmir'],
      ['ISPARTA', 'ısparta'],
      ['ΟΔΟΣ', 'οδος'],
      ['하', '\u1112\u1161'],
      ['が', 'か\u3099'],
    ] as const)
      expect(foldText(a), a).toBe(foldText(b));
    expect(foldText('が')).not.toBe(foldText('か')); // another letter, no accent
  });

  it('Latin letters that the platform’s collation takes for a base letter fold to it', () => {
    const collator = new Intl.Collator('und', { sensitivity: 'base', usage: 'search' });
    let agreed = 0;
    for (let code = 0xc0; code < 0x250; code++) {
      const letter = String.fromCodePoint(code);
      if (!/\p{Script=Latin}/u.test(letter) || !/\p{L}/u.test(letter)) continue;
      const base = 'abcdefghijklmnopqrstuvwxyz'.split('').find((one) => collator.compare(one, letter) === 0);
      if (base === undefined) continue;
      expect(foldText(letter), letter).toBe(base);
      agreed += 1;
    }
    expect(agreed).toBeGreaterThan(250);
  });
});

it('edit distance is that of the textbook’s matrix (optimal string alignment, Damerau 1964)', () => {
  const matrix = (a: string, b: string): number => {
    const d = Array.from({ length: a.length + 1 }, (_, i) =>
      Array.from({ length: b.length + 1 }, (__, j) => (i === 0 ? j : j === 0 ? i : 0)),
    );
    for (let i = 1; i <= a.length; i++) {
      for (let j = 1; j <= b.length; j++) {
        const cost = a[i - 1] === b[j - 1] ? 0 : 1;
        let least = Math.min(d[i - 1]![j]! + 1, d[i]![j - 1]! + 1, d[i - 1]![j - 1]! + cost);
        if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1])
          least = Math.min(least, d[i - 2]![j - 2]! + 1);
        d[i]![j] = least;
      }
    }
    return d[a.length]![b.length]!;
  };
  expect([matrix('kitten', 'sitting'), matrix('ca', 'abc'), matrix('boat', 'baot')]).toEqual([3, 3, 1]); // Wagner and Fischer's example; the case that tells alignment from the unrestricted distance
  const letters = fc.string({ unit: fc.constantFrom('a', 'b', 'c', 'ð'), maxLength: 9 });
  let near = 0;
  fc.assert(
    fc.property(letters, letters, fc.nat(6), (a, b, most) => {
      const exact = matrix(a, b);
      expect(editDistance(a, b, most)).toBe(Math.min(exact, most + 1));
      if (exact <= most) near += 1;
    }),
    { numRuns: 5000 },
  );
  expect(near).toBeGreaterThan(1000);
});

describe('colours', () => {
  // Sharma, Wu and Dalal, "The CIEDE2000 Color-Difference Formula", Color Research and Application 30 (2005), table 1;
  // from memory
  const PAIRS: [number, number, number, number, number, number, number][] = [
    [50, 2.6772, -79.7751, 50, 0, -82.7485, 2.0425],
    [50, 3.1571, -77.2803, 50, 0, -82.7485, 2.8615],
    [50, 2.8361, -74.02, 50, 0, -82.7485, 3.4412],
    [50, -1.3802, -84.2814, 50, 0, -82.7485, 1],
    [50, -1.1848, -84.8006, 50, 0, -82.7485, 1],
    [50, -0.9009, -85.5211, 50, 0, -82.7485, 1],
    [50, 0, 0, 50, -1, 2, 2.3669],
    [50, -1, 2, 50, 0, 0, 2.3669],
    [50, 2.49, -0.001, 50, -2.49, 0.0009, 7.1792],
    [50, 2.49, -0.001, 50, -2.49, 0.001, 7.1792],
    [50, 2.49, -0.001, 50, -2.49, 0.0011, 7.2195],
    [50, 2.49, -0.001, 50, -2.49, 0.0012, 7.2195],
    [50, -0.001, 2.49, 50, 0.0009, -2.49, 4.8045],
    [50, -0.001, 2.49, 50, 0.001, -2.49, 4.8045],
    [50, -0.001, 2.49, 50, 0.0011, -2.49, 4.7461],
    [50, 2.5, 0, 50, 0, -2.5, 4.3065],
    [50, 2.5, 0, 73, 25, -18, 27.1492],
    [50, 2.5, 0, 61, -5, 29, 22.8977],
    [50, 2.5, 0, 56, -27, -3, 31.903],
    [50, 2.5, 0, 58, 24, 15, 19.4535],
    [50, 2.5, 0, 50, 3.1736, 0.5854, 1],
    [50, 2.5, 0, 50, 3.2972, 0, 1],
    [50, 2.5, 0, 50, 1.8634, 0.5757, 1],
    [50, 2.5, 0, 50, 3.2592, 0.335, 1],
    [60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644],
    [63.0109, -31.0961, -5.8663, 62.8187, -29.7946, -4.0864, 1.263],
    [61.2901, 3.7196, -5.3901, 61.4292, 2.248, -4.962, 1.8731],
    [35.0831, -44.1164, 3.7933, 35.0232, -40.0716, 1.5901, 1.8645],
    [22.7233, 20.0904, -46.694, 23.0331, 14.973, -42.5619, 2.0373],
    [36.4612, 47.858, 18.3852, 36.2715, 50.5065, 21.2231, 1.4146],
    [90.8027, -2.0831, 1.441, 91.1528, -1.6435, 0.0447, 1.4441],
    [90.9257, -0.5406, -0.9208, 88.6381, -0.8985, -0.7239, 1.5381],
    [6.7747, -0.2908, -2.4247, 5.8714, -0.0985, -2.2286, 0.6377],
    [2.0776, 0.0795, -1.135, 0.9033, -0.0636, -0.5514, 0.9082],
  ];

  it.each(PAIRS)('CIEDE2000 of (%f, %f, %f) and (%f, %f, %f) is %f', (l1, a1, b1, l2, a2, b2, expected) => {
    expect(colourDifference([l1, a1, b1], [l2, a2, b2])).toBeCloseTo(expected, 4);
  });

  it('CIELAB of the sRGB primaries and white, for daylight (published values, from memory), and back', () => {
    for (const [rgb, lab] of [
      [
        [255, 255, 255],
        [100, 0, 0],
      ],
      [
        [255, 0, 0],
        [53.24, 80.09, 67.2],
      ],
      [
        [0, 255, 0],
        [87.73, -86.18, 83.18],
      ],
      [
        [0, 0, 255],
        [32.3, 79.19, -107.86],
      ],
    ] as const) {
      labOf(rgb[0], rgb[1], rgb[2]).forEach((part, at) =>
        expect(Math.abs(part - (lab[at] ?? 0)), `${rgb.join()} ${at}`).toBeLessThan(0.05),
      );
      expect(hexOfLab(labOf(rgb[0], rgb[1], rgb[2]))).toBe(
        `#${rgb.map((part) => part.toString(16).padStart(2, '0')).join('')}`,
      );
    }
  });

  it('a picture of known parts gives its colours by their shares, and they survive being packed', () => {
    const [width, height] = [100, 60];
    const data = new Uint8ClampedArray(width * height * 4).fill(255);
    const parts: [number, [number, number, number]][] = [
      [0, [179, 38, 30]],
      [60, [47, 95, 168]],
      [90, [242, 242, 240]],
    ];
    for (let at = 0; at < width * height; at++)
      data.set([...parts].reverse().find(([from]) => at % width >= from)?.[1] ?? [], at * 4);
    const colours = coloursOf({ data, width, height });
    expect(colours.map(({ share }) => share)).toEqual([60, 30, 10].map((share) => expect.closeTo(share, -0.5)));
    colours.forEach(({ lab }, at) =>
      expect(colourDifference(lab, labOf(...(parts[at]?.[1] ?? [0, 0, 0])))).toBeLessThan(1),
    );
    for (const colour of colours) expect(unpackColour(packColour(colour))).toEqual(colour);
  });

  it('the colour sharp takes for a picture’s dominant one is among ours, on pictures of the demo', async () => {
    let pictures = 0;
    for (const file of demoPictures()) {
      const { dominant } = await sharp(file).stats();
      const colours = coloursOf(await pixelsOf(sharp(file).resize(128, 128, { fit: 'inside' })));
      expect(
        Math.min(...colours.map(({ lab }) => colourDifference(lab, labOf(dominant.r, dominant.g, dominant.b)))),
        file,
      ).toBeLessThan(14);
      pictures += 1;
    }
    expect(pictures).toBeGreaterThan(25);
  });
});

const PICTURES = 'src/demo/pictures';
/** One frame of each shoot. */
const demoPictures = (): string[] =>
  readdirSync(PICTURES)
    .flatMap((drive) =>
      readdirSync(path.join(PICTURES, drive), { recursive: true, withFileTypes: true })
        .filter((entry) => entry.isFile() && /\.(jpe?g|webp|png)$/i.test(entry.name))
        .map((entry) => path.join(entry.parentPath, entry.name)),
    )
    .filter((_, at) => at % 7 === 0)
    .slice(0, 40);

async function pixelsOf(image: Sharp): Promise<{ width: number; height: number; data: Buffer }> {
  const { data, info } = await image.ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data };
}

describe('perceptual hashes against another implementation', () => {
  const TRANSFORMS: [string, (image: Sharp) => Sharp][] = [
    ['half the size', (image) => image.resize({ width: 160 })],
    ['strong compression', (image) => image.jpeg({ quality: 30 })],
    ['lighter', (image) => image.modulate({ brightness: 1.2 })],
    ['more contrast', (image) => image.linear(1.2, -20)],
    ['black and white', (image) => image.greyscale()],
    ['blurred', (image) => image.blur(1.5)],
    ['sharpened', (image) => image.sharpen({ sigma: 1.5 })],
  ];

  it('finds transformed pictures as often as sharp-phash does, and takes no more different ones for the same', async () => {
    const ours: { high: number; low: number }[] = [];
    const theirs: string[] = [];
    const found = { ours: 0, theirs: 0, of: 0 };
    const theirBits = (a: string, b: string) => [...a].filter((bit, at) => bit !== b[at]).length;
    for (const file of demoPictures()) {
      const [own, other] = [hashOf(await pixelsOf(sharp(file))), await phash(await sharp(file).png().toBuffer())];
      for (const [, transform] of TRANSFORMS) {
        const changed = await transform(sharp(file)).toBuffer();
        const hash = hashOf(await pixelsOf(sharp(changed)));
        found.of += 1;
        if (bitsApart(own.high, own.low, hash.high, hash.low) <= 10) found.ours += 1;
        if (theirBits(other, await phash(changed)) <= 10) found.theirs += 1;
      }
      ours.push(own);
      theirs.push(other);
    }
    const pairs = ours.flatMap((_, at) => ours.slice(at + 1).map((__, step) => [at, at + 1 + step] as const));
    const wrong = {
      ours: pairs.filter(([a, b]) => bitsApart(ours[a]!.high, ours[a]!.low, ours[b]!.high, ours[b]!.low) <= 10).length,
      theirs: pairs.filter(([a, b]) => theirBits(theirs[a]!, theirs[b]!) <= 10).length,
    };
    console.log(
      `looks within 10 of 64 bits: ${found.ours} of ${found.of} transformed pictures found (sharp-phash ${found.theirs}); ${wrong.ours} of ${pairs.length} pairs of other pictures taken for alike (sharp-phash ${wrong.theirs})`,
    );
    expect(found.of).toBeGreaterThan(200);
    expect(found.ours / found.of).toBeGreaterThan(0.97);
    expect(found.ours).toBeGreaterThanOrEqual(found.theirs - 2);
    expect(wrong.ours).toBeLessThanOrEqual(wrong.theirs + 2);
  });

  it('groups are those of comparing every two', () => {
    const random = fc.sample(
      fc.tuple(fc.integer({ min: 0, max: 0xffffffff }), fc.integer({ min: 0, max: 0xffffffff })),
      { numRuns: 120, seed: 3 },
    );
    const flips = fc.sample(fc.uniqueArray(fc.nat(63), { maxLength: 9 }), { numRuns: 480, seed: 4 });
    // each with four relatives, a few bits away
    const all = random.flatMap(([high, low], at) => [
      [high, low] as const,
      ...flips
        .slice(at * 4, at * 4 + 4)
        .map(
          (bits) =>
            [
              bits.filter((bit) => bit < 32).reduce((word, bit) => (word ^ (1 << bit)) >>> 0, high),
              bits.filter((bit) => bit >= 32).reduce((word, bit) => (word ^ (1 << (bit - 32))) >>> 0, low),
            ] as const,
        ),
    ]);
    const hashes = { high: all.map(([high]) => high), low: all.map(([, low]) => low) };
    for (const bits of [0, 3, 6, 8, 12]) {
      const leader = all.map((_, at) => at);
      const lead = (at: number): number => (leader[at] === at ? at : lead(leader[at]!));
      all.forEach(([high, low], a) =>
        all
          .slice(0, a)
          .forEach(
            ([otherHigh, otherLow], b) =>
              bitsApart(high, low, otherHigh, otherLow) <= bits && (leader[lead(a)] = lead(b)),
          ),
      );
      const groups = new Map<number, number[]>();
      all.forEach((_, at) => groups.set(lead(at), [...(groups.get(lead(at)) ?? []), at]));
      const expected = [...groups.values()]
        .filter((group) => group.length > 1)
        .map((group) => group.join())
        .sort();
      expect(
        groupsAlike(hashes, all.length, bits)
          .map((group) => group.join())
          .sort(),
      ).toEqual(expected);
      if (bits === 8) expect(expected.length).toBeGreaterThan(60);
    }
  });
});
