// From linear light to an 8-bit picture, as film and lens would: exposure, a soft shoulder, warmth, fall-off towards
// the corners, grain that is strongest in the middle tones, and where wanted black and white with dust and scratches.

import type { Canvas } from './canvas';
import { clamp, randomFrom } from './noise';
import type { Scene } from './scene';

/** A print's curve: deep but open shadows, straight middle, lights that roll off. Linear light in, display value out. */
const curve = (value: number) => {
  const x = Math.max(0, value);
  const rolled = (x * (2.51 * x + 0.03)) / (x * (2.43 * x + 0.59) + 0.14);
  return Math.pow(clamp(rolled), 1 / 2.2);
};

/** Colours a little stronger than the light had them. */
const SATURATION = 1.12;

/** Red, green, blue bytes, row by row. */
export function develop(canvas: Canvas, scene: Scene): Uint8Array {
  const { width, height } = canvas;
  const light = scene.blur > 0 ? blurred(canvas, scene.blur) : canvas.light;
  const random = randomFrom(scene.seed + 5);
  const gain = Math.pow(2, scene.exposure) * 0.78;
  const [warm, cold] = [1 + scene.warmth * 0.09, 1 - scene.warmth * 0.1];
  const out = new Uint8Array(width * height * 3);
  let lastGrain = 0;
  for (let at = 0; at < width * height; at++) {
    const u = (at % width) / width - 0.5;
    const v = Math.floor(at / width) / height - 0.5;
    const falloff = 1 - 0.62 * Math.pow(u * u + v * v, 1.25);
    // neighbouring grains hang together a little
    lastGrain = lastGrain * 0.35 + (random() + random() - 1) * 0.65;
    const strength = gain * falloff;
    let r = curve(light[at * 3]! * strength * warm);
    let g = curve(light[at * 3 + 1]! * strength);
    let b = curve(light[at * 3 + 2]! * strength * cold);
    if (scene.monochrome) r = g = b = clamp(0.28 * r + 0.58 * g + 0.14 * b) * 0.96 + 0.02;
    const tone = 0.3 * r + 0.6 * g + 0.1 * b;
    r = tone + (r - tone) * SATURATION;
    g = tone + (g - tone) * SATURATION;
    b = tone + (b - tone) * SATURATION;
    const grain = lastGrain * scene.grain * (0.35 + 2.2 * tone * (1 - tone));
    out[at * 3] = 255 * clamp(r + grain + (scene.monochrome ? 0.012 : 0));
    out[at * 3 + 1] = 255 * clamp(g + grain);
    out[at * 3 + 2] = 255 * clamp(b + grain - (scene.monochrome ? 0.02 : 0));
  }
  if (scene.monochrome) scratch(out, width, height, scene.seed);
  return out;
}

function scratch(out: Uint8Array, width: number, height: number, seed: number): void {
  const random = randomFrom(seed + 31);
  const lighten = (x: number, y: number, by: number) => {
    if (x < 0 || y < 0 || x >= width || y >= height) return;
    const at = (Math.floor(y) * width + Math.floor(x)) * 3;
    for (let channel = 0; channel < 3; channel++) out[at + channel] = clamp(out[at + channel]! + by, 0, 255);
  };
  for (let speck = 0; speck < 90; speck++) {
    const [x, y, size, by] = [random() * width, random() * height, random() * random() * 4, random() > 0.3 ? 70 : -60];
    for (let dy = -size; dy <= size; dy++) for (let dx = -size; dx <= size; dx++) if (dx * dx + dy * dy <= size * size) lighten(x + dx, y + dy, by * 0.7);
  }
  for (let line = 0; line < 5; line++) {
    let x = random() * width;
    const [start, length] = [random() * height * 0.6, height * (0.2 + random() * 0.6)];
    for (let y = start; y < start + length; y++) lighten((x += (random() - 0.5) * 0.5), y, 34);
  }
}

/** Three box blurs make a round one, near enough to a lens that is out of focus. */
function blurred({ light, width, height }: Canvas, radius: number): Float32Array {
  let from = light;
  for (let pass = 0; pass < 2; pass++) {
    from = boxBlur(from, width, height, radius, 3, width * 3);
    from = boxBlur(from, height, width, radius, width * 3, 3);
  }
  return from;
}

function boxBlur(from: Float32Array, length: number, lines: number, radius: number, step: number, lineStep: number): Float32Array {
  const to = new Float32Array(from.length);
  const size = 2 * radius + 1;
  for (let line = 0; line < lines; line++) {
    for (let channel = 0; channel < 3; channel++) {
      const base = line * lineStep + channel;
      const at = (index: number) => from[base + Math.min(length - 1, Math.max(0, index)) * step]!;
      let sum = 0;
      for (let index = -radius; index <= radius; index++) sum += at(index);
      for (let index = 0; index < length; index++) {
        to[base + index * step] = sum / size;
        sum += at(index + radius + 1) - at(index - radius);
      }
    }
  }
  return to;
}
