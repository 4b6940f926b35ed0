// From light to a picture as film and lens make it: focus, bloom, metered exposure, tone curve, colour, vignette,
// grain; and dust and scratches where the picture is a scan of something old.

import { fromLinear } from '@/core/looks/colour-science';
import type { Canvas } from './canvas';
import { clamp, mix, randomFrom, smooth } from './noise';
import type { Film, Scene } from './scene';

/** A film that does nothing of its own: each motif and each camera says what is different. */
export const PLAIN_FILM: Film = {
  exposure: 0,
  key: 1,
  warmth: 0,
  contrast: 0.5,
  grain: 0.03,
  monochrome: false,
  wear: 0,
  blur: 0,
  shake: 0,
  focusM: 0,
  aperture: 0,
};

/** The picture as 8-bit sRGB, three bytes a pixel. */
export function develop(
  canvas: Canvas,
  { film, seed, width, height }: Pick<Scene, 'film' | 'seed' | 'width' | 'height'>,
): Uint8Array {
  let light = canvas.light;
  if (film.focusM > 0) light = focused(canvas, film);
  if (film.blur > 0) light = blurred(light, width, height, film.blur);
  if (film.shake > 0) light = shaken(light, width, height, film.shake, seed);
  const bloom = bloomOf(light, width, height);
  const gain = metered(light, width, height, film);
  const picture = print(light, bloom, gain, width, height, film, seed);
  if (film.wear > 0) wearDown(picture, width, height, film.wear, seed);
  return picture;
}

/** What the light is multiplied by, so that the middle of the picture comes out as the meter wants it. */
function metered(light: Float32Array, width: number, height: number, film: Film): number {
  let [sum, weight] = [0, 0];
  for (let y = 2; y < height; y += 6) {
    const across = 1 - Math.abs(y / height - 0.52);
    for (let x = 2; x < width; x += 6) {
      const at = (y * width + x) * 3;
      const luminance = light[at]! * 0.2126 + light[at + 1]! * 0.7152 + light[at + 2]! * 0.0722;
      sum += Math.log(Math.max(0, luminance) + 0.004) * across;
      weight += across;
    }
  }
  const middle = Math.exp(sum / weight);
  return clamp((0.2 * film.key) / middle, 0.15, 26) * Math.pow(2, film.exposure);
}

const LEVELS = 4096;

/** Film's shoulder and toe over the square root of light, to sRGB bytes. */
function toneTable(contrast: number): Float32Array {
  const table = new Float32Array(LEVELS + 1);
  for (let at = 0; at <= LEVELS; at++) {
    const root = (at / LEVELS) * 2.4;
    const light = root * root;
    // a filmic curve of the usual rational form: toe, straight part, shoulder
    const x = Math.max(0, light * 0.86 - 0.002);
    const shoulder = (x * (2.4 * x + 0.06)) / (x * (2.3 * x + 0.62) + 0.13);
    const encoded = fromLinear(shoulder);
    table[at] = 255 * clamp(mix(encoded, encoded * encoded * (3 - 2 * encoded), contrast));
  }
  return table;
}

function print(
  light: Float32Array,
  bloom: Float32Array,
  gain: number,
  width: number,
  height: number,
  film: Film,
  seed: number,
): Uint8Array {
  const picture = new Uint8Array(width * height * 3);
  const table = toneTable(film.contrast);
  const [warm, cold] = [1 + film.warmth * 0.07, 1 - film.warmth * 0.09];
  let state = (seed * 2654435761) >>> 0;
  const halfDiagonal = (width * width + height * height) / 4;
  const small = Math.ceil(width / 4);
  const smallRows = Math.ceil(height / 4);
  const carry = new Float32Array(width + 1);
  for (let y = 0; y < height; y++) {
    const row = Math.min(smallRows - 1, y >> 2) * small;
    let last = 0;
    for (let x = 0; x < width; x++) {
      const at = (y * width + x) * 3;
      const off = ((x - width / 2) * (x - width / 2) + (y - height / 2) * (y - height / 2)) / halfDiagonal;
      const fall = gain * (1 - 0.26 * off * off - 0.07 * off);
      const glow = (row + Math.min(small - 1, x >> 2)) * 3;
      let r = (light[at]! + bloom[glow]!) * fall * warm;
      let g = (light[at + 1]! + bloom[glow + 1]!) * fall;
      let b = (light[at + 2]! + bloom[glow + 2]!) * fall * cold;
      const grey = r * 0.2126 + g * 0.7152 + b * 0.0722;
      if (film.monochrome) {
        // a film more sensitive to blue than to red, as old plates were
        r = g = b = r * 0.16 + g * 0.5 + b * 0.34;
      } else {
        r = grey + (r - grey) * 0.9;
        g = grey + (g - grey) * 0.86;
        b = grey + (b - grey) * 0.9;
      }
      state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
      const one = (state >>> 8) / 16777216;
      state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
      // grain clumps a little with its neighbours to the left and above
      const raw = one + (state >>> 8) / 16777216 - 1;
      const clump = raw + 0.45 * last + 0.45 * carry[x]!;
      last = raw;
      carry[x] = raw;
      const level = Math.sqrt(Math.max(0, grey)) / 2.4;
      const grain = clump * film.grain * 110 * (0.35 + 1.5 * level * clamp(1.35 - level * 2.2, 0, 1));
      picture[at] = toned(table, r) + grain + 0.5;
      picture[at + 1] = toned(table, g) + grain + 0.5;
      picture[at + 2] = toned(table, b) + grain * 0.96 + 0.5;
    }
  }
  return picture;

  function toned(curve: Float32Array, value: number): number {
    const place = value <= 0 ? 0 : Math.sqrt(value) * (LEVELS / 2.4);
    return clamp(curve[place >= LEVELS ? LEVELS : place | 0]!, 6, 249);
  }
}

