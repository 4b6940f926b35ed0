// Setting properties of a packet while everything else stays as it stands: other properties, qualifiers, languages,
// members of structures we do not know, comments, white space. Setting what is already said edits nothing.

import { type FieldValue, type Shape, type Structure } from '../../fields/shape';
import { type StructureName, STRUCTURES } from '../../fields/structures';
import { sameValue, textOfSingle } from '../../fields/values';
import { NS, XMLNS, type Prefix, type XmpName } from '../../formats/xmp/namespaces';
import {
  type XmpMember,
  containerOf,
  isDefaultLanguage,
  itemsOf,
  membersOf,
  nodeOf,
  structHolder,
  valueElement,
} from '../../formats/xmp/nodes';
import { type Packet, findRdf } from '../../formats/xmp/packet';
import { isNamed, structureOfNode, valueOfNode, readField } from './values';
import {
  type XmlElement,
  type XmlNode,
  attributeOf,
  markEdited,
  newElement,
  setAttribute,
  setChildren,
  textNode,
} from '../../formats/xmp/xml-tree';

/** What a property is to say: a value; nothing, on purpose; or not to be there at all. */
export type Wanted = { state: 'value'; value: FieldValue } | { state: 'empty' } | { state: 'absent' };

export function setXmpField(packet: Packet, shape: Shape, wanted: Wanted): void {
  const said = readField(packet, shape);
  if (
    said.state === wanted.state &&
    (said.state !== 'value' || wanted.state !== 'value' || sameValue(said.value, wanted.value))
  )
    return;
  const holder = packet.descriptions.find((description) =>
    membersOf(description).some((member) => isNamed(member, shape.xmp)),
  );
  if (wanted.state === 'absent') {
    if (holder) removeMember(holder, shape.xmp);
    return;
  }
  const into = holder ?? packet.descriptions[0] ?? addDescription(packet);
  setMember({ top: into, holder: into, pad: '\n   ' }, shape, wanted.state === 'value' ? wanted.value : null);
}

export const setText = (packet: Packet, xmp: XmpName, text: string): void =>
  setXmpField(packet, { xmp, form: 'single', value: 'text' }, { state: 'value', value: text });

export function addDescription(packet: Packet): XmlElement {
  const rdf = findRdf(packet.document.root);
  if (!rdf) throw new Error('a packet always has rdf:RDF');
  const description = newElement(
    rdf.prefix,
    'Description',
    NS.rdf,
    rdf.namespaces,
    [],
    [{ prefix: rdf.prefix, local: 'about', uri: NS.rdf, value: '' }],
  );
  setChildren(rdf, [...rdf.children, description]);
  packet.descriptions.push(description);
  return description;
}

/**
 * Where members are set: the element that holds them, the description that takes namespace declarations, the line
 * start.
 */
interface Place {
  top: XmlElement;
  holder: XmlElement;
  pad: string;
}

function removeMember(holder: XmlElement, { prefix, name }: XmpName): void {
  const element = holder.children.find(
    (child) => child.kind === 'element' && child.uri === NS[prefix] && child.local === name,
  );
  if (element) {
    const at = holder.children.indexOf(element);
    const before = holder.children[at - 1];
    const alone = before?.kind === 'between' && before.source.trim() === '';
    holder.children.splice(alone ? at - 1 : at, alone ? 2 : 1); // its line goes with it
  } else {
    holder.attributes = holder.attributes.filter(
      (attribute) => !(attribute.uri === NS[prefix] && attribute.local === name),
    );
    markEdited(holder);
  }
}

