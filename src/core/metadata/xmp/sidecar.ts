// Sidecars: an XMP packet in a file of its own, `NAME.xmp` beside `NAME.jpg` (XMP specification part 3, section 4). The
// catalog writes every field it knows; whatever else a sidecar holds stays. Of each field that was ever changed here it
// says the version, with a mark of the value it is the version of: where the value has another mark, another program
// wrote after us.

import type { FoundWords, Versions } from '../../fields/merge';
import { valueMark } from '../../fields/value-mark';
import { isVersion, type Version } from '../../fields/version';
import { FIELDS, type FieldKey, type FieldRow, type FieldValues, isFieldKey } from '../../fields/registry';
import { checked, sameValue, wordsIn } from '../../fields/values';
import { parsePosition } from '../../geo/position';
import type { Problem, Reading } from '../../problems/problem';
import { type Wanted, setXmpField, setText } from './edit';
import { NS, type XmpName } from '../../formats/xmp/namespaces';
import { directionSaid, positionSaid, setDirection, setPosition } from './gps';
import {
  type Packet,
  type PropertyMap,
  isEdited,
  nameKey,
  newPacket,
  parsePacket,
  propertyMap,
  writePacket,
} from '../../formats/xmp/packet';
import type { Shape } from '../../fields/shape';
import { type Said, saidBy, readField, readText } from './values';

/** photoshop:SidecarForExtension says which file a sidecar describes, where two share its base name. */
const FOR_EXTENSION = { prefix: 'photoshop', name: 'SidecarForExtension' } as const;

const VERSIONS: Shape = { xmp: { prefix: 'wembo', name: 'Versions' }, form: 'bag', value: 'text' };

/** The version of a field, and the mark of the value it was written with. */
interface Stamp {
  version: Version;
  mark: string;
}

export interface Sidecar {
  fields: FieldValues;
  /** Fields that stand in the sidecar and say nothing: they override what the image itself says. */
  emptied: FieldKey[];
  /** Ending of the file it describes, in lower case; `null` where it does not say. */
  forEnding: string | null;
  /** What Wembo wrote of its fields; of none where it never wrote here. */
  stamps: ReadonlyMap<FieldKey, Stamp>;
}

export function parseSidecar(bytes: Uint8Array): Reading<Sidecar> {
  const packet = parsePacket(bytes);
  if (packet.state !== 'read') return packet;
  const sidecar: Sidecar = {
    fields: {},
    emptied: [],
    forEnding: readText(packet.value, FOR_EXTENSION)?.toLowerCase() ?? null,
    stamps: stampsIn(packet.value),
  };
  const map = propertyMap([packet.value]);
  for (const row of FIELDS) {
    const said = fieldSaid(map, row);
    if (said.state === 'value') sidecar.fields[row.key] = said.value;
    else if (said.state === 'empty') sidecar.emptied.push(row.key);
  }
  return { state: 'read', value: sidecar, problems: [] };
}

function stampsIn(packet: Packet): Map<FieldKey, Stamp> {
  const said = readField(packet, VERSIONS);
  const stamps = new Map<FieldKey, Stamp>();
  for (const line of said.state === 'value' ? wordsIn(said.value) : []) {
    const [, key = '', mark = '', version = ''] = STAMP.exec(line) ?? [];
    if (isFieldKey(key) && isVersion(version)) stamps.set(key, { mark, version });
  }
  return stamps;
}

const STAMP = /^([A-Za-z]{1,64}) ([0-9a-f]{8}) (\S.*)$/;

/** Under which keys of a property map a field stands: its own first, then those that carry the same fact. Made once. */
const keyOf = ({ prefix, name }: XmpName) => nameKey(NS[prefix], name);
const KEYS = new Map(FIELDS.map((row) => [row.key, { own: keyOf(row.xmp), also: (row.xmpAlso ?? []).map(keyOf) }]));
const NO_KEYS = { own: '', also: [] };
const ABSENT: Said = { state: 'absent' };

/** What properties say about a field: its own, else one of those that carry the same fact. */
export function fieldSaid(map: PropertyMap, row: FieldRow): Said {
  if (row.value === 'position') return positionSaid(map);
  if (row.value === 'direction') return directionSaid(map);
  const { own, also } = KEYS.get(row.key) ?? NO_KEYS;
  const member = map.get(own);
  if (member) return checkedSaid(row, saidBy(row, member.node));
  for (const key of also) {
    const said = saidBy(row, map.get(key)?.node);
    if (said.state === 'value') return said;
  }
  return ABSENT;
}

function checkedSaid(row: FieldRow, said: Said): Said {
  return said.state === 'value' && checked(row, said.value) === undefined ? { state: 'foreign' } : said;
}

