// Everything a file says, property by property, for those who want to see it raw: EXIF tags, IIM datasets, XMP
// properties.

import type { ByteSource } from '../../bytes/source';
import { GPS_TAG_NAMES, TAG_NAMES } from '../../formats/tiff/exif-names';
import { textOf } from '../../formats/tiff/exif-text';
import { type Tag, type Tiff, numbersOf } from '../../formats/tiff/tiff';
import { IIM_NAMES } from '../../formats/iim/datasets';
import { type Dataset, iimText } from '../../formats/iim/iim';
import type { XmpNode } from '../../formats/xmp/nodes';
import { type Packet, propertiesOf } from '../../formats/xmp/packet';
import { readFamilies } from './families';
import { openForReading } from './reading';

export interface Property {
  family: 'EXIF' | 'IIM' | 'XMP';
  /** Where in the family: a directory, a record, a namespace prefix. */
  place: string;
  name: string;
  value: string;
}

/** A file with more is hostile; nobody reads so many. */
const PROPERTIES_LIMIT = 20_000;
const VALUE_CHARACTERS = 4000;
const NUMBERS_SHOWN = 32;

export async function listProperties(whole: ByteSource, name: string): Promise<Property[]> {
  const { source, format } = await openForReading(whole, name);
  if (format === 'unknown') return [];
  const { tiffs, iim, packets } = await readFamilies(source, format);
  const properties = [
    ...tiffs.flatMap(exifProperties),
    ...(iim?.datasets ?? []).map(iimProperty),
    ...packets.flatMap(xmpProperties),
  ];
  return properties.slice(0, PROPERTIES_LIMIT).map((property) => ({ ...property, value: shortened(property.value) }));
}

const shortened = (text: string): string =>
  text.length > VALUE_CHARACTERS ? `${text.slice(0, VALUE_CHARACTERS)} … (${text.length} characters)` : text;

const DIRECTORY_NAMES = {
  main: 'first directory',
  next: 'further directory',
  sub: 'sub-directory',
  exif: 'EXIF directory',
  gps: 'GPS directory',
};

function exifProperties({ directories }: Tiff): Property[] {
  return directories.flatMap(({ kind, tags }) =>
    [...tags].map(([id, tag]): Property => {
      const known = (kind === 'gps' ? GPS_TAG_NAMES : TAG_NAMES)[id];
      return {
        family: 'EXIF',
        place: DIRECTORY_NAMES[kind],
        name: known ?? `0x${id.toString(16).padStart(4, '0')}`,
        value: exifValue(tag),
      };
    }),
  );
}

function exifValue(tag: Tag): string {
  if (tag.type === 2) return textOf(tag) ?? '';
  const text = tag.view.ascii(0, tag.view.length);
  if (tag.type === 7 && /^[\x20-\x7e]{2,64}$/.test(text)) return text;
  if (tag.view.length === 0 || (tag.type === 7 && tag.count > NUMBERS_SHOWN)) return `${tag.lengthBytes} bytes`;
  const numbers = numbersOf(tag, NUMBERS_SHOWN).map((number) => String(Number(number.toFixed(6))));
  return `${numbers.join(' ')}${tag.count > NUMBERS_SHOWN ? ` … (${tag.count} values)` : ''}`;
}

function iimProperty({ record, dataset, value }: Dataset): Property {
  const number = `${record}:${dataset}`;
  const isText = record === 2 && dataset !== 0;
  return {
    family: 'IIM',
    place: number,
    name: IIM_NAMES[number] ?? 'unnamed dataset',
    value: isText
      ? iimText(value)
      : [...value.subarray(0, NUMBERS_SHOWN)].map((byte) => byte.toString(16).padStart(2, '0')).join(' '),
  };
}

const xmpProperties = (packet: Packet): Property[] =>
  propertiesOf(packet).flatMap(({ prefix, local, node }) => nodeProperties(prefix, local, node));

function nodeProperties(place: string, name: string, node: XmpNode): Property[] {
  if (node.kind === 'text') return [{ family: 'XMP', place, name, value: node.text }];
  if (node.kind === 'struct')
    return node.members.flatMap((member) => nodeProperties(place, `${name} / ${member.local}`, member.node));
  const plain = node.form !== 'alt' && node.items.every((item) => item.node.kind === 'text');
  if (plain)
    return [
      {
        family: 'XMP',
        place,
        name,
        value: node.items.map((item) => (item.node.kind === 'text' ? item.node.text : '')).join('; '),
      },
    ];
  return node.items.flatMap((item, index) =>
    nodeProperties(
      place,
      node.form === 'alt' ? `${name} [${item.language ?? '?'}]` : `${name} [${index + 1}]`,
      item.node,
    ),
  );
}