/** Light that the lens scatters about bright places, at a quarter of the size. */
function bloomOf(light: Float32Array, width: number, height: number): Float32Array {
  const [w, h] = [Math.ceil(width / 4), Math.ceil(height / 4)];
  const small = new Float32Array(w * h * 3);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const from = (Math.min(height - 1, y * 4 + 1) * width + Math.min(width - 1, x * 4 + 1)) * 3;
      for (let channel = 0; channel < 3; channel++)
        small[(y * w + x) * 3 + channel] =
          Math.max(0, light[from + channel]! - 0.9) * 0.16 + light[from + channel]! * 0.02;
    }
  }
  return blurred(small, w, h, 7);
}

/** Two box blurs each way make a round one, near enough to a lens that is out of focus. */
export function blurred(light: Float32Array, width: number, height: number, radius: number): Float32Array {
  let from = light;
  for (let pass = 0; pass < 2; pass++) {
    from = boxBlur(from, width, height, radius, 3, width * 3);
    from = boxBlur(from, height, width, radius, width * 3, 3);
  }
  return from;
}

function boxBlur(
  from: Float32Array,
  length: number,
  lines: number,
  radius: number,
  step: number,
  lineStep: number,
): Float32Array {
  const to = new Float32Array(from.length);
  const by = 1 / (2 * radius + 1);
  for (let line = 0; line < lines; line++) {
    for (let channel = 0; channel < 3; channel++) {
      const base = line * lineStep + channel;
      let sum = from[base]! * radius;
      for (let index = 0; index <= radius; index++) sum += from[base + Math.min(length - 1, index) * step]!;
      for (let index = 0; index < length; index++) {
        to[base + index * step] = sum * by;
        const enter = index + radius + 1;
        const leave = index - radius;
        sum +=
          from[base + (enter < length ? enter : length - 1) * step]! - from[base + (leave > 0 ? leave : 0) * step]!;
      }
    }
  }
  return to;
}

/**
 * Sharp at one distance, softer before and behind it: two softened pictures at half and a quarter of the size, mixed
 * in.
 */
function focused({ light, depth, width, height }: Canvas, { focusM, aperture }: Film): Float32Array {
  const half = halved(light, width, height);
  const [w2, h2] = [width >> 1, height >> 1];
  const soft = blurred(half, w2, h2, 1);
  const quarter = halved(half, w2, h2);
  const [w4, h4] = [w2 >> 1, h2 >> 1];
  const softer = blurred(quarter, w4, h4, 2);
  const out = new Float32Array(light.length);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      const z = depth[at]!;
      const off = Math.min(1, Math.abs(1 / focusM - (z === Infinity ? 0 : 1 / z)) * aperture);
      const one = smooth(0.03, 0.3, off);
      const two = smooth(0.28, 1, off);
      for (let channel = 0; channel < 3; channel++) {
        let value = light[at * 3 + channel]!;
        if (one > 0) value = mix(value, between(soft, w2, h2, x / 2 - 0.25, y / 2 - 0.25, channel), one);
        if (two > 0) value = mix(value, between(softer, w4, h4, x / 4 - 0.375, y / 4 - 0.375, channel), two);
        out[at * 3 + channel] = value;
      }
    }
  }
  return out;
}

