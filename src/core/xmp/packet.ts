// XMP packets (ISO 16684-1): reading properties out of the RDF, and setting them while everything else stays as it stands.
// A property may be written as an element or as an attribute of rdf:Description, in any of several Descriptions.
// Text is never interpreted: `007` and `true` are words.

import { decodeUtf8, encodeUtf8 } from '../bytes/text';
import type { Reading } from '../problems/problem';
import { NS, type Prefix, type XmpName } from './namespaces';
import {
  type XmlDocument, type XmlElement, type XmlNode, attributeOf, elementsOf, markEdited, newElement, parseXml, setChildren, textNode, textOfElement, writeXml,
} from './xml-tree';

/** The forms a property of ours can take in RDF. `alt` is a language alternative, of which we read and write x-default. */
export type XmpForm = 'text' | 'bag' | 'seq' | 'alt';

export interface Packet {
  document: XmlDocument;
  descriptions: XmlElement[];
}

const isRdf = (element: XmlElement, local: string) => element.uri === NS.rdf && element.local === local;

export function parsePacket(bytes: Uint8Array): Reading<Packet> {
  const text = decodeUtf8(bytes);
  if (text === null) return { state: 'unreadable', problems: [{ code: 'xmp/not-well-formed', reason: 'the bytes are not UTF-8' }] };
  // some writers pad a packet with zeros
  const document = parseXml(text.replace(/\0+$/, ''));
  if (document.state !== 'read') return document;
  const rdf = findRdf(document.value.root);
  if (!rdf) return { state: 'unreadable', problems: [{ code: 'xmp/no-rdf' }] };
  return { state: 'read', value: { document: document.value, descriptions: elementsOf(rdf).filter((child) => isRdf(child, 'Description')) }, problems: [] };
}

