// Land: the ground looked at column by column from near to far, lit, and coloured by what grows or lies on it.

import { Canvas } from './canvas';
import { FOREGROUND_M, QUAY } from './ground';
import { type Vector, sunPatch } from './light';
import { clamp, mix, smooth } from './noise';
import { shadeAt } from './shadows';
import { type PaintView, hazeAt } from './view';

const NEAREST_M = 1.3;
const FARTHEST_M = 24_000;
/** Each step away is so much longer than the last: fine enough that terraces show no bands. */
const STEP = 1.012;
/** Shadows of hills are worked out on every so many columns and steps of the survey. */
const SPARSE = 6;
/** Columns painted before they are put into the picture: pixels above each other lie far apart in memory. */
const STRIP = 16;

interface Survey {
  columns: number;
  steps: number;
  distances: Float32Array;
  heights: Float32Array;
  /**
   * What changes slowly, on the sparse grid: share of the sun that arrives, bend of the ground's details, wide patches.
   */
  sunlit: Float32Array;
  bendX: Float32Array;
  bendZ: Float32Array;
  wide: Float32Array;
  sparseSteps: number;
}

function survey({ scene, ground, light, noise, focal, centre }: PaintView): Survey {
  const list: number[] = [];
  for (let z = NEAREST_M; z < FARTHEST_M; z *= STEP) list.push(z);
  const distances = Float32Array.from(list);
  const steps = distances.length;
  const columns = scene.width;
  const heights = new Float32Array(columns * steps);
  for (let column = 0; column < columns; column += 2) {
    const sideways = (column - centre) / focal;
    let highest = -Infinity;
    for (let step = 0; step < steps; step++) {
      const z = distances[step]!;
      // behind a ridge that hides even the highest ground possible there, nothing needs to be known
      if ((step & 15) === 0 && highest > (scene.peakM * 1.6 - scene.cameraM) / z) break;
      const height = ground(sideways * z + scene.step, z);
      heights[column * steps + step] = height;
      const rise = (height - scene.cameraM) / z;
      if (rise > highest) highest = rise;
    }
  }
  for (let column = 1; column < columns; column += 2) {
    const [here, left, right] = [
      column * steps,
      (column - 1) * steps,
      Math.min(columns - 2 + (columns & 1), column + 1) * steps,
    ];
    for (let step = 0; step < steps; step++)
      heights[here + step] = (heights[left + step]! + heights[right + step]!) / 2;
  }
  const sparseColumns = Math.ceil(columns / SPARSE) + 1;
  const sparseSteps = Math.ceil(steps / SPARSE) + 1;
  const grid = () => new Float32Array(sparseColumns * sparseSteps);
  const slow = { sunlit: grid(), bendX: grid(), bendZ: grid(), wide: grid() };
  const shadows = light.sunColour[0] > 0.05 && light.sun[1] > 0.01 && light.sun[1] < 0.8;
  for (let c = 0; c < sparseColumns; c++) {
    for (let s = 0; s < sparseSteps; s++) {
      const z = distances[Math.min(steps - 1, s * SPARSE)]!;
      const x = ((c * SPARSE - centre) / focal) * z + scene.step;
      const height = heights[Math.min(columns - 1, c * SPARSE) * steps + Math.min(steps - 1, s * SPARSE)]!;
      const at = c * sparseSteps + s;
      slow.bendX[at] = noise.soft(x / 610, z / 610) * 46;
      slow.bendZ[at] = noise.soft(z / 530 + 0.9, x / 530) * 46;
      slow.wide[at] = noise.soft(x / 420 + 0.7, z / 420 + height / 160);
      slow.sunlit[at] =
        sunPatch(scene, noise, x, z) * (shadows && height > -20 ? openToSun(light.sun, ground, x, height, z) : 1);
    }
  }
  return { columns, steps, distances, heights, ...slow, sparseSteps };
}

/** Share of the sun that hills between leave: 1 in the open. */
function openToSun(
  [sunX, sunY, sunZ]: Vector,
  ground: PaintView['ground'],
  x: number,
  height: number,
  z: number,
): number {
  let open = 1;
  let far = 4 + z * 0.012;
  for (let hop = 0; hop < 13 && open > 0; hop++) {
    const over = height + 1 + sunY * far - ground(x + sunX * far, Math.max(1, z + sunZ * far));
    open = Math.min(open, 0.5 + over / (far * 0.09 + 1));
    far *= 1.5;
  }
  return clamp(open);
}

