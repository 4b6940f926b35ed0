// An XML document as a tree that gives back its own source, character by character, wherever nothing was edited.
// The parsing is a strict, namespace-aware reader from the registry (no DTD, so no entities but XML's own five);
// this file remembers, for every tag and every stretch between tags, the source it came from.
// Invariant: `writeXml(parseXml(text).value) === text`.

import { SaxesParser } from 'saxes';
import type { Reading } from '../problems/problem';

export interface XmlAttribute {
  prefix: string;
  local: string;
  uri: string;
  value: string;
}

export interface XmlElement {
  kind: 'element';
  prefix: string;
  local: string;
  uri: string;
  attributes: XmlAttribute[];
  /** Namespace declarations in force here, prefix to URI. */
  namespaces: Record<string, string>;
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

/** Far above any sidecar (an album's worth of edits is under 1 MiB); keeps a hostile file from filling the memory. */
export const XML_LIMIT_CHARACTERS = 16 * 1024 * 1024;
const DEPTH_LIMIT = 200;

export function parseXml(source: string): Reading<XmlDocument> {
  if (source.length > XML_LIMIT_CHARACTERS) {
    return { state: 'unreadable', problems: [{ code: 'xmp/too-large', bytes: source.length, limit: XML_LIMIT_CHARACTERS }] };
  }
  const builder = new TreeBuilder(source);
  try {
    return { state: 'read', value: builder.build(), problems: [] };
  } catch (error) {
    if (error instanceof DoctypeError) return { state: 'unreadable', problems: [{ code: 'xmp/doctype' }] };
    const reason = error instanceof Error ? error.message : String(error);
    return { state: 'unreadable', problems: [{ code: 'xmp/not-well-formed', reason }] };
  }
}

class DoctypeError extends Error {}

class TreeBuilder {
  private readonly parser = new SaxesParser({ xmlns: true, position: true });
  private readonly stack: XmlElement[] = [];
  private root: XmlElement | null = null;
  private before = '';
  private consumed = 0;
  private text = '';
  private after = 0;

  constructor(private readonly source: string) {}

  build(): XmlDocument {
    const { parser } = this;
    parser.on('error', (error) => {
      throw error;
    });
    parser.on('doctype', () => {
      throw new DoctypeError();
    });
    parser.on('text', (text) => (this.text += text));
    parser.on('cdata', (text) => (this.text += text));
    parser.on('opentag', (tag) => {
      const start = this.tagStart();
      this.closeBetween(start);
      const element: XmlElement = {
        kind: 'element',
        prefix: tag.prefix,
        local: tag.local,
        uri: tag.uri,
        attributes: Object.values(tag.attributes).map(({ prefix, local, uri, value }) => ({ prefix, local, uri, value })),
        namespaces: { ...this.stack.at(-1)?.namespaces, ...tag.ns },
        children: [],
        open: this.source.slice(start, parser.position),
        close: tag.isSelfClosing ? '' : null,
      };
      const parent = this.stack.at(-1);
      if (parent) parent.children.push(element);
      else this.root = element;
      if (this.stack.push(element) > DEPTH_LIMIT) throw new Error(`nested deeper than ${DEPTH_LIMIT}`);
      this.consumed = parser.position;
    });
    parser.on('closetag', (tag) => {
      const element = this.stack.at(-1);
      if (!tag.isSelfClosing && element) {
        const start = this.tagStart();
        this.closeBetween(start);
        element.close = this.source.slice(start, parser.position);
      }
      this.stack.pop();
      this.consumed = parser.position;
      if (this.stack.length === 0) this.after = parser.position;
    });
    parser.write(this.source).close();
    if (!this.root) throw new Error('no element');
    return { before: this.before, root: this.root, after: this.source.slice(this.after) };
  }

  /** `<` cannot stand inside a tag, so the last one before the end of the tag opens it. */
  private tagStart(): number {
    return this.source.lastIndexOf('<', this.parser.position - 1);
  }

  private closeBetween(end: number): void {
    const source = this.source.slice(this.consumed, end);
    const parent = this.stack.at(-1);
    if (!parent) this.before = source;
    else if (source !== '') parent.children.push({ kind: 'between', source, text: this.text });
    this.text = '';
  }
}

const escapeText = (text: string) => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('\r', '&#xD;');
const escapeAttribute = (text: string) =>
  escapeText(text).replaceAll('"', '&quot;').replaceAll('\n', '&#xA;').replaceAll('\t', '&#x9;');

/** Characters XML 1.0 cannot hold at all (section 2.2) are left out: there is no way to write them. */
export function xmlCharacters(text: string): string {
  // eslint-disable-next-line no-control-regex
  return text.replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g, '');
}

export const textNode = (text: string): XmlBetween => ({ kind: 'between', source: escapeText(xmlCharacters(text)), text });

export function newElement(prefix: string, local: string, uri: string, namespaces: Record<string, string>, children: XmlNode[] = [], attributes: XmlAttribute[] = []): XmlElement {
  return { kind: 'element', prefix, local, uri, attributes, namespaces, children, open: null, close: null };
}

/** Puts `child` in, turning a self-closing element into one with an end tag. */
export function setChildren(element: XmlElement, children: XmlNode[]): void {
  element.children = children;
  if (element.close === '') markEdited(element);
}

/** Call after attributes changed: the tags are then written anew. */
export function markEdited(element: XmlElement): void {
  element.open = null;
  element.close = null;
}

export function writeXml(document: XmlDocument): string {
  return document.before + writeNode(document.root) + document.after;
}

function writeNode(node: XmlNode): string {
  if (node.kind === 'between') return node.source;
  const name = node.prefix ? `${node.prefix}:${node.local}` : node.local;
  const selfClosing = node.open === null && node.children.length === 0;
  const open = node.open ?? `<${name}${node.attributes.map(writeAttribute).join('')}${selfClosing ? '/>' : '>'}`;
  const close = node.close ?? (selfClosing ? '' : `</${name}>`);
  return open + node.children.map(writeNode).join('') + close;
}

const writeAttribute = ({ prefix, local, value }: XmlAttribute) => ` ${prefix ? `${prefix}:` : ''}${local}="${escapeAttribute(value)}"`;

export const elementsOf = (element: XmlElement): XmlElement[] => element.children.filter((child) => child.kind === 'element');

/** All text inside, in order. */
export function textOfElement(element: XmlElement): string {
  return element.children.map((child) => (child.kind === 'between' ? child.text : textOfElement(child))).join('');
}

export const attributeOf = (element: XmlElement, uri: string, local: string): string | null =>
  element.attributes.find((attribute) => attribute.uri === uri && attribute.local === local)?.value ?? null;
