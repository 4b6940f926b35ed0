// A strict reader of XML 1.0 (fifth edition) with namespaces, without document types, and so without entities but XML's
// own five; the tests hold it against a general reader.

import type { Reading } from '../../problems/problem';
import { XMLNS } from './namespaces';
import {
  FORBIDDEN,
  type Namespaces,
  type XmlAttribute,
  type XmlDocument,
  type XmlElement,
  qualifiedName,
} from './xml-tree';

/** Far above any sidecar (an album's worth of edits is under 1 MiB); keeps a hostile file from filling the memory. */
const XML_LIMIT_CHARACTERS = 16 * 1024 * 1024;
const DEPTH_LIMIT = 200;
const XML_URI = 'http://www.w3.org/XML/1998/namespace';
const PREDEFINED: Namespaces = new Map([
  ['xml', XML_URI],
  ['xmlns', XMLNS],
]);

export function parseXml(source: string): Reading<XmlDocument> {
  if (source.length > XML_LIMIT_CHARACTERS) {
    return {
      state: 'unreadable',
      problems: [{ code: 'xmp/too-large', bytes: source.length, limit: XML_LIMIT_CHARACTERS }],
    };
  }
  try {
    return { state: 'read', value: new XmlReader(source).document(), problems: [] };
  } catch (error) {
    if (error instanceof DoctypeError) return { state: 'unreadable', problems: [{ code: 'xmp/doctype' }] };
    if (error instanceof XmlError)
      return { state: 'unreadable', problems: [{ code: 'xmp/not-well-formed', reason: error.message }] };
    throw error;
  }
}

class DoctypeError extends Error {}
class XmlError extends Error {}

const START =
  ':A-Z_a-z\\u00C0-\\u00D6\\u00D8-\\u00F6\\u00F8-\\u02FF\\u0370-\\u037D\\u037F-\\u1FFF\\u200C\\u200D\\u2070-\\u218F\\u2C00-\\u2FEF\\u3001-\\uD7FF\\uF900-\\uFDCF\\uFDF0-\\uFFFD\\u{10000}-\\u{EFFFF}';
// the ranges are those of the recommendation, combining characters among them
// eslint-disable-next-line no-misleading-character-class
const NAME = new RegExp(`[${START}][${START}\\-.0-9\\u00B7\\u0300-\\u036F\\u203F\\u2040]*`, 'uy');
// eslint-disable-next-line no-misleading-character-class
const STARTS_A_NAME = new RegExp(`^[${START}]`, 'u');
// eslint-disable-next-line no-control-regex
const SUSPECT = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff\ud800-\udfff]/;
const ENTITIES = new Map([
  ['amp', '&'],
  ['lt', '<'],
  ['gt', '>'],
  ['quot', '"'],
  ['apos', "'"],
]);
const isSpace = (code: number) => code === 0x20 || code === 0x0a || code === 0x09 || code === 0x0d;
const GT = 0x3e,
  SLASH = 0x2f,
  BANG = 0x21,
  QUESTION = 0x3f,
  EQUALS = 0x3d,
  DOUBLE = 0x22,
  SINGLE = 0x27;

const isPlainStart = (code: number) =>
  (code >= 0x61 && code <= 0x7a) || (code >= 0x41 && code <= 0x5a) || code === 0x5f || code === 0x3a;
const isPlainInName = (code: number) =>
  isPlainStart(code) || (code >= 0x30 && code <= 0x39) || code === 0x2d || code === 0x2e;

interface RawAttribute {
  prefix: string;
  local: string;
  value: string;
}

class XmlReader {
  private at = 0;
  private readonly stack: XmlElement[] = [];
  /** The names of the open elements, as written. */
  private readonly names: string[] = [];
  private root: XmlElement | null = null;
  private before = '';
  /** Where the part between tags began, and the text in it so far. */
  private betweenStart = 0;
  private text = '';

  constructor(private readonly source: string) {}

  document(): XmlDocument {
    const { source } = this;
    // most texts hold neither such characters nor surrogates, and the quick look is several times as fast
    const forbidden = SUSPECT.test(source) ? FORBIDDEN.exec(source) : null;
    if (forbidden) throw this.wrong('a character XML cannot hold', forbidden.index);
    if (source.startsWith('<?xml') && isSpace(source.charCodeAt(5)))
      this.at = this.endOf('?>', 0, 'the XML declaration');
    for (let tag = source.indexOf('<', this.at); tag >= 0; tag = source.indexOf('<', this.at)) {
      this.takeText(tag);
      this.at = tag;
      const next = source.charCodeAt(tag + 1);
      if (next === SLASH) this.endTag(tag);
      else if (next === BANG) this.declaration(tag);
      else if (next === QUESTION) this.instruction(tag);
      else this.startTag(tag);
    }
    this.takeText(source.length);
    const open = this.stack.at(-1);
    if (open) throw this.wrong(`<${qualifiedName(open)}> is never closed`, source.length);
    if (!this.root) throw this.wrong('no element', source.length);
    return { before: this.before, root: this.root, after: source.slice(this.betweenStart) };
  }