/** Paints the land. Returns, per pixel, the height of the ground under the water (for surf and shallows). */
export function paintLand(view: PaintView, canvas: Canvas, mirror: Canvas | null): Float32Array {
  const surveyed = survey(view);
  const bed = new Float32Array(canvas.width * canvas.height).fill(-50);
  const strip = new Canvas(STRIP, canvas.height);
  const stripBed = new Float32Array(STRIP * canvas.height);
  for (let first = 0; first < canvas.width; first += STRIP) {
    const wide = Math.min(STRIP, canvas.width - first);
    strip.depth.fill(Infinity);
    stripBed.fill(-50);
    for (let column = 0; column < wide; column++) paintColumn(view, surveyed, first + column, column, strip, stripBed);
    for (let y = 0; y < canvas.height; y++) {
      const [from, to] = [y * STRIP, y * canvas.width + first];
      canvas.light.set(strip.light.subarray(from * 3, (from + wide) * 3), to * 3);
      canvas.depth.set(strip.depth.subarray(from, from + wide), to);
      bed.set(stripBed.subarray(from, from + wide), to);
    }
  }
  if (mirror)
    for (let x = 0; x < mirror.width; x++) mirrorColumn(view, surveyed, Math.min(canvas.width - 1, x * 2), x, mirror);
  return bed;
}

const colour = new Float32Array(3);

function paintColumn(
  view: PaintView,
  survey_: Survey,
  column: number,
  x: number,
  { light, depth, width, height }: Canvas,
  bed: Float32Array,
): void {
  const { scene, focal, horizonRow, centre } = view;
  const { steps, distances, heights } = survey_;
  const sideways = (column - centre) / focal;
  const base = column * steps;
  let reached = height;
  let lastRow = Infinity;
  for (let step = 1; step < steps && reached > 0; step++) {
    const z = distances[step]!;
    const raw = heights[base + step]!;
    const row = horizonRow - ((Math.max(0, raw) - scene.cameraM) * focal) / z;
    const top = Math.max(0, Math.ceil(row));
    const before = lastRow;
    lastRow = row;
    if (top >= reached) continue;
    const lastZ = distances[step - 1]!;
    const lastHeight = heights[base + step - 1]!;
    for (let y = reached - 1; y >= top; y--) {
      const t = before === Infinity ? 1 : clamp((before - y) / Math.max(0.001, before - row));
      const pixelHeight = mix(lastHeight, raw, t);
      const at = y * width + x;
      if (pixelHeight <= 0) {
        bed[at] = pixelHeight;
        continue;
      }
      const pixelZ = mix(lastZ, z, t);
      depth[at] = pixelZ;
      shadeLand(view, survey_, column, step, sideways * pixelZ + scene.step, pixelZ, pixelHeight);
      light[at * 3] = colour[0]!;
      light[at * 3 + 1] = colour[1]!;
      light[at * 3 + 2] = colour[2]!;
    }
    reached = top;
  }
}

/** The land seen in still water: as from under it, at half the size. */
function mirrorColumn(
  view: PaintView,
  survey_: Survey,
  column: number,
  x: number,
  { light, depth, width, height }: Canvas,
): void {
  const { scene, focal, centre } = view;
  const { steps, distances, heights } = survey_;
  const sideways = (column - centre) / focal;
  const base = column * steps;
  let from = height;
  let to = -1;
  for (let step = 1; step < steps; step++) {
    const raw = heights[base + step]!;
    const z = distances[step]!;
    if (raw <= 0 || z < FOREGROUND_M[scene.foreground]) continue;
    const top = Math.max(0, Math.floor((scene.cameraM * focal) / z / 2));
    const end = Math.min(height - 1, Math.floor(((raw + scene.cameraM) * focal) / z / 2));
    for (let y = top; y <= end; y++) {
      if (y === from) y = to + 1;
      if (y > end) break;
      const at = y * width + x;
      const seen = ((y + 0.5) * 2 * z) / focal - scene.cameraM;
      depth[at] = z;
      shadeLand(view, survey_, column, step, sideways * z + scene.step, z, Math.max(0.3, seen));
      light[at * 3] = colour[0]!;
      light[at * 3 + 1] = colour[1]!;
      light[at * 3 + 2] = colour[2]!;
    }
    if (end < top) continue;
    from = Math.min(from, top);
    to = Math.max(to, end);
  }
}

