// Versions and merging, held against plain models: a history that remembers every change it ever saw, and a three-way
// merge by the book.

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { FieldKey, FieldValues } from './registry';
import { sameValue } from './values';
import { positionText } from '../geo/position';
import { foundWords, parseSidecar, planSidecar } from '../metadata/xmp/sidecar';
import { type Base, type FoundWords, type Versions, type Words, mergeWords, wordsBegunWith } from './merge';
import { fnv1a, valueMark } from './value-mark';
import {
  NO_VERSION,
  type Version,
  bumped,
  compareVersions,
  isVersion,
  joinedVersion,
  weightOf,
  writerOf,
} from './version';

const KEYS = ['headline', 'city', 'keywords'] as const satisfies readonly FieldKey[];
const NOWHERE: Base = { fields: {}, isMet: false };
const found = (fields: FieldValues, versions: Versions = {}, foreign: FieldKey[] = []): FoundWords => ({
  fields,
  versions,
  foreign: new Set(foreign),
});

describe('versions', () => {
  it('are as a vector of counts: later is what has seen all of the other (Parker et al. 1983)', () => {
    const one = bumped(NO_VERSION, 'a');
    const two = bumped(one, 'b');
    expect([one, two, bumped(two, 'a')]).toEqual(['a:1', 'b:1 a:1', 'a:2 b:1']);
    expect([
      compareVersions(one, two),
      compareVersions(two, one),
      compareVersions(two, two),
      compareVersions(bumped(one, 'a'), two),
    ]).toEqual(['before', 'after', 'same', 'apart']);
    expect([writerOf(two), writerOf(NO_VERSION), weightOf(two)]).toEqual(['b', null, 2]);
    expect(['a:1 b:2', '*:3', ''].map(isVersion)).toEqual([true, true, true]);
    expect(['a', 'a:0', 'a:1 ', 'A b:1', `a:${'9'.repeat(30)}`].map(isVersion)).toEqual([
      false,
      false,
      false,
      false,
      false,
    ]);
  });

  it('say of any two states what a memory of every change says', () => {
    const step = fc.record({ at: fc.nat(2), how: fc.oneof(fc.constant('change' as const), fc.nat(2)) });
    fc.assert(
      fc.property(fc.array(step, { maxLength: 30 }), (steps) => {
        const sides = [0, 1, 2].map(() => ({ version: NO_VERSION as Version, seen: new Set<number>() }));
        let number = 0;
        for (const { at, how } of steps) {
          const side = sides[at]!;
          if (how === 'change')
            Object.assign(side, {
              version: bumped(side.version, `c${at}`),
              seen: new Set(side.seen).add((number += 1)),
            });
          else
            Object.assign(side, {
              version: joinedVersion(side.version, sides[how]!.version),
              seen: new Set([...side.seen, ...sides[how]!.seen]),
            });
        }
        for (const a of sides) {
          for (const b of sides) {
            const [lacks, has] = [
              [...b.seen].some((one) => !a.seen.has(one)),
              [...a.seen].some((one) => !b.seen.has(one)),
            ];
            expect(compareVersions(a.version, b.version)).toBe(
              lacks ? (has ? 'apart' : 'before') : has ? 'after' : 'same',
            );
          }
        }
      }),
    );
  });

  it('are joined the same in any order and grouping, and again without effect', () => {
    const version = fc.dictionary(fc.constantFrom('a', 'b', 'c'), fc.integer({ min: 1, max: 3 })).map((counts) =>
      Object.entries(counts)
        .map(([by, count]) => `${by}:${count}`)
        .join(' '),
    );
    const same = (a: Version, b: Version) => expect(compareVersions(a, b)).toBe('same');
    fc.assert(
      fc.property(version, version, version, (a, b, c) => {
        same(joinedVersion(a, b), joinedVersion(b, a));
        same(joinedVersion(joinedVersion(a, b), c), joinedVersion(a, joinedVersion(b, c)));
        same(joinedVersion(a, a), a);
      }),
    );
  });
});