  private wrong(what: string, at = this.at): XmlError {
    return new XmlError(`${what}, at character ${at + 1}`);
  }

  private endOf(mark: string, from: number, what: string): number {
    const found = this.source.indexOf(mark, from);
    if (found < 0) throw this.wrong(`${what} does not end`, from);
    return found + mark.length;
  }

  private takeText(end: number): void {
    if (end === this.at) return;
    const raw = this.source.slice(this.at, end);
    if (this.stack.length === 0) {
      if (raw.trim() !== '' && raw !== '\ufeff') throw this.wrong('text outside the element');
      return;
    }
    if (raw.includes(']]>')) throw this.wrong(']]> in text');
    this.text += this.resolve(raw.includes('\r') ? raw.replace(/\r\n?/g, '\n') : raw);
  }

  /** Replaces character references and the five entities. */
  private resolve(raw: string): string {
    let from = raw.indexOf('&');
    if (from < 0) return raw;
    let text = '';
    let done = 0;
    for (; from >= 0; from = raw.indexOf('&', done)) {
      const end = raw.indexOf(';', from);
      if (end < 0) throw this.wrong('& stands alone');
      text += raw.slice(done, from) + this.entity(raw.slice(from + 1, end));
      done = end + 1;
    }
    return text + raw.slice(done);
  }

  private entity(name: string): string {
    const known = ENTITIES.get(name);
    if (known !== undefined) return known;
    const number = /^#(?:x([0-9a-fA-F]{1,6})|([0-9]{1,7}))$/.exec(name);
    if (!number) throw this.wrong(`the entity &${name.slice(0, 20)}; is not known`);
    const code = number[1] !== undefined ? parseInt(number[1], 16) : Number(number[2]);
    if (code === 0 || code > 0x10ffff || (code >= 0xd800 && code <= 0xdfff))
      throw this.wrong(`&${name}; is no character`);
    const character = String.fromCodePoint(code);
    if (FORBIDDEN.test(character)) throw this.wrong(`&${name}; is a character XML cannot hold`);
    return character;
  }

  private closeBetween(end: number): void {
    const parent = this.stack.at(-1);
    const source = this.source.slice(this.betweenStart, end);
    if (!parent) this.before = source;
    else if (source !== '') parent.children.push({ kind: 'between', source, text: this.text });
    this.text = '';
  }

  private declaration(tag: number): void {
    const { source } = this;
    if (source.startsWith('<!--', tag)) {
      const end = this.endOf('--', tag + 4, 'a comment');
      if (source.charCodeAt(end) !== GT) throw this.wrong('-- in a comment', end);
      this.at = end + 1;
    } else if (source.startsWith('<![CDATA[', tag) && this.stack.length > 0) {
      this.at = this.endOf(']]>', tag + 9, 'CDATA');
      this.text += source.slice(tag + 9, this.at - 3).replace(/\r\n?/g, '\n');
    } else if (source.startsWith('<!DOCTYPE', tag)) throw new DoctypeError();
    else throw this.wrong('<! opens nothing known');
  }

  private instruction(tag: number): void {
    this.at = tag + 2;
    const target = this.name('an instruction without a name');
    if (target.toLowerCase() === 'xml' || target.includes(':'))
      throw this.wrong(`an instruction may not be called ${target}`, tag);
    if (!this.source.startsWith('?>', this.at) && !isSpace(this.source.charCodeAt(this.at)))
      throw this.wrong('an instruction is not well written');
    this.at = this.endOf('?>', this.at, 'an instruction');
  }

  private name(without: string): string {
    const start = this.at;
    let end = start;
    while (isPlainInName(this.source.charCodeAt(end))) end += 1;
    // names of plain letters are read letter by letter; the recommendation's whole alphabet decides about all others
    if (end > start && this.source.charCodeAt(end) < 0x80 && isPlainStart(this.source.charCodeAt(start))) {
      this.at = end;
      return this.source.slice(start, end);
    }
    NAME.lastIndex = start;
    const found = NAME.exec(this.source);
    if (!found) throw this.wrong(without);
    this.at = NAME.lastIndex;
    return found[0];
  }

  private skipSpace(): boolean {
    const from = this.at;
    while (isSpace(this.source.charCodeAt(this.at))) this.at += 1;
    return this.at > from;
  }

  private endTag(tag: number): void {
    const element = this.stack.at(-1);
    const wanted = this.names.at(-1);
    this.at = tag + 2;
    if (
      wanted !== undefined &&
      this.source.startsWith(wanted, this.at) &&
      this.source.charCodeAt(this.at + wanted.length) === GT
    )
      this.at += wanted.length;
    else {
      const name = this.name('an end tag without a name');
      this.skipSpace();
      if (this.source.charCodeAt(this.at) !== GT) throw this.wrong(`</${name} does not end`);
      if (name !== wanted) throw this.wrong(`</${name}> closes nothing`, tag);
    }
    if (!element) throw this.wrong('an end tag closes nothing', tag);
    this.closeBetween(tag);
    this.at += 1;
    element.close = this.source.slice(tag, this.at);
    this.stack.pop();
    this.names.pop();
    this.betweenStart = this.at;
  }