function halved(light: Float32Array, width: number, height: number): Float32Array {
  const [w, h] = [width >> 1, height >> 1];
  const out = new Float32Array(w * h * 3);
  for (let y = 0; y < h; y++) {
    for (let x = 0; x < w; x++) {
      const from = (y * 2 * width + x * 2) * 3;
      const below = from + width * 3;
      for (let channel = 0; channel < 3; channel++)
        out[(y * w + x) * 3 + channel] =
          (light[from + channel]! +
            light[from + 3 + channel]! +
            light[below + channel]! +
            light[below + 3 + channel]!) /
          4;
    }
  }
  return out;
}

function between(light: Float32Array, width: number, height: number, x: number, y: number, channel: number): number {
  const cx = x < 0 ? 0 : x > width - 1.001 ? width - 1.001 : x;
  const cy = y < 0 ? 0 : y > height - 1.001 ? height - 1.001 : y;
  const ix = cx | 0;
  const iy = cy | 0;
  const fx = cx - ix;
  const fy = cy - iy;
  const at = (iy * width + ix) * 3 + channel;
  const below = at + width * 3;
  return (
    (light[at]! * (1 - fx) + light[at + 3]! * fx) * (1 - fy) + (light[below]! * (1 - fx) + light[below + 3]! * fx) * fy
  );
}

/** The path of a hand that moved while the shutter was open. */
function shaken(light: Float32Array, width: number, height: number, length: number, seed: number): Float32Array {
  const random = randomFrom(seed + 77);
  const angle = random() * Math.PI;
  const taps = Math.max(3, Math.ceil(length));
  const out = new Float32Array(light.length);
  const offsets = Array.from({ length: taps }, (_, tap) => {
    const t = tap / (taps - 1) - 0.5;
    return [
      Math.round(Math.cos(angle) * length * t + Math.sin(t * 5) * length * 0.12),
      Math.round(Math.sin(angle) * length * t),
    ] as const;
  });
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const at = (y * width + x) * 3;
      for (const [dx, dy] of offsets) {
        const from = (Math.min(height - 1, Math.max(0, y + dy)) * width + Math.min(width - 1, Math.max(0, x + dx))) * 3;
        out[at] = out[at]! + light[from]! / taps;
        out[at + 1] = out[at + 1]! + light[from + 1]! / taps;
        out[at + 2] = out[at + 2]! + light[from + 2]! / taps;
      }
    }
  }
  return out;
}

/** Dust, hairs, scratches, faded blacks and a yellowed paper. */
function wearDown(picture: Uint8Array, width: number, height: number, wear: number, seed: number): void {
  const random = randomFrom(seed * 3 + 1);
  for (let at = 0; at < picture.length; at += 3) {
    picture[at] = mix(26, 243, picture[at]! / 255) + 2;
    picture[at + 1] = mix(24, 237, picture[at + 1]! / 255);
    picture[at + 2] = mix(21, 222, picture[at + 2]! / 255);
  }
  const lighten = (x: number, y: number, by: number) => {
    const [px, py] = [Math.round(x), Math.round(y)];
    if (px < 0 || py < 0 || px >= width || py >= height) return;
    for (let channel = 0; channel < 3; channel++)
      picture[(py * width + px) * 3 + channel] = clamp(picture[(py * width + px) * 3 + channel]! + by, 8, 246);
  };
  for (let speck = 0; speck < 170 * wear; speck++) {
    const [x, y, size, by] = [
      random() * width,
      random() * height,
      0.4 + random() * random() * 2.4,
      random() > 0.35 ? 66 : -52,
    ];
    for (let dy = -3; dy <= 3; dy++)
      for (let dx = -3; dx <= 3; dx++)
        if (dx * dx + dy * dy <= size * size) lighten(x + dx, y + dy, by * (0.5 + random() * 0.4));
  }
  for (let hair = 0; hair < 9 * wear; hair++) {
    let [x, y, angle] = [random() * width, random() * height, random() * 6.3];
    for (let step = 0; step < 25 + random() * 60; step++) {
      angle += (random() - 0.5) * 0.34;
      lighten((x += Math.cos(angle)), (y += Math.sin(angle)), 46);
    }
  }
  for (let line = 0; line < 6 * wear; line++) {
    let x = random() * width;
    const [start, length, by] = [random() * height * 0.6, height * (0.15 + random() * 0.6), 16 + random() * 26];
    for (let y = start; y < start + length; y++) lighten((x += (random() - 0.5) * 0.4), y, by);
  }
}