describe('the mark of a value', () => {
  it('is FNV-1a of 32 bits (test vectors of RFC 9923, from memory)', () => {
    const of = (text: string) => fnv1a(new TextEncoder().encode(text)).toString(16).padStart(8, '0');
    expect(['', 'a', 'foobar'].map(of)).toEqual(['811c9dc5', 'e40c292c', 'bf9cf968']);
  });

  it('is one for values that say the same, whatever the order of a structure’s members', () => {
    expect(valueMark({ city: 'Gjógv', country: 'Faroe' })).toBe(valueMark({ country: 'Faroe', city: 'Gjógv' }));
    expect(
      new Set([valueMark('1'), valueMark(1), valueMark(['1']), valueMark(undefined), valueMark(''), valueMark(true)])
        .size,
    ).toBe(6);
  });
});

describe('what another program wrote where no version stands', () => {
  it.each([
    ['only we changed it', { city: 'a' }, { city: 'b' }, { city: 'a' }, [], []],
    ['only they changed it', { city: 'a' }, { city: 'a' }, { city: 'b' }, ['city'], []],
    ['both, to the same', { city: 'a' }, { city: 'b' }, { city: 'b' }, [], []],
    ['both, differently', { city: 'a' }, { city: 'b' }, { city: 'c' }, [], ['city']],
    ['they cleared what we changed', { city: 'a' }, { city: 'b' }, {}, [], ['city']],
  ] as const)('%s', (_, base, ours, theirs, take, conflicts) => {
    expect(mergeWords({ fields: base, isMet: true }, { fields: ours, versions: {} }, found(theirs))).toMatchObject({
      take,
      conflicts,
    });
  });

  it('never overrules a field that was changed here, when it was never met before', () => {
    expect(mergeWords(NOWHERE, { fields: {}, versions: { city: 'a:2' } }, found({ city: 'old' }))).toMatchObject({
      take: [],
      conflicts: ['city'],
    });
    expect(
      mergeWords(
        { fields: { city: 'b' }, isMet: false },
        { fields: { city: 'b' }, versions: { city: 'a:2' } },
        found({ city: 'old' }),
      ),
    ).toMatchObject({ conflicts: ['city'] });
  });
});

describe('what bears a version', () => {
  it.each([
    ['later than ours', 'a:1', 'b:1 a:1', [], 'theirs'],
    ['behind ours: a cleared field stays cleared', 'a:2', 'a:1', [], 'ours'],
    ['apart', 'a:1', 'b:1', [], 'nobody'],
    ['of which ours was never changed here', '', 'b:1', [], 'theirs'],
    ['and was written over by another program, after what we have', 'a:1', 'a:1', ['city'], 'theirs'],
    ['and was written over by another program, after something later', 'a:1', 'b:1 a:1', ['city'], 'theirs'],
    ['and was written over by another program, while we changed it too', 'a:2', 'a:1', ['city'], 'nobody'],
  ] as const)('%s', (_, ours, theirs, foreign, wins) => {
    const merge = mergeWords(
      NOWHERE,
      { fields: {}, versions: ours ? { city: ours } : {} },
      found({ city: 'theirs' }, { city: theirs }, [...foreign]),
    );
    expect(merge.take.length > 0 ? 'theirs' : merge.conflicts.length > 0 ? 'nobody' : 'ours').toBe(wins);
    if (wins !== 'ours')
      expect(compareVersions(merge.versions.city ?? '', ours)).toBe(wins === 'theirs' ? 'after' : 'same');
  });

  it('and was to be decided already stays so when it is met again, until one side has seen the other', () => {
    const open: Base = { fields: { city: 'theirs' }, isMet: true, open: new Set(['city']) };
    const ours: Words = { fields: { city: 'ours' }, versions: { city: 'a:2' } };
    expect(mergeWords(open, ours, found({ city: 'theirs' })).conflicts).toEqual(['city']);
    expect(mergeWords(open, ours, found({ city: 'theirs' }, { city: 'b:1 a:2' })).take).toEqual(['city']);
    expect(mergeWords(open, ours, found({ city: 'theirs' }, { city: 'a:1' }))).toMatchObject({
      take: [],
      conflicts: [],
    });
    expect(mergeWords(open, ours, found({ city: 'ours' }))).toMatchObject({ take: [], conflicts: [] });
  });

  it('taken over from another program, it has one version, whichever catalog meets it', () => {
    const foreign = found({ city: 'theirs' }, { city: 'a:1' }, ['city']);
    const begun = wordsBegunWith(foreign);
    expect(begun.versions.city).toBe('*:1 a:1');
    expect(mergeWords(NOWHERE, { fields: {}, versions: { city: 'a:1' } }, foreign).versions.city).toBe('*:1 a:1');
  });
});

