// Values of fields out of XMP nodes. Absent, empty and not understood are three answers.

import type { FieldValue, Shape, Structure } from '../../fields/shape';
import { isList } from '../../fields/shape';
import { type StructureName, STRUCTURES } from '../../fields/structures';
import { singleFromText } from '../../fields/values';
import { NS, type XmpName } from '../../formats/xmp/namespaces';
import { type XmpMember, type XmpNode, isDefaultLanguage } from '../../formats/xmp/nodes';
import { type Packet, propertiesOf } from '../../formats/xmp/packet';

/** What a place in a packet says about a field. `empty`: it is there and says nothing, on purpose. */
export type Said =
  { state: 'absent' } | { state: 'empty' } | { state: 'value'; value: FieldValue } | { state: 'foreign' };

export const isNamed = (member: XmpMember, { prefix, name }: XmpName): boolean =>
  member.local === name && member.uri === NS[prefix];

export function saidBy(shape: Shape, node: XmpNode | undefined): Said {
  if (!node) return { state: 'absent' };
  const value = valueOfNode(shape, node);
  if (value !== undefined) return { state: 'value', value };
  return isEmptyNode(node) ? { state: 'empty' } : { state: 'foreign' };
}

function isEmptyNode(node: XmpNode): boolean {
  if (node.kind === 'text') return node.text === '';
  return node.kind === 'list'
    ? node.items.every((item) => isEmptyNode(item.node))
    : node.members.every((member) => isEmptyNode(member.node));
}

/**
 * The value a node gives a field of this shape; `undefined` where it gives none. A list where one value is meant gives
 * its first.
 */
export function valueOfNode(shape: Shape, node: XmpNode): FieldValue | undefined {
  const { structure } = shape;
  if (structure !== undefined) return structuresOf(shape, structure, node);
  const texts = textsOfNode(node);
  if (!isList(shape)) return singleFromText(shape, texts[0] ?? '');
  if (texts.length === 0) return undefined;
  return shape.form === 'bag' ? [...new Set(texts)] : texts;
}

function structuresOf(shape: Shape, structure: StructureName, node: XmpNode): FieldValue | undefined {
  const nodes = node.kind === 'list' ? node.items.map((item) => item.node) : [node];
  const values: Structure[] = [];
  for (const item of nodes) {
    const value = structureOfNode(structure, item);
    if (value) values.push(value);
  }
  if (values.length === 0) return undefined;
  return isList(shape) ? values : values[0];
}

export function structureOfNode(structure: StructureName, node: XmpNode): Structure | undefined {
  if (node.kind !== 'struct') return undefined;
  const value: Record<string, FieldValue> = {};
  for (const row of STRUCTURES[structure]) {
    const member = node.members.find((candidate) => isNamed(candidate, row.xmp));
    const found = member && valueOfNode(row, member.node);
    if (found !== undefined) value[row.key] = found;
  }
  return Object.keys(value).length > 0 ? value : undefined;
}

/** The texts of a node, empty ones left out: of a language alternative the default only, of a structure none. */
function textsOfNode(node: XmpNode): string[] {
  if (node.kind === 'text') return node.text === '' ? [] : [node.text];
  if (node.kind === 'struct') return [];
  if (node.form !== 'alt') return node.items.flatMap((item) => textsOfNode(item.node));
  const chosen = node.items.find(({ language }) => isDefaultLanguage(language)) ?? node.items[0];
  return chosen ? textsOfNode(chosen.node) : [];
}

export const readField = (packet: Packet, shape: Shape): Said =>
  saidBy(shape, propertiesOf(packet).find((member) => isNamed(member, shape.xmp))?.node);

/** A property of plain text; `null` when it is absent or says nothing. */
export function readText(packet: Packet, xmp: XmpName): string | null {
  const said = readField(packet, { xmp, form: 'single', value: 'text' });
  return said.state === 'value' ? String(said.value) : null;
}
