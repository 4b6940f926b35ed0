// Sidecars: an XMP packet in a file of its own, `NAME.xmp` beside `NAME.jpg` (XMP specification part 3, section 4).
// The catalog writes every field it knows; whatever else a sidecar holds stays.

import type { Problem, Reading } from '../problems/problem';
import { FIELDS, type FieldKey, type FieldValues } from '../fields/registry';
import { fromStrings, toStrings } from '../fields/values';
import { getValues, newPacket, parsePacket, setValues, writePacket } from './packet';

/** photoshop:SidecarForExtension says which file a sidecar describes, where two share its base name. */
const FOR_EXTENSION = { prefix: 'photoshop', name: 'SidecarForExtension' } as const;

export interface Sidecar {
  fields: FieldValues;
  /** Fields that stand in the sidecar and say nothing: they override what the image itself says. */
  emptied: FieldKey[];
  /** Ending of the file it describes, in lower case; `null` where it does not say. */
  forEnding: string | null;
}

export function parseSidecar(bytes: Uint8Array): Reading<Sidecar> {
  const packet = parsePacket(bytes);
  if (packet.state !== 'read') return packet;
  const sidecar: Sidecar = { fields: {}, emptied: [], forEnding: getValues(packet.value, FOR_EXTENSION)?.[0]?.toLowerCase() ?? null };
  for (const row of FIELDS) {
    const strings = getValues(packet.value, row.xmp);
    if (strings === null) continue;
    const value = fromStrings(row, strings);
    if (value !== undefined) sidecar.fields[row.key] = value;
    else if (strings.length === 0) sidecar.emptied.push(row.key);
  }
  return { state: 'read', value: sidecar, problems: [] };
}

/** What holds for a photo: the sidecar's word before the image's own. */
export function effectiveFields(embedded: FieldValues, sidecar: Sidecar | null): FieldValues {
  const fields: FieldValues = { ...embedded, ...sidecar?.fields };
  for (const key of sidecar?.emptied ?? []) delete fields[key];
  return fields;
}

export interface SidecarPlan {
  /** The sidecar's bytes as they are on the drive now; `null` where there is none. */
  existing: Uint8Array | null;
  fields: FieldValues;
  embedded: FieldValues;
  ending: string;
}

/**
 * The bytes a sidecar should have. Answers `unreadable` when the one on the drive cannot be understood:
 * what was not fully read is never written over. Gives the same bytes when nothing changed.
 */
export function planSidecar({ existing, fields, embedded, ending }: SidecarPlan): { bytes: Uint8Array<ArrayBuffer> } | { problems: Problem[] } {
  const reading = existing === null ? null : parsePacket(existing);
  if (reading && reading.state !== 'read') return { problems: reading.state === 'unreadable' ? reading.problems : [] };
  const packet = reading?.value ?? newPacket();
  for (const row of FIELDS) {
    const strings = toStrings(fields[row.key]);
    const overrides = strings.length === 0 && embedded[row.key] !== undefined;
    const absent = strings.length === 0 && !overrides;
    const now = getValues(packet, row.xmp);
    const unreadableValue = absent && now !== null && now.length > 0 && fromStrings(row, now) === undefined;
    if (unreadableValue) continue; // another program's value that we do not understand, such as a rating of 7
    setValues(packet, row.xmp, row.xmp.form, absent ? null : strings);
  }
  if (existing === null) setValues(packet, FOR_EXTENSION, 'text', [ending.toUpperCase()]);
  return { bytes: writePacket(packet) };
}
