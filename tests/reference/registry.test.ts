// The field registry against the tag tables that ExifTool prints (`exiftool -listx -s -f`): every XMP property by name
// and form, every IIM dataset by number, byte limit and repeatability.

import { execFileSync } from 'node:child_process';
import { beforeAll, describe, expect, it } from 'vitest';
import { MAIN } from '@/core/exif/exif-tags';
import { FIELDS, type FieldRow } from '@/core/fields/registry';

type Attributes = Record<string, string>;
const tables = new Map<string, Attributes[]>();

beforeAll(() => {
  const xml = execFileSync('exiftool', ['-listx', '-s', '-f'], { encoding: 'utf8', maxBuffer: 1 << 28 });
  const attributes = (text: string): Attributes => Object.fromEntries([...text.matchAll(/(\w+)='([^']*)'/g)].map(([, key, value]) => [key, value]));
  let current: Attributes[] = [];
  for (const line of xml.split('\n')) {
    if (line.startsWith('<table')) tables.set(attributes(line).name ?? '', (current = []));
    else if (line.startsWith(' <tag')) current.push(attributes(line));
  }
});

const TABLE = { dc: 'XMP::dc', photoshop: 'XMP::photoshop', xmp: 'XMP::xmp', Iptc4xmpCore: 'XMP::iptcCore' } as const;

const named = (rows: readonly FieldRow[]) => rows.map((row) => [row.key, row] as const);

describe('the field registry', () => {
  it.each(named(FIELDS))('%s is the XMP property ExifTool knows, in the same form', (_, row) => {
    const tag = tables.get(TABLE[row.xmp.prefix as keyof typeof TABLE])?.find(({ id }) => id === row.xmp.name);
    expect(tag, `${row.xmp.prefix}:${row.xmp.name}`).toBeDefined();
    const flags = (tag?.flags ?? '').split(',');
    const form = tag?.type === 'lang-alt' ? 'alt' : flags.includes('Bag') ? 'bag' : flags.includes('Seq') ? 'seq' : 'text';
    expect(form).toBe(row.xmp.form);
  });

  it.each(named(FIELDS.filter(({ iim }) => iim)))('%s is the IIM dataset ExifTool knows, with its limit and repeatability', (_, { iim }) => {
    const tag = tables.get('IPTC::ApplicationRecord')?.find(({ id }) => id === String(iim?.dataset));
    expect(Number(tag?.count?.split(',').at(-1))).toBe(iim?.maxBytes);
    expect((tag?.flags ?? '').split(',').includes('List')).toBe(iim?.repeatable);
  });

  it.each(named(FIELDS.filter(({ exifTag }) => exifTag)))('%s is the EXIF tag ExifTool knows', (_, row) => {
    const names = { [MAIN.imageDescription]: 'ImageDescription', [MAIN.artist]: 'Artist', [MAIN.copyright]: 'Copyright' };
    expect(tables.get('Exif::Main')?.some(({ id, name }) => id === String(row.exifTag) && name === names[row.exifTag as keyof typeof names])).toBe(true);
  });
});
