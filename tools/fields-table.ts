// The page of all fields, made from the registry: `npm run fields-page` writes it, a test holds it against the
// registry.

import { writeFileSync } from 'node:fs';
import { pathToFileURL } from 'node:url';
import { FIELDS, type FieldRow } from '../src/core/fields/registry';
import { STRUCTURES } from '../src/core/fields/structures';
import type { Shape } from '../src/core/fields/shape';

export const FIELDS_PAGE = 'docs/FIELDS.md';

const FORMS = { single: '', alt: 'language alternative (`x-default`)', bag: 'bag', seq: 'sequence' } as const;

const kindOf = (shape: Shape): string =>
  [FORMS[shape.form], shape.structure ? `structure *${shape.structure}*` : shape.value].filter(Boolean).join(' of ');

function iimOf({ iim }: FieldRow): string {
  if (!iim) return '';
  const notes = [
    `${iim.maxBytes} bytes`,
    iim.repeatable && 'repeatable',
    iim.padded && 'padded',
    iim.readOnly && 'read only',
    iim.time && `time in ${iim.time.record}:${iim.time.dataset}`,
    iim.notation === 'reference' && '`IPTC:code:::`',
    iim.notation === 'numbered' && '`NNN:words`',
  ];
  return `${iim.record}:${String(iim.dataset).padStart(2, '0')}, ${notes.filter(Boolean).join(', ')}`;
}

const hex = (tag: number) => `0x${tag.toString(16).padStart(4, '0')}`;

function exifOf({ exif }: FieldRow): string {
  if (!exif) return '';
  const beside = [exif.subSec, exif.offset].flatMap((tag) => (tag === undefined ? [] : [hex(tag)]));
  return `${hex(exif.tag)}${beside.length > 0 ? ` with ${beside.join(', ')}` : ''}`;
}

const xmpOf = ({ xmp: { prefix, name } }: Shape) => `${prefix}:${name}`;

export function fieldsPage(): string {
  const rows = FIELDS.map(
    (row) =>
      `| ${row.key} | ${row.label} | ${row.standardName} | ${[row, ...(row.xmpAlso ?? []).map((xmp) => ({ ...row, xmp }))].map(xmpOf).join(', else ')} | ${kindOf(row)} | ${iimOf(row)} | ${exifOf(row)} | ${row.searchName} |`,
  );
  const structures = Object.entries(STRUCTURES).map(
    ([name, members]) =>
      `### ${name}\n\n| member | label | XMP | form |\n|---|---|---|---|\n${members.map((row) => `| ${row.key} | ${row.label} | ${xmpOf(row)} | ${kindOf(row)} |`).join('\n')}\n`,
  );
  return `# All fields

Made from \`src/core/fields\` by \`npm run fields-page\`; a test fails when it is not current. Names and properties are those of
the IPTC Photo Metadata Standard 2023.1, PLUS LDF 1.2, the MWG guidelines 2.0 and EXIF 2.32, from memory, held against
ExifTool's and exiv2's tables in \`tests/reference/registry.test.ts\`. Where more than one property is named, the first is
written and the others are read when it is absent.

| key | label | standard's name | XMP | form | IIM | EXIF | search |
|---|---|---|---|---|---|---|---|
${rows.join('\n')}

## Structures

${structures.join('\n')}`;
}

if (import.meta.url === pathToFileURL(process.argv[1] ?? '').href) writeFileSync(FIELDS_PAGE, fieldsPage());
