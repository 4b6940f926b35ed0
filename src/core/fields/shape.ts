// How a value is built: what a single value is, and whether it stands alone, in several languages, or in a list.
// The same words describe a field, a member of a structure, and what stands for it in XMP.

import type { XmpName } from '../formats/xmp/namespaces';
import type { StructureName } from './structures';

/**
 * `date` is ISO 8601 as far as it is known; `code` comes from a published list (`choices`, where the list is short);
 * `position` and `direction` are several properties in one text (`geo/position.ts`, `xmp/gps.ts`).
 */
export type ValueKind = 'text' | 'number' | 'boolean' | 'date' | 'code' | 'structure' | 'position' | 'direction';

/** XMP's forms (ISO 16684-1, 7.6 and 7.7). `alt` is a language alternative, of which we read and write x-default. */
export type Form = 'single' | 'alt' | 'bag' | 'seq';

/** A value of a published list, and what it means. */
export interface Choice {
  value: string;
  label: string;
}

export interface Shape {
  xmp: XmpName;
  form: Form;
  value: ValueKind;
  structure?: StructureName;
  /** Of a `code` with a short published list. */
  choices?: readonly Choice[];
}

/** Values by the keys of a structure's members; absent members have no entry. */
export interface Structure {
  readonly [member: string]: FieldValue;
}

/** A field's value: text as written, a number, yes or no, a structure, or a list. Absent fields have no entry. */
export type FieldValue = string | number | boolean | string[] | Structure | Structure[];

export const isList = ({ form }: Pick<Shape, 'form'>): boolean => form === 'bag' || form === 'seq';

/** A list of words, not of structures. */
export const isWordList = (shape: Pick<Shape, 'form' | 'value'>): boolean =>
  isList(shape) && shape.value !== 'structure';

export const isStructure = (value: FieldValue): value is Structure =>
  typeof value === 'object' && !Array.isArray(value);
