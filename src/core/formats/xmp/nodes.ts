// What stands in an XMP packet, as plain values (ISO 16684-1, 7.4 to 7.9): a text, a list, a structure. RDF has several
// ways to write each of them; all are read. Qualifiers stay in the document and are not part of a value.

import { NS, XMLNS } from './namespaces';
import { type XmlElement, attributeOf, elementsOf, textOfElement, writeNode } from './xml-tree';

export type XmpNode =
  | { kind: 'text'; text: string }
  | { kind: 'list'; form: 'bag' | 'seq' | 'alt'; items: XmpItem[] }
  | { kind: 'struct'; members: XmpMember[] };

export interface XmpItem {
  element: XmlElement;
  language: string | null;
  node: XmpNode;
}

export interface XmpMember {
  uri: string;
  local: string;
  prefix: string;
  /** The element it is written as; `null` where it is an attribute of the holder. */
  element: XmlElement | null;
  node: XmpNode;
}

const FORMS: Readonly<Record<string, 'bag' | 'seq' | 'alt'>> = { Bag: 'bag', Seq: 'seq', Alt: 'alt' };

export const isRdf = (element: XmlElement, local: string): boolean => element.uri === NS.rdf && element.local === local;

export function containerOf(element: XmlElement): XmlElement | null {
  for (const child of element.children)
    if (child.kind === 'element' && child.uri === NS.rdf && Object.hasOwn(FORMS, child.local)) return child;
  return null;
}

export const itemsOf = (container: XmlElement): XmlElement[] =>
  elementsOf(container).filter((item) => isRdf(item, 'li'));

const isOwn = ({ uri }: { uri: string }) => uri !== NS.rdf && uri !== NS.xml && uri !== XMLNS && uri !== '';

/** The element that holds the members of a structure; `null` where the element holds something else. */
export function structHolder(element: XmlElement): XmlElement | null {
  if (element.attributes.length > 0 && attributeOf(element, NS.rdf, 'parseType') === 'Resource') return element;
  const description = element.children.find((child) => child.kind === 'element' && isRdf(child, 'Description'));
  if (description?.kind === 'element') return description;
  // members may stand as attributes of an element that is otherwise empty (RDF/XML, section 7.2.21)
  return element.attributes.some(isOwn) && textOfElement(element).trim() === '' ? element : null;
}

/** Where the value of an element stands: inside rdf:value where it carries qualifiers. */
export function valueElement(element: XmlElement): XmlElement {
  return elementsOf(structHolder(element) ?? element).find((child) => isRdf(child, 'value')) ?? element;
}

export function nodeOf(element: XmlElement): XmpNode {
  const { children } = element;
  if (children.length <= 1 && element.attributes.length === 0 && children[0]?.kind !== 'element')
    return { kind: 'text', text: children[0]?.text ?? '' };
  const container = containerOf(element);
  if (container) {
    const items = itemsOf(container).map((item) => ({
      element: item,
      language: attributeOf(item, NS.xml, 'lang'),
      node: nodeOf(item),
    }));
    return { kind: 'list', form: FORMS[container.local] ?? 'bag', items };
  }
  const resource = attributeOf(element, NS.rdf, 'resource');
  if (resource !== null) return { kind: 'text', text: resource };
  if (attributeOf(element, NS.rdf, 'parseType') === 'Literal')
    return { kind: 'text', text: element.children.map(writeNode).join('') };
  const holder = structHolder(element);
  if (!holder) return { kind: 'text', text: textOfElement(element) };
  const value = elementsOf(holder).find((child) => isRdf(child, 'value'));
  if (value) return nodeOf(value);
  const attribute = attributeOf(holder, NS.rdf, 'value');
  return attribute === null ? { kind: 'struct', members: membersOf(holder) } : { kind: 'text', text: attribute };
}

/** The properties an rdf:Description or a structure holds, as attributes and as elements. */
export function membersOf(holder: XmlElement): XmpMember[] {
  const members: XmpMember[] = [];
  for (const attribute of holder.attributes) {
    if (!isOwn(attribute)) continue;
    members.push({
      uri: attribute.uri,
      local: attribute.local,
      prefix: attribute.prefix,
      element: null,
      node: { kind: 'text', text: attribute.value },
    });
  }
  for (const child of holder.children) {
    if (child.kind === 'element' && child.uri !== NS.rdf)
      members.push({ uri: child.uri, local: child.local, prefix: child.prefix, element: child, node: nodeOf(child) });
  }
  return members;
}

export const isDefaultLanguage = (language: string | null): boolean => language?.toLowerCase() === 'x-default';