/** Sets a member of a description or a structure; `null` writes it as explicitly empty. */
function setMember(place: Place, shape: Shape, value: FieldValue | null): void {
  const { holder, pad } = place;
  const existing = membersOf(holder).find((member) => isNamed(member, shape.xmp));
  if (existing?.element) {
    fillElement(place, existing.element, shape, value, pad);
    return;
  }
  const attribute =
    existing && holder.attributes.find(({ uri, local }) => uri === existing.uri && local === existing.local);
  if (attribute && shape.form === 'single' && shape.structure === undefined) {
    setAttribute(holder, attribute, value === null ? '' : textOfSingle(value));
    return;
  }
  if (existing) removeMember(holder, shape.xmp);
  const element = newElement(
    prefixFor(place, shape.xmp.prefix),
    shape.xmp.name,
    NS[shape.xmp.prefix],
    holder.namespaces,
  );
  fillElement(place, element, shape, value, pad);
  const last = holder.children.at(-1);
  const hasTail = last?.kind === 'between' && last.source.trim() === '';
  const head = hasTail ? holder.children.slice(0, -1) : holder.children;
  setChildren(holder, [...head, textNode(pad), element, hasTail ? last : textNode(pad.slice(0, -1))]);
}

/** The prefix to use for a namespace here; it is declared at the description where it is not in force. */
function prefixFor({ top, holder }: Pick<Place, 'top' | 'holder'>, prefix: Prefix): string {
  const uri: string = NS[prefix];
  for (const [used, bound] of holder.namespaces) if (bound === uri && used !== '') return used;
  for (const [used, bound] of top.namespaces)
    if (bound === uri && used !== '' && !holder.namespaces.has(used)) return used;
  let used: string = prefix;
  while (top.namespaces.has(used) || holder.namespaces.has(used)) used += '_';
  top.namespaces = new Map(top.namespaces).set(used, uri);
  top.attributes.push({ prefix: 'xmlns', local: used, uri: XMLNS, value: uri });
  markEdited(top);
  return used;
}

const CONTAINERS = { bag: 'Bag', seq: 'Seq', alt: 'Alt' } as const;

function fillElement(place: Place, element: XmlElement, shape: Shape, value: FieldValue | null, pad: string): void {
  const container = containerOf(element);
  if (shape.form === 'single' && !container) {
    if (shape.structure === undefined) setPlainText(element, value === null ? '' : textOfSingle(value));
    else fillStructure(place, element, shape.structure, asStructure(value), pad);
    return;
  }
  const rdf = prefixFor(place, 'rdf');
  const inner = { ...place, pad: `${pad}  ` };
  const existing = container ? itemsOf(container) : [];
  const items = itemsFor(inner, shape, existing, value, rdf);
  const children: XmlNode[] =
    items.length > 0 ? [...items.flatMap((item): XmlNode[] => [textNode(inner.pad), item]), textNode(`${pad} `)] : [];
  if (container) {
    setChildren(container, children);
    return;
  }
  const local = CONTAINERS[shape.form === 'single' ? 'bag' : shape.form];
  element.attributes = element.attributes.filter((attribute) => attribute.uri !== NS.rdf);
  markEdited(element);
  element.children = [textNode(`${pad} `), newElement(rdf, local, NS.rdf, element.namespaces, children), textNode(pad)];
}

const asStructure = (value: FieldValue | null): Structure =>
  typeof value === 'object' && value !== null && !Array.isArray(value) ? value : {};

function itemsFor(
  place: Place,
  shape: Shape,
  existing: XmlElement[],
  value: FieldValue | null,
  rdf: string,
): XmlElement[] {
  if (shape.form === 'alt')
    return defaultLanguageItems(existing, value === null ? '' : textOfSingle(value), rdf, place.holder);
  const values = value === null ? [] : Array.isArray(value) ? value : [value];
  if (shape.structure !== undefined)
    return structureItems(
      place,
      shape.structure,
      existing,
      values.map((item) => asStructure(item)),
      rdf,
    );
  const left = [...existing];
  const plain: Shape = { ...shape, form: 'single' };
  return values.map((text) => {
    const at = left.findIndex((item) => sameValue(valueOfNode(plain, nodeOf(item)), text));
    const kept = at < 0 ? undefined : left.splice(at, 1)[0];
    return kept ?? newElement(rdf, 'li', NS.rdf, place.holder.namespaces, [textNode(textOfSingle(text))]);
  });
}