function shadeLand(
  view: PaintView,
  { columns, steps, distances, heights, sunlit, bendX, bendZ, wide, sparseSteps }: Survey,
  column: number,
  step: number,
  x: number,
  z: number,
  height: number,
): void {
  const { scene, light, focal, noise } = view;
  const apart = z / focal;
  const left = Math.max(0, column - 1);
  const right = Math.min(columns - 1, column + 1);
  const before = Math.max(0, step - 1);
  const slopeX = (heights[right * steps + step]! - heights[left * steps + step]!) / (apart * (right - left));
  const along =
    (heights[column * steps + step]! - heights[column * steps + before]!) /
    Math.max(0.01, distances[step]! - distances[before]!);
  const slopeZ = along - slopeX * ((x - scene.step) / z);
  const c = column / SPARSE;
  const s = step / SPARSE;
  const ci = Math.floor(c);
  const si = Math.floor(s);
  const at = ci * sparseSteps + si;
  const next = at + sparseSteps;
  // shares of the four places of the sparse grid about this one
  const w11 = (c - ci) * (s - si);
  const w10 = c - ci - w11;
  const w01 = s - si - w11;
  const w00 = 1 - w10 - w01 - w11;
  let sun = sunlit[at]! * w00 + sunlit[at + 1]! * w01 + sunlit[next]! * w10 + sunlit[next + 1]! * w11;
  if (view.shadows && sun > 0 && z < view.shadows.withinM) sun *= shadeAt(view.shadows, x, height, z);
  // details are looked up in a ground bent and turned, so that the eye finds no repeat in them
  const bentX = x + bendX[at]! * w00 + bendX[at + 1]! * w01 + bendX[next]! * w10 + bendX[next + 1]! * w11;
  const bentZ = z + bendZ[at]! * w00 + bendZ[at + 1]! * w01 + bendZ[next]! * w10 + bendZ[next + 1]! * w11;
  const tx = bentX * 0.8 + bentZ * 0.6;
  const tz = bentZ * 0.8 - bentX * 0.6;
  const near = cover(
    view,
    x,
    z,
    tx,
    tz,
    height,
    Math.sqrt(slopeX * slopeX + slopeZ * slopeZ),
    apart,
    wide[at]! * w00 + wide[at + 1]! * w01 + wide[next]! * w10 + wide[next + 1]! * w11,
  );
  // the normal, roughened where the footprint of a pixel is small enough to show it
  const bump = 0.5 * clamp(2.5 - apart / 0.6) + 0.25;
  const nx = -slopeX - (near * 1.5 + noise.soft(tx / 37, tz / 37 + height / 21)) * bump;
  const nz = -slopeZ - (near * -1.1 + noise.soft(tx / 33 + 0.2, tz / 33 + height / 19)) * bump;
  const length = Math.sqrt(nx * nx + nz * nz + 1);
  const facing = Math.max(0, (nx * light.sun[0] + light.sun[1] + nz * light.sun[2]) / length);
  const open = 0.5 + 0.5 / length;
  const haze = hazeAt(view, z, height);
  const capped =
    scene.cloudBaseM > 0
      ? smooth(
          scene.cloudBaseM - 40,
          scene.cloudBaseM + 130,
          height + noise.soft(x / 900, z / 900 + height / 300) * 190,
        )
      : 0;
  for (let channel = 0; channel < 3; channel++) {
    const lit =
      colour[channel]! *
      (light.sunColour[channel]! * facing * sun + light.ambient[channel]! * open + light.horizon[channel]! * 0.1);
    const aired = mix(lit, light.haze[channel]!, haze);
    colour[channel] = mix(aired, light.haze[channel]! * 0.96 + light.sunColour[channel]! * 0.05, capped);
  }
}

/**
 * What the ground is covered with here, into `colour`: turf, heath, basalt, scree, wet stones, snow, concrete. Returns
 * its roughness.
 */