// --- catalogs that change, write and read one photo's sidecars, in any order ---

const value = fc.option(fc.constantFrom<string | string[]>('x', 'y', 'z'), { nil: undefined });
const act = fc.oneof(
  fc.record({ kind: fc.constant('change' as const), who: fc.nat(2), key: fc.constantFrom(...KEYS), to: value }),
  fc.record({ kind: fc.constant('meet' as const), who: fc.nat(2), other: fc.nat(2) }),
);

interface Side extends Words {
  /** By field: every change this side has seen, and the one that left what stands there. */
  seen: Record<string, Set<number>>;
}

const asFound = ({ fields, versions }: Words): FoundWords => ({ fields, versions, foreign: new Set() });

describe('three catalogs', () => {
  it('merge as a memory of every change does: the later word holds, both are kept where neither has seen the other', () => {
    let conflicts = 0;
    fc.assert(
      fc.property(fc.array(act, { minLength: 5, maxLength: 40 }), (acts) => {
        const sides = [0, 1, 2].map((): Side => ({
          fields: {},
          versions: {},
          seen: { headline: new Set(), city: new Set(), keywords: new Set() },
        }));
        let number = 0;
        for (const one of acts) {
          const side = sides[one.who]!;
          if (one.kind === 'change') {
            const to = one.key === 'keywords' && one.to !== undefined ? [String(one.to)] : one.to;
            if (sameValue(side.fields[one.key], to)) continue;
            const { [one.key]: _, ...others } = side.fields;
            side.fields = { ...others, ...(to !== undefined && { [one.key]: to }) };
            side.versions = {
              ...side.versions,
              [one.key]: bumped(side.versions[one.key] ?? NO_VERSION, `c${one.who}`),
            };
            side.seen[one.key]!.add((number += 1));
            continue;
          }
          const other = sides[one.other]!;
          const merge = mergeWords(NOWHERE, side, asFound(other));
          for (const key of KEYS) {
            const [ours, theirs] = [side.seen[key]!, other.seen[key]!];
            const [isBehind, isAhead] = [
              [...theirs].some((change) => !ours.has(change)),
              [...ours].some((change) => !theirs.has(change)),
            ];
            const isSame = sameValue(side.fields[key], other.fields[key]);
            expect(merge.take.includes(key), key).toBe(!isSame && isBehind && !isAhead);
            expect(merge.conflicts.includes(key), key).toBe(!isSame && isBehind && isAhead);
            if (merge.conflicts.includes(key)) conflicts += 1;
            else for (const change of theirs) ours.add(change);
          }
          const taken = Object.fromEntries(merge.take.map((key) => [key, other.fields[key]]));
          side.fields = Object.fromEntries(
            Object.entries({ ...side.fields, ...taken }).filter(([, one]) => one !== undefined),
          );
          side.versions = merge.versions;
        }
      }),
    );
    expect(conflicts).toBeGreaterThan(20);
  });

  it('branched once, merge as three-way merging by the book: what one side changed holds, what both changed differently is a conflict', () => {
    const fields = fc
      .record({ headline: value, city: value }, { requiredKeys: [] })
      .map((one) => Object.fromEntries(Object.entries(one).filter(([, each]) => each !== undefined)) as FieldValues);
    fc.assert(
      fc.property(fields, fields, fields, (base, ours, theirs) => {
        const side = (to: FieldValues, by: string): Words => ({
          fields: to,
          versions: Object.fromEntries(
            KEYS.map((key) => [key, sameValue(base[key], to[key]) ? 'o:1' : bumped('o:1', by)]),
          ),
        });
        const { take, conflicts } = mergeWords(NOWHERE, side(ours, 'a'), asFound(side(theirs, 'b')));
        for (const key of KEYS) {
          const [isOurs, isTheirs, isSame] = [
            !sameValue(base[key], ours[key]),
            !sameValue(base[key], theirs[key]),
            sameValue(ours[key], theirs[key]),
          ];
          expect([take.includes(key), conflicts.includes(key)]).toEqual([
            isTheirs && !isOurs && !isSame,
            isTheirs && isOurs && !isSame,
          ]);
        }
      }),
    );
  });
});