/**
 * Structures keep the item they stood in: one that says the same, else the next that is left. Items we do not
 * understand stay.
 */
function structureItems(
  place: Place,
  structure: StructureName,
  existing: XmlElement[],
  values: Structure[],
  rdf: string,
): XmlElement[] {
  const known = existing.map((item) => ({ item, value: structureOfNode(structure, nodeOf(item)) }));
  const foreign = known.filter(({ value }) => value === undefined).map(({ item }) => item);
  const left = known.filter(({ value }) => value !== undefined);
  const take = (at: number) => (at < 0 ? undefined : left.splice(at, 1)[0]?.item);
  const matched = values.map((value) => take(left.findIndex((candidate) => sameValue(candidate.value, value))));
  const items = values.map((value, index) => {
    const same = matched[index];
    if (same) return same;
    const item =
      take(0) ??
      newElement(
        rdf,
        'li',
        NS.rdf,
        place.holder.namespaces,
        [],
        [{ prefix: rdf, local: 'parseType', uri: NS.rdf, value: 'Resource' }],
      );
    fillStructure(place, item, structure, value, place.pad);
    return item;
  });
  return [...items, ...foreign];
}

function fillStructure(
  place: Place,
  element: XmlElement,
  structure: StructureName,
  value: Structure,
  pad: string,
): void {
  const holder = holderForWriting(place, element);
  const inside = { ...place, holder, pad: `${pad} ` };
  for (const row of STRUCTURES[structure]) {
    const wanted = value[row.key];
    const member = membersOf(holder).find((candidate) => isNamed(candidate, row.xmp));
    const now = member && valueOfNode(row, member.node);
    if (sameValue(now, wanted)) continue;
    if (wanted === undefined) removeMember(holder, row.xmp);
    else setMember(inside, row, wanted);
  }
}

/**
 * The holder of a structure's members, made where there is none. Members written as attributes of a property become
 * elements.
 */
function holderForWriting(place: Place, element: XmlElement): XmlElement {
  const holder = structHolder(element);
  if (holder && (holder !== element || attributeOf(element, NS.rdf, 'parseType') === 'Resource')) return holder;
  const shorthand = holder ? membersOf(element) : [];
  element.attributes = element.attributes.filter(({ uri }) => uri === NS.xml || uri === XMLNS);
  const rdf = prefixFor({ top: place.top, holder: element }, 'rdf');
  element.attributes.push({ prefix: rdf, local: 'parseType', uri: NS.rdf, value: 'Resource' });
  markEdited(element);
  element.children = shorthand.map((member) => attributeAsElement(element, member));
  return element;
}

function attributeAsElement(parent: XmlElement, { prefix, local, uri, node }: XmpMember): XmlElement {
  return newElement(prefix, local, uri, parent.namespaces, [textNode(node.kind === 'text' ? node.text : '')]);
}

/** Puts text where the value stands: inside rdf:value where there are qualifiers, else as the content. */
function setPlainText(element: XmlElement, text: string): void {
  const target = valueElement(element);
  if (target.attributes.some((attribute) => attribute.uri === NS.rdf && attribute.local === 'resource')) {
    target.attributes = target.attributes.filter((attribute) => attribute.local !== 'resource');
    markEdited(target);
  }
  setChildren(target, text === '' ? [] : [textNode(text)]);
}

function defaultLanguageItems(existing: XmlElement[], value: string, rdf: string, parent: XmlElement): XmlElement[] {
  const isDefault = (item: XmlElement) => isDefaultLanguage(attributeOf(item, NS.xml, 'lang'));
  const item =
    existing.find(isDefault) ??
    newElement(
      rdf,
      'li',
      NS.rdf,
      parent.namespaces,
      [],
      [{ prefix: 'xml', local: 'lang', uri: NS.xml, value: 'x-default' }],
    );
  setPlainText(item, value);
  return [item, ...existing.filter((other) => !isDefault(other))];
}
