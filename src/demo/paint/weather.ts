// What moves in the air before the land: birds, rain, falling snow, waterfalls, stars.

import type { Canvas } from './canvas';
import { clamp, mix, randomFrom, smooth } from './noise';
import { type PaintView, hazeAt } from './view';

/** Birds on the wing: two bent wings and a body, each at its own point of the beat. */
export function paintBirds({ scene, light }: PaintView, canvas: Canvas): void {
  const random = randomFrom(scene.seed * 17 + Math.round(scene.pan * 1000) + scene.birds);
  for (let bird = 0; bird < scene.birds; bird++) {
    const near = Math.pow(random(), 3);
    const size = canvas.height * mix(0.0028, 0.018, near);
    const x = random() * canvas.width;
    const y = canvas.height * (0.04 + random() * 0.72);
    const beat = random() * 2 - 1;
    const bank = (random() - 0.5) * 0.8;
    const pale = random() > 0.25;
    const shade = light.ambient[1] * (pale ? 0.95 : 0.12) + light.sunColour[1] * (pale ? 0.28 : 0.02) + 0.004;
    const wing = (side: number) => {
      let [px, py] = [x, y];
      for (let part = 1; part <= 14; part++) {
        const t = part / 14;
        const lift = beat * Math.sin(t * 2.2) * 0.9 + t * 0.18;
        const nx = x + side * t * size * (0.95 - 0.25 * Math.abs(beat));
        const ny = y - lift * size * 0.62 + side * bank * t * size * 0.5;
        stroke(
          canvas,
          px,
          py,
          nx,
          ny,
          Math.max(0.55, size * 0.15 * (1 - t * 0.75)),
          shade * (t > 0.86 ? 0.25 : 1),
          0.9,
        );
        [px, py] = [nx, ny];
      }
    };
    wing(-1);
    wing(1);
    stroke(canvas, x - size * 0.1, y + size * 0.03, x + size * 0.16, y, Math.max(0.6, size * 0.13), shade * 0.8, 0.95);
  }
}

function stroke(
  canvas: Canvas,
  x0: number,
  y0: number,
  x1: number,
  y1: number,
  thick: number,
  shade: number,
  alpha: number,
): void {
  const steps = Math.max(1, Math.ceil(Math.hypot(x1 - x0, y1 - y0) * 1.5));
  for (let step = 0; step <= steps; step++) {
    const [cx, cy] = [mix(x0, x1, step / steps), mix(y0, y1, step / steps)];
    for (let y = Math.floor(cy - thick - 1); y <= Math.ceil(cy + thick + 1); y++) {
      for (let x = Math.floor(cx - thick - 1); x <= Math.ceil(cx + thick + 1); x++) {
        const cover = clamp(thick + 0.5 - Math.hypot(x + 0.5 - cx, y + 0.5 - cy));
        if (cover > 0) canvas.blend(x, y, 40, cover * alpha * (thick < 1 ? 0.62 : 0.9), shade, shade, shade * 1.04);
      }
    }
  }
}

/** Veils of rain under the clouds, and streaks close by. */
export function paintRain({ scene, light, noise, horizonRow }: PaintView, canvas: Canvas): void {
  const { width, height } = canvas;
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const at = y * width + x;
      if (canvas.depth[at]! < 200) continue;
      const slanted = (x + y * 0.24) / width;
      const veil =
        smooth(-0.15, 0.55, noise.soft(slanted * 2.2, 0.6) + noise.soft(slanted * 9, y / height) * 0.3) *
        scene.rain *
        0.6 *
        smooth(0, 0.7, y / Math.max(1, horizonRow));
      for (let channel = 0; channel < 3; channel++)
        canvas.light[at * 3 + channel] = mix(
          canvas.light[at * 3 + channel]!,
          light.haze[channel]! * 0.78,
          veil * (y < horizonRow ? 1 : 0.4),
        );
    }
  }
  const random = randomFrom(scene.seed + 5);
  for (let drop = 0; drop < 900 * scene.rain; drop++) {
    const [x, y, length] = [random() * width, random() * height, height * (0.012 + random() * 0.03)];
    const shade = light.horizon[1] * (0.8 + random() * 0.4);
    for (let step = 0; step < length; step++)
      canvas.blend(Math.round(x - step * 0.2), Math.round(y + step), 0, 0.14, shade, shade, shade * 1.03);
  }
}

export function paintSnowfall({ scene, light }: PaintView, canvas: Canvas): void {
  const random = randomFrom(scene.seed + 9);
  const shade = light.ambient[1] * 0.8 + light.horizon[1] * 0.7;
  for (let flake = 0; flake < 2600 * scene.snowfall; flake++) {
    const near = Math.pow(random(), 5);
    const [x, y, size] = [random() * canvas.width, random() * canvas.height, 0.7 + near * canvas.height * 0.006];
    for (let dy = -Math.ceil(size); dy <= size; dy++) {
      for (let dx = -Math.ceil(size); dx <= size; dx++) {
        const cover = clamp(size - Math.hypot(dx, dy * 0.8));
        if (cover > 0)
          canvas.blend(
            Math.round(x + dx),
            Math.round(y + dy),
            0,
            cover * (near > 0.2 ? 0.35 : 0.75),
            shade,
            shade,
            shade * 1.03,
          );
      }
    }
  }
}

