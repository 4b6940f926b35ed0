// An XML document as a tree that gives back its own source, character by character, wherever nothing was edited.
// Invariant: `writeXml(parseXml(text).value) === text`.

export interface XmlAttribute {
  prefix: string;
  local: string;
  uri: string;
  value: string;
}

/** Declarations in force, prefix to URI. Shared between elements; never changed in place. */
export type Namespaces = ReadonlyMap<string, string>;

export interface XmlElement {
  kind: 'element';
  prefix: string;
  local: string;
  uri: string;
  attributes: XmlAttribute[];
  namespaces: Namespaces;
  children: XmlNode[];
  /** Source of the start tag, or `null` when it must be written anew. */
  open: string | null;
  /** Source of the end tag; empty when self-closing. */
  close: string | null;
}

/** Anything between tags: text, comments, CDATA, instructions. `text` is what a reader of the content sees. */
export interface XmlBetween {
  kind: 'between';
  source: string;
  text: string;
}

export type XmlNode = XmlElement | XmlBetween;

export interface XmlDocument {
  before: string;
  root: XmlElement;
  after: string;
}

/** Characters XML 1.0 cannot hold at all (section 2.2). */
export const FORBIDDEN =
  // eslint-disable-next-line no-control-regex
  /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/;

export const qualifiedName = ({ prefix, local }: { prefix: string; local: string }) =>
  prefix === '' ? local : `${prefix}:${local}`;

export const escapeText = (text: string) =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('\r', '&#xD;');
export const escapeAttribute = (text: string) =>
  escapeText(text).replaceAll('"', '&quot;').replaceAll('\n', '&#xA;').replaceAll('\t', '&#x9;');

/** Characters XML 1.0 cannot hold at all (section 2.2) are left out: there is no way to write them. */
export const xmlCharacters = (text: string): string =>
  FORBIDDEN.test(text) ? text.replace(new RegExp(FORBIDDEN, 'g'), '') : text;

export function textNode(text: string): XmlBetween {
  const kept = xmlCharacters(text);
  return { kind: 'between', source: escapeText(kept), text: kept };
}

export function newElement(
  prefix: string,
  local: string,
  uri: string,
  namespaces: Namespaces,
  children: XmlNode[] = [],
  attributes: XmlAttribute[] = [],
): XmlElement {
  return { kind: 'element', prefix, local, uri, attributes, namespaces, children, open: null, close: null };
}

/** Puts children in, turning a self-closing element into one with an end tag. */
export function setChildren(element: XmlElement, children: XmlNode[]): void {
  element.children = children;
  if (element.close === '') markEdited(element);
}

/** Call after attributes changed: the start tag is then written anew, and an end tag where there is none. */
export function markEdited(element: XmlElement): void {
  element.open = null;
  if (element.close === '') element.close = null;
}

/**
 * Gives an attribute another value, in the source of the start tag as well, so that all else in it stays as it stands.
 */
export function setAttribute(element: XmlElement, attribute: XmlAttribute, value: string): void {
  attribute.value = xmlCharacters(value);
  if (element.open === null) return;
  const parts = /\s+([^\s=]+)\s*=\s*(?:"[^"]*"|'[^']*')/y;
  parts.lastIndex = 1 + qualifiedName(element).length;
  for (let found = parts.exec(element.open); found; found = parts.exec(element.open)) {
    if (found[1] !== qualifiedName(attribute)) continue;
    const quoteAt = found.index + found[0].search(/["']/);
    const quote = element.open.charAt(quoteAt);
    const escaped =
      quote === '"'
        ? escapeAttribute(attribute.value)
        : escapeAttribute(attribute.value).replaceAll('&quot;', '"').replaceAll("'", '&apos;');
    element.open = `${element.open.slice(0, quoteAt + 1)}${escaped}${element.open.slice(parts.lastIndex - 1)}`;
    return;
  }
}

export function writeXml(document: XmlDocument): string {
  return document.before + writeNode(document.root) + document.after;
}

export function writeNode(node: XmlNode): string {
  if (node.kind === 'between') return node.source;
  const name = qualifiedName(node);
  const selfClosing = node.open === null && node.close === null && node.children.length === 0;
  const open = node.open ?? `<${name}${node.attributes.map(writeAttribute).join('')}${selfClosing ? '/>' : '>'}`;
  const close = node.close ?? (selfClosing ? '' : `</${name}>`);
  let inside = '';
  for (const child of node.children) inside += writeNode(child);
  return open + inside + close;
}

const writeAttribute = (attribute: XmlAttribute) =>
  ` ${qualifiedName(attribute)}="${escapeAttribute(xmlCharacters(attribute.value))}"`;

export function elementsOf(element: XmlElement): XmlElement[] {
  const found: XmlElement[] = [];
  for (const child of element.children) if (child.kind === 'element') found.push(child);
  return found;
}

/** All text inside, in order. */
export function textOfElement(element: XmlElement): string {
  let text = '';
  for (const child of element.children) text += child.kind === 'between' ? child.text : textOfElement(child);
  return text;
}

export function attributeOf(element: XmlElement, uri: string, local: string): string | null {
  for (const attribute of element.attributes)
    if (attribute.local === local && attribute.uri === uri) return attribute.value;
  return null;
}
