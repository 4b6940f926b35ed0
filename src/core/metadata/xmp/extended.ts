// Several packets as one, and one that is too long for a JPEG segment as two (XMP specification part 3, section
// 1.1.3.1): the longest properties move to an extension, which the main packet names by its MD5.

import { md5 } from '@noble/hashes/legacy.js';
import { toHex } from '../../bytes/hex';
import { encodeUtf8 } from '../../bytes/text';
import { addDescription, setXmpField, setText } from './edit';
import { NS, XMLNS, type XmpName } from '../../formats/xmp/namespaces';
import { type Packet, newPacket, propertiesOf, writePacket } from '../../formats/xmp/packet';
import {
  type XmlElement,
  type XmlNode,
  elementsOf,
  setChildren,
  textNode,
  writeNode,
} from '../../formats/xmp/xml-tree';

const EXTENSION_NAME: XmpName = { prefix: 'xmpNote', name: 'HasExtendedXMP' };

/**
 * Everything of the later packets that the first does not hold, moved into the first. A packet alone stays as it is.
 */
export function mergedPacket(packets: readonly Packet[]): Packet {
  const [first, ...others] = packets;
  if (!first) return newPacket();
  const has = new Set(propertiesOf(first).map(({ uri, local }) => `${uri} ${local}`));
  for (const { descriptions } of others) {
    for (const description of descriptions) {
      const missing = elementsOf(description).filter(({ uri, local }) => !has.has(`${uri} ${local}`));
      const attributes = description.attributes.filter(
        ({ uri, local }) => uri !== NS.rdf && uri !== XMLNS && !has.has(`${uri} ${local}`),
      );
      if (missing.length === 0 && attributes.length === 0) continue;
      const target = addDescription(first);
      target.attributes.push(...declarations(description), ...attributes);
      target.namespaces = description.namespaces;
      setChildren(target, onLines(missing));
    }
  }
  if (others.length > 0)
    setXmpField(first, { xmp: EXTENSION_NAME, form: 'single', value: 'text' }, { state: 'absent' });
  return first;
}

/** Namespace declarations in force at an element, so that what is moved out of it keeps its meaning. */
const declarations = ({ namespaces }: XmlElement) =>
  [...namespaces]
    .filter(([prefix]) => prefix !== 'xml' && prefix !== 'xmlns' && prefix !== '')
    .map(([prefix, uri]) => ({ prefix: 'xmlns', local: prefix, uri: XMLNS, value: uri }));

const onLines = (elements: readonly XmlElement[]): XmlNode[] => [
  ...elements.flatMap((element): XmlNode[] => [textNode('\n   '), element]),
  textNode('\n  '),
];

export interface SplitPacket {
  main: Uint8Array<ArrayBuffer>;
  extension: { bytes: Uint8Array<ArrayBuffer>; guid: string } | null;
}

/**
 * The packet's bytes, the main part within `limitBytes`. `null` where no property can be moved to make it so. The
 * packet is used up.
 */
export function splitPacket(packet: Packet, limitBytes: number): SplitPacket | null {
  const whole = writePacket(packet);
  if (whole.length <= limitBytes) return { main: whole, extension: null };
  const candidates = packet.descriptions.flatMap((description) =>
    elementsOf(description).map((element) => ({ description, element, bytes: encodeUtf8(writeNode(element)).length })),
  );
  candidates.sort((a, b) => b.bytes - a.bytes);
  const NAME_BYTES = 200;
  let left = whole.length + NAME_BYTES;
  const moved: typeof candidates = [];
  for (const candidate of candidates) {
    if (left <= limitBytes) break;
    moved.push(candidate);
    left -= candidate.bytes;
  }
  const extended = newPacket();
  extended.descriptions[0] ??= addDescription(extended);
  for (const { description, element } of moved) {
    description.children = description.children.filter((child) => child !== element);
    const target = addDescription(extended);
    target.attributes.push(...declarations(description));
    setChildren(target, onLines([element]));
  }
  extended.document.before = '';
  extended.document.after = '';
  const bytes = writePacket(extended);
  const guid = toHex(md5(bytes)).toUpperCase();
  setText(packet, EXTENSION_NAME, guid);
  const main = writePacket(packet);
  return main.length <= limitBytes ? { main, extension: { bytes, guid } } : null;
}
