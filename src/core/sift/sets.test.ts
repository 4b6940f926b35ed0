import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ALONE, type Member, type Shot, findSets, panoramaQuestions } from './sets';

const SHOT: Shot = {
  body: 'K4 1',
  at: 0,
  fraction: false,
  seconds: 1 / 250,
  fNumber: 8,
  iso: 100,
  focalMm: 35,
  biasEv: 0,
  stems: [],
  raw: false,
  given: null,
  overlaps: {},
};
let number = 0;
const member = (id: string, shot: Partial<Shot> = {}): Member => ({
  id,
  name: `F_${String(++number).padStart(4, '0')}.jpg`,
  shot: { ...SHOT, stems: [`s/${id}`], ...shot },
});
const found = (...members: Member[]) =>
  findSets(members).map(({ kind, members: of }) => [kind, of.map(({ id }) => id).join(' ')]);

const kinds = (...members: Member[]) => findSets(members).map(({ kind }) => kind);

/** Exposure times of −2, 0 and +2 stops: three exposures one or two stops apart are common practice. */
const BRACKET = [1 / 1000, 1 / 250, 1 / 60];
const bracket = (prefix: string, at: number, more: Partial<Shot> = {}) =>
  BRACKET.map((seconds, step) =>
    member(`${prefix}${step + 1}`, { at: at + step, seconds, biasEv: (step - 1) * 2, ...more }),
  );

describe('brackets', () => {
  it('are three and more frames within seconds, each exposed differently', () => {
    expect(found(...bracket('a', 10))).toEqual([['bracket', 'a1 a2 a3']]);
    expect(found(...bracket('a', 10).slice(0, 2))).toEqual([]);
    expect(found(...bracket('a', 10, { biasEv: null }))).toEqual([['bracket', 'a1 a2 a3']]); // the shutter says it
    expect(found(...BRACKET.map((_, step) => member(`c${step}`, { at: step, biasEv: step - 1 })))).toEqual([
      ['bracket', 'c0 c1 c2'],
    ]); // the camera says it
  });

  it('fired one after the other are two', () => {
    expect(found(...bracket('a', 10), ...bracket('b', 13))).toEqual([
      ['bracket', 'a1 a2 a3'],
      ['bracket', 'b1 b2 b3'],
    ]);
  });

  it('need one focal length, one aperture or speed, one camera, and no pause', () => {
    expect(
      kinds(...bracket('a', 10).map((one, index) => ({ ...one, shot: { ...one.shot, focalMm: 35 + index * 10 } }))),
    ).not.toContain('bracket');
    expect(
      kinds(...bracket('a', 10).map((one, index) => ({ ...one, shot: { ...one.shot, fNumber: 4 + index } }))),
    ).not.toContain('bracket');
    expect(
      kinds(...bracket('a', 10).map((one, index) => ({ ...one, shot: { ...one.shot, body: `K4 ${index}` } }))),
    ).not.toContain('bracket');
    expect(
      kinds(...bracket('a', 10).map((one, index) => ({ ...one, shot: { ...one.shot, at: 10 + index * 60 } }))),
    ).not.toContain('bracket');
  });

  it('a long exposure is no pause: the gap counts from its end', () => {
    expect(
      found(
        member('n1', { at: 0, seconds: 8, biasEv: -1 }),
        member('n2', { at: 9, seconds: 15, biasEv: 0 }),
        member('n3', { at: 25, seconds: 30, biasEv: 1 }),
      ),
    ).toEqual([['bracket', 'n1 n2 n3']]);
  });

  it('are taken in clock order, however they come in', () => {
    expect(found(...bracket('a', 10).reverse())).toEqual([['bracket', 'a1 a2 a3']]);
  });
});

describe('bursts', () => {
  it('are frames about a second apart at most; two alone where the clock leaves no doubt', () => {
    expect(found(...[0, 0, 0, 1].map((at, index) => member(`m${index}`, { at })))).toEqual([['burst', 'm0 m1 m2 m3']]);
    expect(found(...[0, 0].map((at, index) => member(`m${index}`, { at })))).toEqual([['burst', 'm0 m1']]);
    expect(
      found(...['F_0001.jpg', 'F_0001 web.jpg', 'F_0001 print 2.jpg'].map((name) => ({ ...member(name), name }))),
    ).toEqual([]); // versions of one frame
    expect(found(...[0, 1].map((at, index) => member(`m${index}`, { at })))).toEqual([]);
    expect(found(...[0, 9, 18].map((at, index) => member(`near${index}`, { at })))).toEqual([]);
  });

  it('a clock with fractions is taken at its word', () => {
    expect(found(...[0.9, 1.2, 1.5].map((at, index) => member(`m${index}`, { at, fraction: true })))).toHaveLength(1);
    expect(found(...[0.0, 1.4, 2.8].map((at, index) => member(`m${index}`, { at, fraction: true })))).toEqual([]);
  });
});