  private startTag(tag: number): void {
    const parent = this.stack.at(-1);
    if (!parent && this.root) throw this.wrong('a second element', tag);
    this.closeBetween(tag);
    this.at = tag + 1;
    const name = this.name('< opens nothing');
    const [prefix, local] = this.split(name, tag);
    const raw = this.attributes(tag);
    const selfClosing = this.source.charCodeAt(this.at) === SLASH;
    this.at += selfClosing ? 2 : 1;
    const namespaces = this.namespacesOf(raw, parent?.namespaces ?? PREDEFINED);
    const attributes = raw.map((one) => ({
      prefix: one.prefix,
      local: one.local,
      uri: one.prefix === '' ? (one.local === 'xmlns' ? XMLNS : '') : this.uriOf(one.prefix, namespaces),
      value: one.value,
    }));
    if (attributes.length > 1) this.refuseTwice(attributes);
    const element: XmlElement = {
      kind: 'element',
      prefix,
      local,
      uri: prefix === '' ? (namespaces.get('') ?? '') : this.uriOf(prefix, namespaces),
      attributes,
      namespaces,
      children: [],
      open: this.source.slice(tag, this.at),
      close: selfClosing ? '' : null,
    };
    if (parent) parent.children.push(element);
    else this.root = element;
    this.betweenStart = this.at;
    if (selfClosing) return;
    this.names.push(name);
    if (this.stack.push(element) > DEPTH_LIMIT) throw this.wrong(`nested deeper than ${DEPTH_LIMIT}`);
  }

  /** The attributes of a start tag, up to its `>` or `/>`. */
  private attributes(tag: number): RawAttribute[] {
    const { source } = this;
    const found: RawAttribute[] = [];
    for (;;) {
      const spaced = this.skipSpace();
      const code = source.charCodeAt(this.at);
      if (code === GT || (code === SLASH && source.charCodeAt(this.at + 1) === GT)) return found;
      if (Number.isNaN(code)) throw this.wrong('a tag does not end', tag);
      if (!spaced) throw this.wrong('no space before an attribute');
      const [prefix, local] = this.split(this.name('an attribute without a name'), this.at);
      this.skipSpace();
      if (source.charCodeAt(this.at) !== EQUALS) throw this.wrong(`the attribute ${local} has no value`);
      this.at += 1;
      this.skipSpace();
      const quote = source.charCodeAt(this.at);
      if (quote !== DOUBLE && quote !== SINGLE) throw this.wrong(`the value of ${local} is not quoted`);
      const end = source.indexOf(quote === DOUBLE ? '"' : "'", this.at + 1);
      if (end < 0) throw this.wrong(`the value of ${local} does not end`);
      const value = source.slice(this.at + 1, end);
      if (value.includes('<')) throw this.wrong(`< in the value of ${local}`);
      // XML 1.0 section 3.3.3: line ends and tabs in an attribute's source are blanks
      found.push({
        prefix,
        local,
        value: this.resolve(/[\t\n\r]/.test(value) ? value.replace(/\r\n|[\t\n\r]/g, ' ') : value),
      });
      this.at = end + 1;
    }
  }

  private split(name: string, at: number): [string, string] {
    const colon = name.indexOf(':');
    if (colon < 0) return ['', name];
    const local = name.slice(colon + 1);
    if (
      colon === 0 ||
      local === '' ||
      local.includes(':') ||
      !(isPlainStart(local.charCodeAt(0)) || STARTS_A_NAME.test(local))
    )
      throw this.wrong(`${name} is no qualified name`, at);
    return [name.slice(0, colon), local];
  }

  private namespacesOf(attributes: RawAttribute[], inherited: Namespaces): Namespaces {
    if (attributes.length === 0) return inherited;
    let own: Map<string, string> | null = null;
    for (const { prefix, local, value } of attributes) {
      if (prefix !== 'xmlns' && !(prefix === '' && local === 'xmlns')) continue;
      const declared = prefix === '' ? '' : local;
      const reserved = declared === 'xmlns' || value === XMLNS || (declared === 'xml') !== (value === XML_URI);
      if (reserved || (value === '' && declared !== ''))
        throw this.wrong(`the namespace ${declared || 'without prefix'} may not be declared so`);
      own ??= new Map(inherited);
      own.set(declared, value);
    }
    return own ?? inherited;
  }

  private uriOf(prefix: string, namespaces: Namespaces): string {
    const uri = namespaces.get(prefix);
    if (uri === undefined) throw this.wrong(`the prefix ${prefix} is not declared`);
    return uri;
  }

  private refuseTwice(attributes: XmlAttribute[]): void {
    const seen = new Set<string>();
    for (const { uri, prefix, local } of attributes) {
      const key = `${uri || prefix} ${local}`;
      if (seen.has(key)) throw this.wrong(`the attribute ${local} stands twice`);
      seen.add(key);
    }
  }
}
