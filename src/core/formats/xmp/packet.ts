// XMP packets (ISO 16684-1): the document, its descriptions, and what they say about fields.
// A property may be written as an element or as an attribute of rdf:Description, in any of several Descriptions.

import { decodeUtf8, decodeUtf16, encodeUtf8 } from '../../bytes/text';
import type { Reading } from '../../problems/problem';
import { type XmpMember, isRdf, membersOf } from './nodes';
import { parseXml } from './xml-reader';
import { type XmlDocument, type XmlElement, elementsOf, writeXml } from './xml-tree';

export interface Packet {
  document: XmlDocument;
  /** The rdf:Description elements, in order. */
  descriptions: XmlElement[];
  /** The text as it was read; where the document still gives the same, nothing was edited. */
  source: string;
}

export function parsePacket(bytes: Uint8Array): Reading<Packet> {
  const text = decodeUtf8(bytes) ?? decodeUtf16(bytes);
  if (text === null)
    return {
      state: 'unreadable',
      problems: [{ code: 'xmp/not-well-formed', reason: 'the bytes are neither UTF-8 nor UTF-16' }],
    };
  // some writers pad a packet with zeros
  const trimmed = text.endsWith('\0') ? text.replace(/\0+$/, '') : text;
  const document = parseXml(trimmed);
  if (document.state !== 'read') return document;
  const rdf = findRdf(document.value.root);
  if (!rdf) return { state: 'unreadable', problems: [{ code: 'xmp/no-rdf' }] };
  const descriptions = elementsOf(rdf).filter((child) => isRdf(child, 'Description'));
  return { state: 'read', value: { document: document.value, descriptions, source: trimmed }, problems: [] };
}

export function findRdf(element: XmlElement): XmlElement | null {
  if (isRdf(element, 'RDF')) return element;
  for (const child of elementsOf(element)) {
    const found = findRdf(child);
    if (found) return found;
  }
  return null;
}

const EMPTY_PACKET = `<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?>
<x:xmpmeta xmlns:x="adobe:ns:meta/">
 <rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">
  <rdf:Description rdf:about="">
  </rdf:Description>
 </rdf:RDF>
</x:xmpmeta>
<?xpacket end="w"?>
`;

export function newPacket(): Packet {
  const packet = parsePacket(encodeUtf8(EMPTY_PACKET));
  if (packet.state !== 'read') throw new Error('the empty packet must parse');
  return packet.value;
}

export const isEdited = (packet: Packet): boolean => writeXml(packet.document) !== packet.source;

/** UTF-8, whatever the packet was read from. */
export function writePacket({ document }: Packet): Uint8Array<ArrayBuffer> {
  return encodeUtf8(
    writeXml({ ...document, before: document.before.replace(/(<\?xml[^>]*encoding=["'])[^"']*/, '$1UTF-8') }),
  );
}

/** All properties of all descriptions, in order. */
export const propertiesOf = (packet: Packet): XmpMember[] => packet.descriptions.flatMap(membersOf);

export const nameKey = (uri: string, local: string): string => `${uri} ${local}`;

/** The properties by `nameKey`; of one that stands twice the first. */
export type PropertyMap = ReadonlyMap<string, XmpMember>;

export function propertyMap(packets: readonly Packet[]): PropertyMap {
  const map = new Map<string, XmpMember>();
  for (const packet of packets) {
    for (const description of packet.descriptions) {
      for (const member of membersOf(description)) {
        const key = nameKey(member.uri, member.local);
        if (!map.has(key)) map.set(key, member);
      }
    }
  }
  return map;
}