describe('a sidecar', () => {
  const versions: Versions = { headline: 'a:2', city: 'b:1 a:1', position: 'a:1', keywords: 'a:3' };
  const fields: FieldValues = {
    headline: 'Slip & slipway',
    position: positionText({ lat: 62.32567, lon: -6.94472, altitudeM: null }),
    keywords: ['á', 'bátur'],
  };
  const bytesOf = (
    given: FieldValues,
    existing: Uint8Array<ArrayBuffer> | null = null,
    stamped: Versions = {},
    embedded: FieldValues = {},
  ) => {
    const plan = planSidecar({ existing, fields: given, versions: stamped, embedded, ending: 'jpg' });
    if (!('bytes' in plan)) throw new Error('must be written');
    return plan.bytes;
  };
  const read = (bytes: Uint8Array, embedded: FieldValues = {}) => {
    const parsed = parseSidecar(bytes);
    if (parsed.state !== 'read') throw new Error('must be read');
    return foundWords(embedded, parsed.value);
  };

  it('says what it says, cleared fields too, and with which version; again, it is not written', () => {
    const bytes = bytesOf(fields, null, versions, { city: 'Gjógv' });
    expect(read(bytes, { city: 'Gjógv' })).toEqual({ fields, versions, foreign: new Set() });
    expect(bytesOf(fields, bytes, versions, { city: 'Gjógv' })).toEqual(bytes);
  });

  it('says every position so that it is read as it was said: else a rebuild would meet two versions', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -90, max: 90, noNaN: true }),
        fc.double({ min: -180, max: 180, noNaN: true }),
        fc.option(fc.double({ min: -400, max: 9000, noNaN: true })),
        (lat, lon, altitudeM) => {
          const said: FieldValues = { position: positionText({ lat, lon, altitudeM }) };
          const merge = mergeWords(
            NOWHERE,
            { fields: said, versions: { position: 'a:1' } },
            read(bytesOf(said, null, { position: 'a:1' })),
          );
          expect(merge).toMatchObject({ take: [], conflicts: [] });
        },
      ),
    );
  });

  it('in which another program wrote says which fields it wrote, whatever it did to the rest', () => {
    const before = bytesOf(fields, null, versions);
    const after = bytesOf({ ...fields, headline: 'theirs', keywords: ['á', 'bátur'], source: 'theirs' }, before);
    expect(read(after)).toMatchObject({ versions, foreign: new Set(['headline']) });
    expect(read(after).fields).toMatchObject({ headline: 'theirs', source: 'theirs' });
  });

  it('keeps the lines of fields this version of Wembo does not know, and reads no version that is none', () => {
    const before = new TextDecoder()
      .decode(bytesOf(fields, null, { headline: 'a:1' }))
      .replace(
        /<rdf:li>headline [^<]*<\/rdf:li>/,
        (line) =>
          `${line}<rdf:li>futureField 00000000 a:1</rdf:li><rdf:li>city 00000000 nothing</rdf:li><rdf:li>headline</rdf:li>`,
      );
    const bytes = new TextEncoder().encode(before);
    expect(read(bytes).versions).toEqual({ headline: 'a:1' });
    expect(new TextDecoder().decode(bytesOf(fields, bytes, { headline: 'a:2' }))).toMatch(/futureField 00000000 a:1/);
  });
});
