// Contrast of the colours we set ourselves, by the formula of WCAG 2.2 (relative luminance, contrast ratio).

import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { darkTheme, lightTheme } from './theme';

const css = readFileSync('src/app/globals.css', 'utf8');
const variables = (selector: string) =>
  Object.fromEntries(
    [...(css.split(selector)[1]?.split('}')[0] ?? '').matchAll(/--([\w-]+): (#[0-9a-f]{6});/g)].map(
      ([, name, colour]) => [name, colour],
    ),
  ) as Record<string, string>;

function luminance(colour: string): number {
  const [r = 0, g = 0, b = 0] = [1, 3, 5].map((at) => {
    const part = parseInt(colour.slice(at, at + 2), 16) / 255;
    return part <= 0.04045 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

const contrast = (one: string, other: string) => {
  const [low = 0, high = 0] = [luminance(one), luminance(other)].sort((a, b) => a - b);
  return (high + 0.05) / (low + 0.05);
};

describe.each([
  ['light', ':root {', lightTheme],
  ['dark', ":root[data-theme='dark'] {", darkTheme],
] as const)('the %s room', (_, selector, theme) => {
  const colour = variables(selector);

  it('the formula gives 21 for black on white', () => expect(contrast('#000000', '#ffffff')).toBeCloseTo(21, 5));

  it.each(['ink', 'ink-2', 'accent', 'safe', 'caution', 'attention'])(
    '%s can be read on paper, panel and surround',
    (ink) => {
      for (const ground of ['paper', 'panel', 'surround'])
        expect(contrast(colour[ink] ?? '', colour[ground] ?? ''), `${ink} on ${ground}`).toBeGreaterThanOrEqual(4.5);
    },
  );

  it('what is chosen can be read too', () => {
    expect(contrast(colour.accent ?? '', colour['accent-soft'] ?? '')).toBeGreaterThanOrEqual(4.5);
    expect(contrast(colour['on-accent'] ?? '', colour.accent ?? '')).toBeGreaterThanOrEqual(4.5);
  });

  it('the components have the same accent and ink as our own parts', () => {
    expect(theme.token?.colorText?.toLowerCase()).toBe(colour.ink);
    expect(contrast(String(theme.token?.colorTextPlaceholder), colour.paper ?? '')).toBeGreaterThanOrEqual(4.5);
  });
});
