import { expect, it } from 'vitest';
import { clippingOf, histogramOf } from './histogram';

it('counts each channel by value, and what is clipped at either end', () => {
  const { red, green, blue, ...sums } = histogramOf([
    0, 0, 0, 255, 255, 10, 20, 255, 100, 254, 30, 255, 100, 1, 0, 255,
  ]);
  expect(sums).toEqual({ pixels: 4, dark: 1, light: 2 });
  expect([red[100], green[10], blue[0], red.reduce((sum, count) => sum + count, 0)]).toEqual([2, 1, 2, 4]);
});

it('a saturated colour is clipped light, a dark one with a little left is not clipped', () => {
  expect([clippingOf(255, 0, 0), clippingOf(0, 1, 0), clippingOf(2, 0, 0), clippingOf(253, 253, 253)]).toEqual([
    'light',
    'dark',
    null,
    null,
  ]);
});
