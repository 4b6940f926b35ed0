// The colours that can be asked for by name, as a palette shows them. Our own choice of thirteen, spread over hue and
// lightness.

import { labOf } from './colours';

export const COLOUR_NAMES: Readonly<Record<string, string>> = {
  red: '#b3261e',
  orange: '#d97a21',
  yellow: '#e3c12f',
  green: '#4f7f3a',
  moss: '#6f7442',
  teal: '#1f7a78',
  blue: '#2f5fa8',
  sky: '#9cc3e0',
  violet: '#6d4b96',
  pink: '#d98aa6',
  brown: '#6e4a2f',
  black: '#141414',
  grey: '#8a8a8a',
  white: '#f2f2f0',
};

/** A name or `#a1b2c3` as CIELAB; `null` for what is neither. */
export function parseColour(text: string): readonly [number, number, number] | null {
  const word = text.toLowerCase();
  const hex = Object.hasOwn(COLOUR_NAMES, word) ? (COLOUR_NAMES[word] ?? '') : word;
  const found = /^#([0-9a-f]{2})([0-9a-f]{2})([0-9a-f]{2})$/.exec(hex);
  return found ? labOf(parseInt(found[1] ?? '', 16), parseInt(found[2] ?? '', 16), parseInt(found[3] ?? '', 16)) : null;
}
