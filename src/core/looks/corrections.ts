// What can be corrected in a picture, as numbers: kept with its words, and applied whenever it is shown or sent. The
// original's bytes are never touched. How each number acts is written down in docs/FORMATS.md and done in develop.ts.

import type { FieldValue, Structure } from '../fields/shape';
import { isStructure } from '../fields/shape';
import { DAYLIGHT } from './colour-science';

/** A number that a slider sets. */
export interface Slider {
  key: SliderKey;
  label: string;
  from: number;
  to: number;
  step: number;
  /** Where it changes nothing. */
  rest: number;
  unit: string;
}

export type SliderKey =
  | 'exposure'
  | 'temperature'
  | 'tint'
  | 'contrast'
  | 'highlights'
  | 'shadows'
  | 'white'
  | 'black'
  | 'vibrance'
  | 'saturation'
  | 'vignette'
  | 'sharpening'
  | 'straighten';

/** Parts of a picture that remains, of the whole of it after turning and straightening: 0 to 1 from the left and top. */
export interface Crop {
  left: number;
  top: number;
  width: number;
  height: number;
}

/** What is absent changes nothing. */
export interface Corrections extends Partial<Record<SliderKey, number>> {
  blackAndWhite?: true;
  /** Quarter turns with the clock. */
  turns?: 1 | 2 | 3;
  /** Left and right changed over, after turning. */
  mirrored?: true;
  crop?: Crop;
}

const slider = (key: SliderKey, label: string, [from, rest, to]: [number, number, number], step: number, unit = '') =>
  ({ key, label, from, to, step, rest, unit }) satisfies Slider;

/** In the order in which they act; straightening, which moves pixels, is done before all. */
export const SLIDERS: readonly Slider[] = [
  slider('temperature', 'Temperature', [2000, DAYLIGHT.temperature, 15_000], 50, 'K'),
  slider('tint', 'Tint', [-50, DAYLIGHT.tint, 50], 1),
  slider('exposure', 'Exposure', [-5, 0, 5], 0.05, 'EV'),
  slider('black', 'Black point', [-50, 0, 50], 1),
  slider('white', 'White point', [-50, 0, 50], 1),
  slider('shadows', 'Shadows', [-100, 0, 100], 1),
  slider('highlights', 'Highlights', [-100, 0, 100], 1),
  slider('contrast', 'Contrast', [-100, 0, 100], 1),
  slider('vibrance', 'Vibrance', [-100, 0, 100], 1),
  slider('saturation', 'Saturation', [-100, 0, 100], 1),
  slider('vignette', 'Corners', [-3, 0, 3], 0.05, 'EV'),
  slider('sharpening', 'Sharpening', [0, 0, 200], 1),
  slider('straighten', 'Straighten', [-45, 0, 45], 0.1, '°'),
];

const bySliderKey = new Map(SLIDERS.map((one) => [one.key, one]));

export function sliderOf(key: SliderKey): Slider {
  const found = bySliderKey.get(key);
  if (!found) throw new Error(`no slider ${key}`);
  return found;
}

/** Of what was written with other formulas the numbers mean something else: then they are kept, and not applied. */
export const FORMULAS = 1;

const within = (value: number, from: number, to: number): number => Math.min(to, Math.max(from, value));

/** Rid of what changes nothing, and brought into each slider's range. */
export function tidyCorrections(given: Corrections): Corrections {
  const tidy: Corrections = {};
  for (const { key, from, to, rest } of SLIDERS) {
    const value = given[key];
    if (value === undefined || !Number.isFinite(value)) continue;
    const kept = within(rounded(value), from, to);
    if (kept !== rest) tidy[key] = kept;
  }
  if (given.blackAndWhite) tidy.blackAndWhite = true;
  if (given.turns) tidy.turns = given.turns;
  if (given.mirrored) tidy.mirrored = true;
  const crop = given.crop && tidyCrop(given.crop);
  if (crop) tidy.crop = crop;
  return tidy;
}

/** Four places are less than a pixel of any picture, and what a file is read back as. */
const rounded = (value: number): number => Math.round(value * 10_000) / 10_000;

/** Something must remain. */
const LEAST_PART = 0.01;

function tidyCrop(crop: Crop): Crop | null {
  const left = rounded(within(crop.left, 0, 1 - LEAST_PART));
  const top = rounded(within(crop.top, 0, 1 - LEAST_PART));
  const width = rounded(within(crop.width, LEAST_PART, 1 - left));
  const height = rounded(within(crop.height, LEAST_PART, 1 - top));
  if (![left, top, width, height].every(Number.isFinite)) return null;
  return left === 0 && top === 0 && width === 1 && height === 1 ? null : { left, top, width, height };
}

export const isIdentity = (corrections: Corrections): boolean => Object.keys(corrections).length === 0;

/** Whether any pixel gets another colour. */
export const changesColour = (corrections: Corrections): boolean =>
  corrections.blackAndWhite === true ||
  SLIDERS.some(({ key }) => key !== 'straighten' && corrections[key] !== undefined);

/** Whether pixels move: parts of the picture that are named by their places are elsewhere then. */
export const movesPixels = ({ turns, mirrored, straighten, crop }: Corrections): boolean =>
  [turns, mirrored, straighten, crop].some((part) => part !== undefined);

const CROP_MEMBERS = { left: 'cropLeft', top: 'cropTop', width: 'cropWidth', height: 'cropHeight' } as const;

/** As the value of the field; absent where nothing is corrected. */
export function correctionsValue(corrections: Corrections): Structure | undefined {
  const { blackAndWhite, turns, mirrored, crop, ...numbers } = tidyCorrections(corrections);
  const value: Record<string, FieldValue> = { formulas: FORMULAS };
  for (const { key } of SLIDERS) {
    const number = numbers[key];
    if (number !== undefined) value[key] = number;
  }
  if (blackAndWhite) value.blackAndWhite = true;
  if (turns) value.turns = turns;
  if (mirrored) value.mirrored = true;
  if (crop) for (const [part, member] of Object.entries(CROP_MEMBERS)) value[member] = crop[part as keyof Crop];
  return Object.keys(value).length > 1 ? value : undefined;
}

/** From the value of the field. What is written with formulas of another number changes nothing here. */
export function correctionsIn(value: FieldValue | undefined): Corrections {
  if (value === undefined || !isStructure(value) || value.formulas !== FORMULAS) return NO_CORRECTIONS;
  const read: Corrections = {};
  for (const { key } of SLIDERS) {
    const number = value[key];
    if (typeof number === 'number') read[key] = number;
  }
  if (value.blackAndWhite === true) read.blackAndWhite = true;
  if (value.mirrored === true) read.mirrored = true;
  if (value.turns === 1 || value.turns === 2 || value.turns === 3) read.turns = value.turns;
  const [left, top, width, height] = Object.values(CROP_MEMBERS).map((member) => value[member]);
  if (typeof left === 'number' && typeof top === 'number' && typeof width === 'number' && typeof height === 'number')
    read.crop = { left, top, width, height };
  return tidyCorrections(read);
}

export const NO_CORRECTIONS: Corrections = {};

/** The same text for the same corrections; empty for none. */
export const lookText = (corrections: Corrections): string =>
  isIdentity(corrections) ? '' : JSON.stringify(corrections);
