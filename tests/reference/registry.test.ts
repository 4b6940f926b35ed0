// The field registry against the tag tables that ExifTool prints (`exiftool -listx -s -f`) and against what exiv2 makes
// of each property: every XMP property and member by name and form, every IIM dataset by number, byte limit and
// repeatability, every EXIF tag by name.

import { execFileSync, spawnSync } from 'node:child_process';
import { copyFileSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { GPS_TAG_NAMES, TAG_NAMES } from '@/core/formats/tiff/exif-names';
import { WRITTEN_FIELDS, type FieldRow } from '@/core/fields/registry';
import type { Shape } from '@/core/fields/shape';
import { STRUCTURES } from '@/core/fields/structures';
import { type Attributes, capital, iimTag, tables, xmpTag } from './exiftool';

const named = (rows: readonly FieldRow[]) => rows.map((row) => [row.key, row] as const);
const flagsOf = (tag: Attributes | undefined) => (tag?.flags ?? '').split(',');

/**
 * Of a top property or of a member; a member of a list of structures is always flagged List, so only Bag and Seq tell
 * there.
 */
function formOf(tag: Attributes | undefined): string {
  const flags = flagsOf(tag);
  return tag?.type === 'lang-alt' ? 'alt' : flags.includes('Bag') ? 'bag' : flags.includes('Seq') ? 'seq' : 'single';
}

/** ExifTool 12.57 is a few months older than this property (IPTC Photo Metadata Standard 2023.1). */
const NOT_LISTED = new Set<string>(['dataMining']);

describe('the field registry', () => {
  it.each(named(WRITTEN_FIELDS))('%s is the XMP property ExifTool knows, in the same form', (_, row) => {
    const tag = xmpTag(row);
    if (tag === undefined && NOT_LISTED.has(row.key)) return;
    expect(tag, `${row.xmp.prefix}:${row.xmp.name}`).toBeDefined();
    expect(formOf(tag)).toBe(row.form);
    expect(tag?.type === 'struct').toBe(row.value === 'structure');
  });

  it('the members of its structures are those ExifTool knows, in the same form', () => {
    let compared = 0;
    const walk = (row: FieldRow, shape: Shape, below: string) => {
      for (const member of shape.structure === undefined ? [] : STRUCTURES[shape.structure]) {
        const path = below + capital(member.xmp.name);
        const tag = xmpTag(row, path);
        if (path === 'GPSAltitudeRef') continue; // in the standard; not in this ExifTool
        expect(tag, `${row.key} ${path}`).toBeDefined();
        expect(formOf(tag), `${row.key} ${path}`).toBe(member.form);
        compared += 1;
        walk(row, member, path);
      }
    };
    for (const row of WRITTEN_FIELDS)
      if (row.structure !== undefined && xmpTag(row) && row.key !== 'keywordTree') walk(row, row, '');
    expect(compared).toBeGreaterThan(100);
  });

  it.each(named(WRITTEN_FIELDS.filter(({ iim }) => iim)))(
    '%s is the IIM dataset ExifTool knows, with its limit and repeatability',
    (_, { iim }) => {
      const tag = iimTag(iim?.dataset ?? 0);
      expect(Number(tag?.count?.split(',').at(-1))).toBe(iim?.maxBytes);
      expect(flagsOf(tag).includes('List')).toBe(iim?.repeatable);
    },
  );

  it.each(named(WRITTEN_FIELDS.filter(({ exif }) => exif)))(
    '%s is an EXIF tag by the name the standard gives it',
    (_, row) => {
      const names = {
        caption: 'ImageDescription',
        creator: 'Artist',
        copyrightNotice: 'Copyright',
        captured: 'DateTimeOriginal',
        digitised: 'DateTimeDigitized',
        userComment: 'UserComment',
        cameraOwner: 'CameraOwnerName',
      };
      expect(TAG_NAMES[row.exif?.tag ?? 0]).toBe(names[row.key as keyof typeof names]);
    },
  );

  it('has each property, dataset, tag and search name in one row only', () => {
    for (const of of [
      (row: FieldRow) => `${row.xmp.prefix}:${row.xmp.name}`,
      (row: FieldRow) => row.searchName,
      (row: FieldRow) => row.key,
    ]) {
      const all = WRITTEN_FIELDS.map(of);
      expect(all.filter((name, index) => all.indexOf(name) !== index)).toEqual([]);
    }
    const datasets = WRITTEN_FIELDS.flatMap(({ iim }) => (iim ? [iim.dataset] : []));
    expect(new Set(datasets).size).toBe(datasets.length);
  });
});

describe('the names of tags', () => {
  it('are those of exiv2, which uses the standards’ own', async () => {
    const folder = mkdtempSync(path.join(tmpdir(), 'wembo-tags-'));
    const file = path.join(folder, 'x.jpg');
    writeFileSync(
      file,
      await sharp({ create: { width: 8, height: 8, channels: 3, background: '#345' } })
        .jpeg()
        .toBuffer(),
    );
    const one = path.join(folder, 'one.jpg');
    // exiv2 refuses a name it does not know
    const known = (key: string) => {
      copyFileSync(file, one);
      return (
        spawnSync('exiv2', ['-M', `set ${key} Ascii x`, one], { encoding: 'utf8' }).stderr.includes('Invalid') === false
      );
    };
    expect(known('Exif.Image.NoSuchTag')).toBe(false);
    const wrong = Object.entries(TAG_NAMES)
      .filter(([, name]) => !known(`Exif.Image.${name}`) && !known(`Exif.Photo.${name}`))
      .map(([, name]) => name);
    const wrongGps = Object.values(GPS_TAG_NAMES).filter((name) => !known(`Exif.GPSInfo.${name}`));
    expect([...wrong, ...wrongGps]).toEqual([]);
  });

  it('ExifTool knows the same numbers, but for those of whole blocks and directories, which it lists elsewhere', () => {
    const ids = new Set(tables.get('Exif::Main')?.map(({ id }) => id));
    const blocks = [0x8649, 0x8769, 0x8773, 0x8825, 0xa005];
    expect(
      Object.keys(TAG_NAMES)
        .filter((id) => !ids.has(id))
        .map(Number),
    ).toEqual(blocks);
  });
});

describe('exiv2’s own tables', () => {
  it('give each property the form it has here, and let exactly the repeatable datasets repeat', async () => {
    const folder = mkdtempSync(path.join(tmpdir(), 'wembo-exiv2-'));
    const file = path.join(folder, 'x.jpg');
    writeFileSync(
      file,
      await sharp({ create: { width: 8, height: 8, channels: 3, background: '#345' } })
        .jpeg()
        .toBuffer(),
    );
    const prefix = { Iptc4xmpCore: 'iptc', Iptc4xmpExt: 'iptcExt' } as Record<string, string>;
    const plain = WRITTEN_FIELDS.filter(
      ({ structure, xmp }) => structure === undefined && !['exif', 'exifEX'].includes(xmp.prefix),
    );
    const keyOf = ({ xmp }: FieldRow) => `Xmp.${prefix[xmp.prefix] ?? xmp.prefix}.${xmp.name}`;
    execFileSync('exiv2', [...plain.flatMap((row) => ['-M', `set ${keyOf(row)} 2019`]), file], { stdio: 'pipe' });
    const types = new Map(
      execFileSync('exiv2', ['-PXky', file], { encoding: 'utf8' })
        .split('\n')
        .flatMap((line) => {
          const [key, type] = line.split(/\s+/);
          return key && type ? [[key, type] as const] : [];
        }),
    );
    const forms: Record<string, string> = { XmpText: 'single', LangAlt: 'alt', XmpBag: 'bag', XmpSeq: 'seq' };
    const differing = plain.filter((row) => forms[types.get(keyOf(row)) ?? ''] !== row.form).map(({ key }) => key);
    expect(differing).toEqual(EXIV2_DIFFERS);

    let compared = 0;
    for (const { key, iim } of WRITTEN_FIELDS) {
      if (!iim) continue;
      const number = `0x${iim.dataset.toString(16).padStart(4, '0')}`;
      const twice = path.join(folder, `${key}.jpg`);
      writeFileSync(
        twice,
        await sharp({ create: { width: 8, height: 8, channels: 3, background: '#345' } })
          .jpeg()
          .toBuffer(),
      );
      const value = iim.notation === 'date' ? '2019-07-04' : '1';
      spawnSync('exiv2', [
        '-M',
        `add Iptc.Application2.${number} ${value}`,
        '-M',
        `add Iptc.Application2.${number} ${value}`,
        twice,
      ]);
      const times = execFileSync('exiv2', ['-PIx', twice], { encoding: 'utf8' })
        .split('\n')
        .filter((line) => line.trim() === number).length;
      expect(times, key).toBeGreaterThan(0);
      expect(times === 2, key).toBe(iim.repeatable);
      compared += 1;
    }
    expect(compared).toBe(WRITTEN_FIELDS.filter(({ iim }) => iim).length);
  });
});

/** exiv2 0.27 is older than the first two of these, and takes all three, unknown to it, for plain text. */
const EXIV2_DIFFERS = ['altText', 'extendedDescription', 'eventId'];
