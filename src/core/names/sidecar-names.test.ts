import { describe, expect, it } from 'vitest';
import { chooseSidecars } from './sidecar-names';

const choose = (photos: string[], sidecars: string[], says: Record<string, string> = {}) =>
  Object.fromEntries(chooseSidecars(photos, sidecars, (name) => says[name] ?? null));

describe('which sidecar belongs to which photo', () => {
  it('a photo alone has NAME.xmp', () => {
    expect(choose(['A.jpg'], [])).toEqual({ 'A.jpg': { existing: null, target: 'A.xmp' } });
    expect(choose(['A.jpg'], ['a.XMP'])).toEqual({ 'A.jpg': { existing: 'a.XMP', target: 'a.XMP' } });
  });

  it('of two with one base name the raw has NAME.xmp, the other NAME.EXT.xmp', () => {
    expect(choose(['A.jpg', 'A.dng'], [])).toEqual({
      'A.jpg': { existing: null, target: 'A.jpg.xmp' },
      'A.dng': { existing: null, target: 'A.xmp' },
    });
    expect(choose(['A.jpg', 'A.dng'], ['A.xmp', 'A.jpg.xmp'])).toMatchObject({
      'A.jpg': { existing: 'A.jpg.xmp' },
      'A.dng': { existing: 'A.xmp' },
    });
  });

  it('a sidecar that says whose it is stays with that photo when another comes', () => {
    expect(choose(['A.jpg', 'A.dng'], ['A.xmp'], { 'A.xmp': 'jpg' })).toEqual({
      'A.jpg': { existing: 'A.xmp', target: 'A.xmp' },
      'A.dng': { existing: null, target: 'A.dng.xmp' },
    });
  });

  it('a sidecar for a file that is gone is nobody’s', () => {
    expect(choose(['A.jpg'], ['A.xmp'], { 'A.xmp': 'dng' })).toEqual({
      'A.jpg': { existing: null, target: 'A.jpg.xmp' },
    });
  });

  it('takes names with blanks, ð, emoji and leading dots as they are', () => {
    expect(choose(['.ð 🐑.jpg', 'no ending'], ['.ð 🐑.xmp'])).toEqual({
      '.ð 🐑.jpg': { existing: '.ð 🐑.xmp', target: '.ð 🐑.xmp' },
      'no ending': { existing: null, target: 'no ending.xmp' },
    });
  });
});

it('on a drive that tells names by their case each photo keeps the sidecar that is spelt as it is', () => {
  const at = (name: string) => ({ existing: name, target: name });
  expect(choose(['B2.jpg', 'b2.jpg'], ['b2.xmp'])).toEqual({
    'b2.jpg': at('b2.xmp'),
    'B2.jpg': { existing: null, target: 'B2.jpg.xmp' },
  });
  expect(choose(['B2.jpg', 'b2.jpg'], ['b2.xmp', 'B2.xmp'])).toEqual({
    'b2.jpg': at('b2.xmp'),
    'B2.jpg': at('B2.xmp'),
  });
  expect(choose(['B2.jpg', 'b2.jpg'], ['b2.jpg.xmp', 'B2.jpg.xmp'])).toEqual({
    'b2.jpg': at('b2.jpg.xmp'),
    'B2.jpg': at('B2.jpg.xmp'),
  });
});