describe('panoramas', () => {
  const frames = (overlaps: boolean[] | null, more: Partial<Shot> = {}) =>
    ['p1', 'p2', 'p3', 'p4'].map((id, index, ids) =>
      member(id, {
        at: index * 4,
        overlaps: overlaps && ids[index + 1] ? { [ids[index + 1] as string]: overlaps[index] === true } : {},
        ...more,
      }),
    );

  it('are frames of one exposure whose pictures overlap; until that is known they are asked about', () => {
    expect(found(...frames([true, true, true]))).toEqual([['panorama', 'p1 p2 p3 p4']]);
    expect(found(...frames(null))).toEqual([]);
    expect(panoramaQuestions(frames(null)).map(([a, b]) => `${a.id} ${b.id}`)).toEqual(['p1 p2', 'p2 p3', 'p3 p4']);
    expect(panoramaQuestions(frames([true, true, true]))).toEqual([]);
  });

  it('end where a frame does not overlap, and are no question where exposure, focal length or time forbid them', () => {
    expect(found(...frames([true, false, true]))).toEqual([]);
    expect(found(...frames([true, true, false]))).toEqual([['panorama', 'p1 p2 p3']]);
    expect(panoramaQuestions(['a', 'b', 'c'].map((id, index) => member(id, { at: index * 60 })))).toEqual([]);
    expect(
      panoramaQuestions(['a', 'b', 'c'].map((id, index) => member(id, { at: index * 4, focalMm: 35 + index * 5 }))),
    ).toEqual([]);
    expect(
      panoramaQuestions(['a', 'b', 'c'].map((id, index) => member(id, { at: index * 4, iso: 100 * 2 ** index }))),
    ).toEqual([]);
  });
});

describe('a raw and its companion', () => {
  const pair = (id: string, shot: Partial<Shot>) => [
    member(`${id}.dng`, { ...shot, stems: [`s/${id}`], raw: true }),
    member(`${id}.jpg`, { ...shot, stems: [`s/${id}`] }),
  ];

  it('are a set of two, and one frame of a greater set', () => {
    expect(found(...pair('r', { at: 5 }))).toEqual([['companion', 'r.dng r.jpg']]);
    const bracketed = BRACKET.flatMap((seconds, step) => pair(`b${step}`, { at: step, seconds }));
    expect(found(...bracketed)).toEqual([['bracket', 'b0.dng b0.jpg b1.dng b1.jpg b2.dng b2.jpg']]);
  });

  it('two pictures of one base name are none: neither is a raw', () => {
    expect(
      found(
        { ...member('a.jpg', { stems: ['s/a'] }), name: 'a_0001.jpg' },
        { ...member('a.png', { stems: ['s/a'] }), name: 'a_0001.png' },
      ),
    ).toEqual([]);
    expect(
      found(
        { ...member('a.dng', { stems: ['one/a'], raw: true }), name: 'a_0001.dng' },
        { ...member('a.jpg', { stems: ['other/a'] }), name: 'a_0001.jpg' },
      ),
    ).toEqual([]); // another folder
  });
});

describe('by hand', () => {
  it('frames put together are a set, frames taken out are in none, and the rest is found as before', () => {
    const [a, b, c] = bracket('a', 10);
    const out = { ...c, shot: { ...c?.shot, given: ALONE } } as Member;
    expect(found(a as Member, b as Member, out)).toEqual([]);
    expect(
      found(member('x', { at: 500, given: 'k' }), member('y', { at: 5, given: 'k' }), member('z', { given: 'alone' })),
    ).toEqual([['chosen', 'y x']]);
    expect(found(member('x', { given: 'k' }))).toEqual([]); // the others are gone
  });
});

it('no photo is in two sets, no set is lost in another order, and undated photos are in none', () => {
  const shot = fc.record({
    at: fc.option(fc.integer({ min: 0, max: 40 })),
    seconds: fc.constantFrom(1 / 250, 1 / 60, 1),
    biasEv: fc.constantFrom(null, -1, 0, 1),
    body: fc.constantFrom('one', 'other'),
    raw: fc.boolean(),
    given: fc.constantFrom(null, null, null, 'k', ALONE),
  });
  let sets = 0;
  fc.assert(
    fc.property(fc.array(shot, { maxLength: 30 }), fc.integer({ min: 0, max: 29 }), (shots, turn) => {
      const members = shots.map((one, index) => ({
        id: String(index),
        name: `F_${String(index).padStart(3, '0')}`,
        shot: { ...SHOT, stems: [`s/${Math.floor(index / 2)}`], ...one },
      }));
      const result = findSets(members);
      const ids = result.flatMap(({ members: of }) => of.map(({ id }) => id));
      expect(new Set(ids).size).toBe(ids.length);
      for (const { members: of } of result) expect(of.length).toBeGreaterThan(1);
      const turned = findSets([...members.slice(turn), ...members.slice(0, turn)]);
      const named = (of: typeof result) =>
        of
          .map(
            ({ kind, members: inside }) =>
              `${kind} ${inside
                .map(({ id }) => Number(id))
                .sort((a, b) => a - b)
                .join()}`,
          )
          .sort();
      expect(named(turned)).toEqual(named(result));
      sets += result.length;
    }),
    { numRuns: 400 },
  );
  expect(sets).toBeGreaterThan(50);
});