/** What holds for a photo: the sidecar's word before the image's own. */
export function effectiveFields(embedded: FieldValues, sidecar: Sidecar | null): FieldValues {
  const fields: FieldValues = { ...embedded, ...sidecar?.fields };
  for (const key of sidecar?.emptied ?? []) delete fields[key];
  return fields;
}

/** What is found of a photo at one place: in its sidecar, and in the image where that is silent. */
export function foundWords(embedded: FieldValues, sidecar: Sidecar | null): FoundWords {
  const fields = effectiveFields(embedded, sidecar);
  const versions: { [key in FieldKey]?: Version } = {};
  const foreign = new Set<FieldKey>();
  for (const [key, { mark, version }] of sidecar?.stamps ?? []) {
    versions[key] = version;
    if (valueMark(fields[key]) !== mark) foreign.add(key);
  }
  return { fields, versions, foreign };
}

export interface SidecarPlan {
  /** The sidecar's bytes as they are on the drive now; `null` where there is none. */
  existing: Uint8Array<ArrayBuffer> | null;
  fields: FieldValues;
  /** Of fields that were ever changed in a catalog. */
  versions?: Versions;
  embedded: FieldValues;
  ending: string;
}

/**
 * The bytes a sidecar should have. Answers `unreadable` when the one on the drive cannot be understood:
 * what was not fully read is never written over. Gives the same bytes when nothing changed.
 */
export function planSidecar({
  existing,
  fields,
  versions = {},
  embedded,
  ending,
}: SidecarPlan): { bytes: Uint8Array<ArrayBuffer> } | { problems: Problem[] } {
  const reading = existing === null ? null : parsePacket(existing);
  if (reading && reading.state !== 'read') return { problems: reading.state === 'unreadable' ? reading.problems : [] };
  const packet = reading?.value ?? newPacket();
  setFields(packet, fields, (key) => embedded[key] !== undefined);
  setVersions(packet, versions, embedded);
  if (existing === null) setText(packet, FOR_EXTENSION, ending.toUpperCase());
  return { bytes: existing !== null && !isEdited(packet) ? existing : writePacket(packet) };
}

/**
 * Says the version of each field that has one, with the mark of what can be read of it now. Lines of fields we do not
 * know stay.
 */
function setVersions(packet: Packet, versions: Versions, embedded: FieldValues): void {
  const map = propertyMap([packet]);
  const lines = FIELDS.flatMap((row) => {
    const version = versions[row.key];
    if (version === undefined) return [];
    const said = fieldSaid(map, row);
    const value = said.state === 'value' ? said.value : said.state === 'empty' ? undefined : embedded[row.key];
    return `${row.key} ${valueMark(value)} ${version}`;
  });
  const said = readField(packet, VERSIONS);
  const unknown =
    said.state === 'value' ? wordsIn(said.value).filter((line) => !isFieldKey(line.split(' ', 1)[0] ?? '')) : [];
  const all = [...lines, ...unknown];
  if (all.length > 0) setXmpField(packet, VERSIONS, { state: 'value', value: all });
}

/**
 * Brings every field of a packet to `fields`. An absent field is written as empty where `overrides` says that silence
 * would not do.
 */
export function setFields(packet: Packet, fields: FieldValues, overrides: (key: FieldKey) => boolean): void {
  const map = propertyMap([packet]);
  for (const row of FIELDS) {
    const value = fields[row.key];
    const said = fieldSaid(map, row);
    // another program's value that we do not understand, such as a rating of 99, stays unless there is one of ours
    if (value === undefined && said.state === 'foreign') continue;
    if (value === undefined && said.state === 'absent' && !overrides(row.key)) continue;
    if (said.state === 'value' && value !== undefined && sameValue(said.value, value)) continue;
    put(packet, row, wantedFor(value, overrides(row.key) || saysElsewhere(packet, row)));
  }
}

function put(packet: Packet, row: FieldRow, wanted: Wanted): void {
  if (row.value === 'direction') setDirection(packet, wanted);
  else if (row.value === 'position')
    setPosition(packet, wanted.state === 'value' ? (parsePosition(String(wanted.value)) ?? 'absent') : wanted.state);
  else setXmpField(packet, row, wanted);
}

const saysElsewhere = (packet: Packet, row: FieldRow): boolean =>
  (row.xmpAlso ?? []).some((xmp) => readField(packet, { ...row, xmp }).state === 'value');

function wantedFor(value: FieldValues[FieldKey], overridden: boolean): Wanted {
  if (value !== undefined) return { state: 'value', value };
  return overridden ? { state: 'empty' } : { state: 'absent' };
}