export function paintStars({ scene, horizonRow }: PaintView, canvas: Canvas): void {
  const random = randomFrom(scene.seed + 3);
  for (let star = 0; star < 700; star++) {
    const [x, y, bright] = [
      Math.floor(random() * canvas.width),
      Math.floor(random() * horizonRow * 0.98),
      Math.pow(random(), 7),
    ];
    if (y < 0 || canvas.depth[y * canvas.width + x] !== Infinity) continue;
    const by = (0.03 + bright * 0.7) * (1 - scene.cloud) * clamp(1.3 - y / horizonRow);
    canvas.glow(x, y, 1e8, 1.1 + bright * 1.2, by, by, by * 1.1);
  }
}

/** Water over the edge of a cliff: found where the land drops, drawn as strands that widen and blow away. */
export function paintFalls(view: PaintView, canvas: Canvas): void {
  const { scene, light, ground, noise, focal, horizonRow, centre } = view;
  const random = randomFrom(scene.seed + 21);
  const wanted = scene.falls > 0.68 ? 2 : 1;
  for (let fall = 0, tries = 0; fall < wanted && tries < 60; tries++) {
    const side = (random() - 0.5) * 0.5 + (tries < 8 ? 0 : (random() - 0.5) * 0.3);
    const edge = cliffAt(ground, scene.nearM, side, scene.step);
    if (!edge || edge.top < 40) continue;
    fall += 1;
    const column = centre + side * focal;
    const topRow = horizonRow - ((edge.top - scene.cameraM) * focal) / edge.z;
    const footRow = horizonRow - ((1 - scene.cameraM) * focal) / (edge.z - 6);
    const wide = Math.max(1.2, (focal / edge.z) * (0.3 + scene.falls * (fall === 1 ? 1 : 0.3) + random() * 0.7));
    const lit = (channel: number) =>
      light.ambient[channel]! * 0.7 + light.sunColour[channel]! * 0.26 + light.horizon[channel]! * 0.14;
    const haze = hazeAt(view, edge.z, 20);
    for (let y = Math.max(0, Math.floor(topRow)); y <= Math.min(canvas.height - 1, footRow); y++) {
      const t = (y - topRow) / Math.max(1, footRow - topRow);
      const reach = wide * (0.5 + t * 1.3 + noise.soft(fall, t * 3) * 0.4);
      const drift = noise.soft(0.4 + fall, t * 0.9) * wide * (0.3 + t * 2.6);
      for (let x = Math.floor(column + drift - reach * 1.6); x <= column + drift + reach * 1.6; x++) {
        const off = Math.abs(x - column - drift) / reach;
        const strands = clamp(noise.soft(((x - column - drift) / wide) * 0.8 + fall, t * 2.4) * 1.2 + 0.62);
        const alpha = clamp((1 - smooth(0.35, 1.3, off)) * strands) * (0.92 - t * 0.3);
        if (alpha > 0.01)
          canvas.blend(
            x,
            y,
            edge.z * 0.9,
            alpha,
            mix(lit(0), light.haze[0], haze),
            mix(lit(1), light.haze[1], haze),
            mix(lit(2), light.haze[2], haze),
          );
      }
    }
    // spray where it strikes the sea
    canvas.glow(column, footRow, edge.z * 0.9, wide * 6, lit(0) * 0.07, lit(1) * 0.07, lit(2) * 0.07);
  }
}

/** Where the sea meets a cliff in this direction, and how high its edge stands. */
function cliffAt(
  ground: PaintView['ground'],
  nearM: number,
  side: number,
  step: number,
): { z: number; top: number } | null {
  for (let z = nearM * 0.6; z < nearM * 2.5; z += 4) {
    if (ground(side * z + step, z) < 2) continue;
    const on = z + 40;
    return { z: z + 6, top: ground(side * on + step, on) };
  }
  return null;
}

/** Blades of grass close by, each a little lighter or darker than the turf it stands in. */
export function paintGrass({ scene, focal, horizonRow }: PaintView, canvas: Canvas): void {
  const random = randomFrom(scene.seed + 31);
  const { width, height, light, depth } = canvas;
  for (let blade = 0; blade < 26_000; blade++) {
    const x = Math.floor(random() * width);
    const y = Math.floor(horizonRow + Math.sqrt(random()) * (height - horizonRow));
    if (y < 1 || y >= height) continue;
    const at = y * width + x;
    const z = depth[at]!;
    if (z > 34) continue;
    const tall = Math.min(height * 0.14, (focal / z) * (0.07 + random() * random() * 0.2));
    const lean = (random() - 0.3) * 0.9;
    const by = 0.55 + random() * 1.1;
    const dry = random() < 0.16 ? 1 : 0;
    const r = light[at * 3]! * by * (1 + dry * 0.55);
    const g = light[at * 3 + 1]! * by * (1 + dry * 0.12);
    const b = light[at * 3 + 2]! * by * (1 + dry * 0.3);
    const thick = Math.max(0.6, (focal / z) * 0.0035);
    for (let up = 0; up < tall; up += 0.7) {
      const t = up / tall;
      const cx = x + lean * t * t * tall * 0.6;
      const reach = thick * (1 - t * 0.8);
      for (let px = Math.floor(cx - reach); px <= cx + reach; px++)
        canvas.blend(
          px,
          Math.round(y - up),
          z * 0.98,
          clamp(reach + 0.6 - Math.abs(px - cx)) * 0.75,
          r * (0.8 + t * 0.4),
          g * (0.8 + t * 0.4),
          b * (0.8 + t * 0.4),
        );
    }
  }
}