function findRdf(element: XmlElement): XmlElement | null {
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

export const writePacket = (packet: Packet): Uint8Array<ArrayBuffer> => encodeUtf8(writeXml(packet.document));

interface Place {
  description: XmlElement;
  element: XmlElement | null;
}

function findProperty(packet: Packet, { prefix, name }: XmpName): Place | null {
  for (const description of packet.descriptions) {
    const element = elementsOf(description).find((child) => child.uri === NS[prefix] && child.local === name);
    if (element) return { description, element };
    if (attributeOf(description, NS[prefix], name) !== null) return { description, element: null };
  }
  return null;
}

/** The values of a property: `null` when it is absent; an empty list when it is there and says nothing. */
export function getValues(packet: Packet, property: XmpName): string[] | null {
  const place = findProperty(packet, property);
  if (!place) return null;
  const values = place.element ? valuesOfElement(place.element) : [attributeOf(place.description, NS[property.prefix], property.name) ?? ''];
  return values.filter((value) => value !== '');
}

const containerOf = (element: XmlElement) => elementsOf(element).find((child) => ['Bag', 'Seq', 'Alt'].includes(child.local) && child.uri === NS.rdf) ?? null;

function valuesOfElement(element: XmlElement): string[] {
  const container = containerOf(element);
  if (!container) return [valueOf(element)];
  const items = elementsOf(container).filter((item) => isRdf(item, 'li'));
  if (container.local !== 'Alt') return items.map(valueOf);
  const chosen = items.find(isDefaultLanguage) ?? items[0];
  return chosen ? [valueOf(chosen)] : [];
}

const isDefaultLanguage = (item: XmlElement) => attributeOf(item, NS.xml, 'lang')?.toLowerCase() === 'x-default';

/** The value of a node: its text, or that of its rdf:value where it carries qualifiers. */
function valueOf(element: XmlElement): string {
  const resource = attributeOf(element, NS.rdf, 'resource');
  if (resource !== null) return resource;
  const holder = elementsOf(element).find((child) => isRdf(child, 'Description')) ?? element;
  const inner = elementsOf(holder).find((child) => isRdf(child, 'value'));
  return textOfElement(inner ?? element);
}

/**
 * Sets a property; `null` takes it out; an empty list writes it as explicitly empty, which overrides what the image
 * itself says. Values already there keep their nodes (so languages and qualifiers survive). No change, no edit.
 */
export function setValues(packet: Packet, property: XmpName, form: XmpForm, values: string[] | null): void {
  const now = getValues(packet, property);
  if (values === null ? now === null : now !== null && sameList(now, values)) return;
  const place = findProperty(packet, property);
  if (values === null) {
    if (place) removeProperty(place, property);
    return;
  }
  if (place?.element) {
    fillElement(place.element, form, values);
    return;
  }
  if (place) removeProperty(place, property);
  addProperty(packet, property, form, values);
}

const sameList = (a: string[], b: string[]) => a.length === b.length && a.every((value, index) => value === b[index]);

function removeProperty({ description, element }: Place, { prefix, name }: XmpName): void {
  if (element) {
    const at = description.children.indexOf(element);
    const before = description.children[at - 1];
    const alone = before?.kind === 'between' && before.source.trim() === '';
    description.children.splice(alone ? at - 1 : at, alone ? 2 : 1); // its line goes with it
  } else {
    description.attributes = description.attributes.filter((attribute) => !(attribute.uri === NS[prefix] && attribute.local === name));
    markStartEdited(description);
  }
}

/** A start tag with other attributes, keeping whether the element has an end tag. */
function markStartEdited(description: XmlElement): void {
  const close = description.close;
  markEdited(description);
  if (close) description.close = close;
}

function addProperty(packet: Packet, { prefix, name }: XmpName, form: XmpForm, values: string[]): void {
  let description = packet.descriptions[0];
  if (!description) {
    const rdf = findRdf(packet.document.root);
    if (!rdf) throw new Error('a packet always has rdf:RDF');
    const used = prefixFor(rdf, 'rdf');
    description = newElement(used, 'Description', NS.rdf, { ...rdf.namespaces }, [], [{ prefix: used, local: 'about', uri: NS.rdf, value: '' }]);
    setChildren(rdf, [...rdf.children, description]);
    packet.descriptions.push(description);
  }
  const used = declare(description, prefix);
  const element = newElement(used, name, NS[prefix], description.namespaces);
  fillElement(element, form, values);
  const indent = '\n   ';
  const children = description.children;
  const last = children.at(-1);
  const tail: XmlNode[] = last?.kind === 'between' && last.text.trim() === '' && last.source.trim() === '' ? [last] : [textNode('\n  ')];
  const head = tail[0] === last ? children.slice(0, -1) : children;
  setChildren(description, [...head, textNode(indent), element, ...tail]);
}

function prefixFor(element: XmlElement, prefix: Prefix): string {
  const found = Object.entries(element.namespaces).find(([, uri]) => uri === NS[prefix]);
  return found ? found[0] : prefix;
}

/** Makes sure the namespace is declared at this element, and answers with the prefix to use. */
function declare(element: XmlElement, prefix: Prefix): string {
  const existing = Object.entries(element.namespaces).find(([used, uri]) => uri === NS[prefix] && used !== '');
  if (existing) return existing[0];
  let used: string = prefix;
  while (element.namespaces[used] !== undefined) used += '_';
  element.namespaces = { ...element.namespaces, [used]: NS[prefix] };
  element.attributes.push({ prefix: 'xmlns', local: used, uri: 'http://www.w3.org/2000/xmlns/', value: NS[prefix] });
  markStartEdited(element);
  return used;
}

const CONTAINERS = { bag: 'Bag', seq: 'Seq', alt: 'Alt' } as const;

function fillElement(element: XmlElement, form: XmpForm, values: string[]): void {
  const container = containerOf(element);
  if (form === 'text' && !container) {
    setPlainText(element, values[0] ?? '');
    return;
  }
  const existing = container ? elementsOf(container).filter((item) => isRdf(item, 'li')) : [];
  const rdf = prefixFor(element, 'rdf');
  const items = form === 'alt' ? defaultLanguageItems(existing, values[0] ?? '', rdf, element) : listItems(existing, values, rdf, element);
  const local = container?.local ?? (form === 'text' ? 'Bag' : CONTAINERS[form]);
  const spaced = items.flatMap((item): XmlNode[] => [textNode('\n     '), item]);
  const children: XmlNode[] = items.length > 0 ? [...spaced, textNode('\n    ')] : [];
  if (container) {
    setChildren(container, children);
    return;
  }
  element.attributes = element.attributes.filter((attribute) => attribute.uri !== NS.rdf);
  markEdited(element);
  element.children = [textNode('\n    '), newElement(rdf, local, NS.rdf, element.namespaces, children), textNode('\n   ')];
}

/** Puts text where the value stands: inside rdf:value where there are qualifiers, else as the content. */
function setPlainText(element: XmlElement, text: string): void {
  const holder = elementsOf(element).find((child) => isRdf(child, 'Description')) ?? element;
  const inner = elementsOf(holder).find((child) => isRdf(child, 'value'));
  const target = inner ?? element;
  if (target.attributes.some((attribute) => attribute.uri === NS.rdf && attribute.local === 'resource')) {
    target.attributes = target.attributes.filter((attribute) => attribute.local !== 'resource');
    markEdited(target);
  }
  setChildren(target, text === '' ? [] : [textNode(text)]);
}

function listItems(existing: XmlElement[], values: string[], rdf: string, parent: XmlElement): XmlElement[] {
  const left = [...existing];
  return values.map((value) => {
    const at = left.findIndex((item) => valueOf(item) === value);
    const kept = at < 0 ? undefined : left.splice(at, 1)[0];
    return kept ?? newElement(rdf, 'li', NS.rdf, parent.namespaces, [textNode(value)]);
  });
}

function defaultLanguageItems(existing: XmlElement[], value: string, rdf: string, parent: XmlElement): XmlElement[] {
  const others = existing.filter((item) => !isDefaultLanguage(item));
  const item = existing.find(isDefaultLanguage) ?? newElement(rdf, 'li', NS.rdf, parent.namespaces, [], [{ prefix: 'xml', local: 'lang', uri: NS.xml, value: 'x-default' }]);
  setPlainText(item, value);
  return [item, ...others];
}