function cover(
  view: PaintView,
  x: number,
  z: number,
  tx: number,
  tz: number,
  height: number,
  slope: number,
  footprint: number,
  wide: number,
): number {
  const { scene, noise } = view;
  if (scene.foreground === 'quay' && z < QUAY.farM + 0.2 && height < QUAY.topM + 1)
    return concrete(view, x, z, footprint);
  if (scene.foreground === 'slip' && z < 66) return gravel(view, x, z, height);
  const fine = clamp(1.6 - footprint / 0.05);
  const middling = clamp(1.6 - footprint / 1.2);
  const near =
    ((fine > 0 ? noise.soft(tx / 0.9 + 0.3, tz / 0.9) * fine * 1.5 : 0) +
      (middling > 0 ? noise.soft(tx / 14, tz / 14 + height / 9) * middling : 0)) *
    0.5;
  const strata = noise.soft(x / 900 + 2, height / 26 + wide * 0.5);
  const patches = smooth(-0.25, 0.5, wide + near * 0.6);
  const crag =
    smooth(
      0.66,
      0.95,
      noise.ridged(tx / 300 + height / 700, tz / 900 + height / 170) + near * 0.2 + strata * 0.1 + wide * 0.12,
    ) *
    smooth(14, 70, height) *
    0.8;
  const rock = clamp(
    Math.max(crag, smooth(0.62, 1.25, slope + near * 0.5 + strata * 0.28)) +
      (scene.foreground === 'shore' && z < 60 ? smooth(2.4, 0.8, height) * 0.94 : 0),
  );
  const shadeOf = 1 + near * 0.75 + wide * 0.25;
  const straw = 1 - scene.green;
  // turf from straw to summer green, with darker heath in patches
  let r = mix(mix(0.105, 0.075, patches), mix(0.2, 0.14, patches), straw) * shadeOf;
  let g = mix(mix(0.125, 0.083, patches), mix(0.155, 0.11, patches), straw) * shadeOf;
  let b = mix(mix(0.034, 0.031, patches), mix(0.078, 0.062, patches), straw) * shadeOf;
  const stone = 0.07 * (1 + strata * 0.6 + near * 0.9) + 0.01;
  r = mix(r, stone * 1.12, rock);
  g = mix(g, stone * 0.98, rock);
  b = mix(b, stone * 0.84, rock);
  // the belt the sea washes: black weed under, bare rock above
  const washed = smooth(5.5, 1.4, height + near * 2 + wide * 2) * (slope > 0.1 || z > 80 ? 1 : 0.6);
  if (washed > 0) {
    const wet = height < 1.3 ? 0.35 : 0.75;
    r = mix(r, stone * wet, washed);
    g = mix(g, stone * wet * 0.95, washed);
    b = mix(b, stone * wet * 0.82, washed);
  }
  if (scene.foreground === 'wall' && rock > 0.4) {
    // whitened by those who nest there, ledge under ledge
    const white =
      smooth(0.25, 0.75, noise.soft(x / 30, height / 7 + 0.3) + noise.soft(x / 6, height / 30) * 0.4 + strata * 0.3) *
      smooth(4, 16, height) *
      smooth(150, 60, height) *
      0.5 *
      clamp(scene.birds / 60);
    r = mix(r, 0.36, white);
    g = mix(g, 0.355, white);
    b = mix(b, 0.33, white);
  }
  if (scene.snow > 0) {
    const lies =
      smooth(
        0.98 - scene.snow * 1.05,
        1.2 - scene.snow * 0.9,
        0.48 + height / 1500 + near * 0.45 + wide * 0.22 - slope * 0.36,
      ) * (height > 1.2 ? 1 : 0);
    r = mix(r, 0.78, lies);
    g = mix(g, 0.81, lies);
    b = mix(b, 0.86, lies);
  }
  colour[0] = Math.max(0.004, r);
  colour[1] = Math.max(0.004, g);
  colour[2] = Math.max(0.004, b);
  return near;
}

function concrete({ scene, noise }: PaintView, x: number, z: number, footprint: number): number {
  const fine = clamp(1.5 - footprint / 0.02);
  const stain =
    noise.soft(x / 7, z / 4) * 0.3 + noise.soft(x / 1.1, z / 1.1) * 0.22 + noise.soft(x / 0.12, z / 0.12) * 0.2 * fine;
  const seam = Math.min(Math.abs((((x % 4) + 4) % 4) - 2), Math.abs((z % 5) - 2.5));
  const wet = smooth(0.05, 0.3, noise.soft(x / 5 + 0.4, z / 3 + 1)) * (scene.cloud > 0.6 ? 0.6 : 0.3);
  const edge = z > QUAY.farM - 0.45 ? 0.75 : 1;
  const by = 0.27 * (1 + stain) * (seam < 0.025 ? 0.45 : 1) * (1 - wet) * edge;
  const lies = scene.snow > 0 ? smooth(0.15, -0.25, noise.soft(x / 6, z / 9) + 0.55 - scene.snow) : 0;
  colour[0] = mix(by, 0.76 + stain * 0.1, lies);
  colour[1] = mix(by * 0.985, 0.79 + stain * 0.1, lies);
  colour[2] = mix(by * 0.94, 0.84 + stain * 0.1, lies);
  return stain * 0.08;
}

function gravel({ noise }: PaintView, x: number, z: number, height: number): number {
  const stones = noise.soft(x / 0.5, z / 0.5) * 0.55 + noise.soft(x / 4, z / 4) * 0.4;
  const grassy = smooth(0.1, 0.5, noise.soft(x / 9 + 0.7, z / 9) + (Math.abs(x) - 9) * 0.08);
  const wet = smooth(0.9, 0.2, height);
  colour[0] = mix(0.15 * (1 + stones), 0.1 * (1 + stones), grassy) * (1 - wet * 0.6);
  colour[1] = mix(0.142 * (1 + stones), 0.14 * (1 + stones), grassy) * (1 - wet * 0.6);
  colour[2] = mix(0.125 * (1 + stones), 0.045 * (1 + stones), grassy) * (1 - wet * 0.6);
  return stones * 0.5;
}
