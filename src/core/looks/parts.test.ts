import { expect, it } from 'vitest';
import { SLIDERS } from './corrections';
import { PARTS, withParts } from './parts';

it('every correction belongs to one part', () => {
  const members = PARTS.flatMap((part) => part.members);
  expect(new Set(members).size).toBe(members.length);
  expect([...members].sort()).toEqual(
    [...SLIDERS.map(({ key }) => key), 'blackAndWhite', 'turns', 'mirrored', 'crop'].sort(),
  );
});

it('the chosen parts are taken over, also what they do not say, and the others stay', () => {
  const crop = { left: 0.1, top: 0, width: 0.5, height: 1 };
  const to = { exposure: 1, contrast: 40, shadows: 10, crop };
  expect(withParts(to, { exposure: -1, contrast: 5, blackAndWhite: true }, new Set(['tone', 'colour']))).toEqual({
    exposure: 1,
    contrast: 5,
    blackAndWhite: true,
    crop,
  });
  expect(withParts(to, {}, new Set(PARTS.map(({ name }) => name)))).toEqual({});
});
