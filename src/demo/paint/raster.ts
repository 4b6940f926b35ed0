// Puts meshes into the picture: four samples a pixel, the nearest wins, each face shaded once a pixel. The same for
// what stands in the world and for its mirror image in the water.

import type { Canvas } from './canvas';
import type { Mesh, Material } from './mesh';
import { clamp, mix, smooth } from './noise';
import { shadeAt } from './shadows';
import { type PaintView, hazeAt } from './view';

/** Samples a pixel, each way. */
const FINE = 2;
const NEAREST_M = 0.35;

let nearest = new Float32Array(0);
let faces = new Int32Array(0);

interface Aim {
  /** Pixels of the canvas per pixel of the picture: 0.5 for the mirror. */
  size: number;
  /** Row of the horizon on the canvas, and which way is up: −1 for the mirror. */
  horizonRow: number;
  up: 1 | -1;
}

const colour = new Float32Array(3);

export function paintMeshes(view: PaintView, canvas: Canvas, mirrored: boolean): void {
  const { scene } = view;
  if (scene.meshes.length === 0) return;
  const fine = mirrored ? 1 : FINE;
  const [width, height] = [canvas.width * fine, canvas.height * fine];
  if (nearest.length < width * height) {
    nearest = new Float32Array(width * height);
    faces = new Int32Array(width * height);
  }
  nearest.fill(0, 0, width * height);
  faces.fill(-1, 0, width * height);
  const aim: Aim = mirrored ? { size: 0.5, horizonRow: 0, up: -1 } : { size: 1, horizonRow: view.horizonRow, up: 1 };
  const bounds = { left: width, right: -1, top: height, bottom: -1 };
  scene.meshes.forEach((mesh, number) => scan(view, aim, mesh, number, fine, width, height, bounds));
  for (
    let y = Math.max(0, Math.floor(bounds.top / fine));
    y <= Math.min(canvas.height - 1, Math.floor(bounds.bottom / fine));
    y++
  ) {
    for (
      let x = Math.max(0, Math.floor(bounds.left / fine));
      x <= Math.min(canvas.width - 1, Math.floor(bounds.right / fine));
      x++
    )
      resolve(view, aim, canvas, x, y, fine, width);
  }
}

interface Bounds {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

const [sx, sy, sz] = [new Float64Array(3), new Float64Array(3), new Float64Array(3)];

/** A face is remembered as mesh number × 2¹⁷ + triangle. */
const FACES = 1 << 17;

function scan(
  view: PaintView,
  aim: Aim,
  mesh: Mesh,
  number: number,
  fine: number,
  width: number,
  height: number,
  bounds: Bounds,
): void {
  const { scene, focal, centre } = view;
  const { points } = mesh;
  const scale = focal * aim.size * fine;
  const middle = centre * aim.size * fine;
  const horizon = aim.horizonRow * fine;
  for (let at = 0, triangle = 0; at < points.length; at += 9, triangle++) {
    if (points[at + 2]! < NEAREST_M || points[at + 5]! < NEAREST_M || points[at + 8]! < NEAREST_M) continue;
    for (let corner = 0; corner < 3; corner++) {
      const z = points[at + corner * 3 + 2]!;
      sx[corner] = middle + ((points[at + corner * 3]! - scene.step) / z) * scale;
      sy[corner] = horizon + ((scene.cameraM - aim.up * points[at + corner * 3 + 1]!) / z) * scale;
      sz[corner] = 1 / z;
    }
    const ax = sx[0]!;
    const bx = sx[1]!;
    const cx = sx[2]!;
    const ay = sy[0]!;
    const by = sy[1]!;
    const cy = sy[2]!;
    const area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay);
    if (Math.abs(area) < 1e-4) continue;
    const left = Math.max(0, Math.floor(Math.min(ax, bx, cx)));
    const right = Math.min(width - 1, Math.ceil(Math.max(ax, bx, cx)));
    const top = Math.max(0, Math.floor(Math.min(ay, by, cy)));
    const bottom = Math.min(height - 1, Math.ceil(Math.max(ay, by, cy)));
    if (right < left || bottom < top) continue;
    bounds.left = Math.min(bounds.left, left);
    bounds.right = Math.max(bounds.right, right);
    bounds.top = Math.min(bounds.top, top);
    bounds.bottom = Math.max(bounds.bottom, bottom);
    const face = number * FACES + triangle;
    for (let y = top; y <= bottom; y++) {
      const py = y + 0.5;
      for (let x = left; x <= right; x++) {
        const px = x + 0.5;
        const b = ((px - ax) * (cy - ay) - (cx - ax) * (py - ay)) / area;
        const c = ((bx - ax) * (py - ay) - (px - ax) * (by - ay)) / area;
        if (b < 0 || c < 0 || b + c > 1) continue;
        const near = sz[0]! + (sz[1]! - sz[0]!) * b + (sz[2]! - sz[0]!) * c;
        const spot = y * width + x;
        if (near <= nearest[spot]!) continue;
        // under water nothing shows
        const above = scene.cameraM - (py - horizon) / scale / near;
        if (aim.up === 1 ? above < 0 : above > 0) continue;
        nearest[spot] = near;
        faces[spot] = face;
      }
    }
  }
}

function resolve(view: PaintView, aim: Aim, canvas: Canvas, x: number, y: number, fine: number, width: number): void {
  const at = y * canvas.width + x;
  const behind = canvas.depth[at]! * 1.004 + 0.02;
  let r = 0;
  let g = 0;
  let b = 0;
  let count = 0;
  let far = 0;
  let lastFace = -1;
  let lastR = 0;
  let lastG = 0;
  let lastB = 0;
  for (let dy = 0; dy < fine; dy++) {
    for (let dx = 0; dx < fine; dx++) {
      const spot = (y * fine + dy) * width + x * fine + dx;
      const face = faces[spot]!;
      if (face < 0) continue;
      const z = 1 / nearest[spot]!;
      if (z > behind) continue;
      if (face !== lastFace) {
        shadeFace(view, aim, face, x + (dx + 0.5) / fine, y + (dy + 0.5) / fine, z);
        lastFace = face;
        lastR = colour[0]!;
        lastG = colour[1]!;
        lastB = colour[2]!;
      }
      r += lastR;
      g += lastG;
      b += lastB;
      far += z;
      count += 1;
    }
  }
  if (count === 0) return;
  const { light } = canvas;
  const share = count / (fine * fine);
  light[at * 3] = light[at * 3]! * (1 - share) + (r / count) * share;
  light[at * 3 + 1] = light[at * 3 + 1]! * (1 - share) + (g / count) * share;
  light[at * 3 + 2] = light[at * 3 + 2]! * (1 - share) + (b / count) * share;
  if (share >= 0.5) canvas.depth[at] = far / count;
}

function shadeFace(view: PaintView, aim: Aim, face: number, x: number, y: number, z: number): void {
  const { scene, light, focal, centre } = view;
  const mesh = scene.meshes[Math.floor(face / FACES)]!;
  const triangle = face % FACES;
  const { points, normals, places } = mesh;
  const at = triangle * 9;
  const wx = ((x / aim.size - centre) / focal) * z + scene.step;
  const wy = aim.up * (scene.cameraM - ((y - aim.horizonRow) / aim.size / focal) * z);
  // where on the face: solved in the plane its normal leans to least
  const e1x = points[at + 3]! - points[at]!;
  const e1y = points[at + 4]! - points[at + 1]!;
  const e1z = points[at + 5]! - points[at + 2]!;
  const e2x = points[at + 6]! - points[at]!;
  const e2y = points[at + 7]! - points[at + 1]!;
  const e2z = points[at + 8]! - points[at + 2]!;
  const px = wx - points[at]!;
  const py = wy - points[at + 1]!;
  const pz = z - points[at + 2]!;
  const d11 = e1x * e1x + e1y * e1y + e1z * e1z;
  const d12 = e1x * e2x + e1y * e2y + e1z * e2z;
  const d22 = e2x * e2x + e2y * e2y + e2z * e2z;
  const dp1 = px * e1x + py * e1y + pz * e1z;
  const dp2 = px * e2x + py * e2y + pz * e2z;
  const under = d11 * d22 - d12 * d12 || 1e-9;
  const b = clamp((d22 * dp1 - d12 * dp2) / under);
  const c = clamp((d11 * dp2 - d12 * dp1) / under, 0, 1 - b);
  const a = 1 - b - c;
  let nx = normals[at]! * a + normals[at + 3]! * b + normals[at + 6]! * c;
  let ny = normals[at + 1]! * a + normals[at + 4]! * b + normals[at + 7]! * c;
  let nz = normals[at + 2]! * a + normals[at + 5]! * b + normals[at + 8]! * c;
  const size = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1;
  // both sides of a face can be seen: the normal is turned to the eye
  const to = nx * (wx - scene.step) + ny * (wy - scene.cameraM) + nz * z > 0 ? -1 / size : 1 / size;
  nx *= to;
  ny *= to;
  nz *= to;
  const place = triangle * 6;
  const u = places[place]! * a + places[place + 2]! * b + places[place + 4]! * c;
  const v = places[place + 1]! * a + places[place + 3]! * b + places[place + 5]! * c;
  const material = mesh.materials[mesh.of[triangle]!]!;
  const footprint = z / focal;
  const by = dress(view, material, u, v, wx, wy, z, footprint);
  const facing = Math.max(0, nx * light.sun[0] + ny * light.sun[1] + nz * light.sun[2]);
  const sun =
    facing > 0 && view.shadows ? facing * shadeAt(view.shadows, wx + nx * 0.1, wy + ny * 0.1, z + nz * 0.1) : facing;
  const base = 0.62 + 0.38 * smooth(0, 1.3, wy - mesh.baseM);
  const open = (0.52 + 0.42 * ny) * base;
  const haze = hazeAt(view, z, wy);
  // what shines: the sun, and the sky at a slant
  const ex = -(wx - scene.step);
  const ey = scene.cameraM - wy;
  const ez = -z;
  const eye = Math.hypot(ex, ey, ez);
  const facingEye = clamp((nx * ex + ny * ey + nz * ez) / eye);
  const gloss = material.gloss ?? 0;
  let spark = 0;
  if (gloss > 0 && sun > 0) {
    const half = Math.hypot(light.sun[0] + ex / eye, light.sun[1] + ey / eye, light.sun[2] + ez / eye) || 1;
    spark =
      gloss *
      Math.pow(
        clamp(
          (nx * (light.sun[0] + ex / eye) + ny * (light.sun[1] + ey / eye) + nz * (light.sun[2] + ez / eye)) / half,
        ),
        60,
      ) *
      2.2;
  }
  const sheen = gloss * 0.6 * Math.pow(1 - facingEye, 4) + (material.surface === 'glass' ? 0.22 : 0);
  for (let channel = 0; channel < 3; channel++) {
    const own = colour[channel]! * by;
    let value =
      own *
      (light.sunColour[channel]! * sun +
        light.ambient[channel]! * open +
        light.horizon[channel]! * 0.16 * (1 - ny) * base);
    value += light.sunColour[channel]! * spark * (sun > 0 ? 1 : 0) + light.horizon[channel]! * sheen * (0.5 + 0.5 * ny);
    if (material.glow && scene.lights) value += material.colour[channel]! * material.glow;
    colour[channel] = mix(value, light.haze[channel]!, haze);
  }
}

/** The face's own colour at a place, into `colour`; returns how light boards and planks leave it there. */
function dress(
  { scene, noise }: PaintView,
  { colour: [r, g, b], surface }: Material,
  u: number,
  v: number,
  x: number,
  y: number,
  z: number,
  footprint: number,
): number {
  colour[0] = r;
  colour[1] = g;
  colour[2] = b;
  const fine = clamp(1.6 - footprint / 0.03);
  const worn = noise.soft(u / 2.3 + x * 0.01, v / 1.9) * 0.22;
  switch (surface) {
    case 'boards':
    case 'clapboard': {
      const along = (surface === 'boards' ? u : v) / 0.17;
      const board = Math.floor(along);
      const gap = Math.abs(along - board - 0.5) > 0.42 ? 0.5 : 1;
      return (1 + worn + noise.soft(board * 0.37, 0.4) * 0.25) * mix(1, gap, fine);
    }
    case 'strakes': {
      const strake = v - Math.floor(v);
      return (1 + worn * 0.7) * mix(1, strake > 0.86 ? 0.6 : 0.93 + strake * 0.12, clamp(1.6 - footprint / 0.06));
    }
    case 'iron':
      return (1 + worn * 0.8) * mix(1, 0.78 + 0.3 * Math.sin(u * 42), fine);
    case 'turf': {
      const tufts = noise.soft(x / 0.7, (y + z) / 0.7) * 0.5 + noise.soft(u / 0.16, v / 0.25) * 0.45 * fine;
      const dry = clamp(0.5 - scene.green * 0.5 + tufts * 0.35);
      const lies = smooth(0.5, 0.9, scene.snow + tufts * 0.3);
      colour[0] = mix(mix(0.095, 0.19, dry), 0.78, lies);
      colour[1] = mix(mix(0.15, 0.155, dry), 0.81, lies);
      colour[2] = mix(mix(0.035, 0.075, dry), 0.86, lies);
      return 1 + tufts * 0.7;
    }
    case 'stone': {
      const stones = noise.soft(u / 0.8, v / 0.5) * 0.6 + noise.ridged(u / 1.6, v / 1.1) * -0.4;
      return 1.1 + stones;
    }
    case 'wool':
      return 1 + noise.soft(x / 0.22, y / 0.22 + z / 0.3) * 0.4 * clamp(2 - footprint / 0.02);
    case 'net': {
      const knots = noise.soft(x / 0.3, y / 0.2 + z / 0.3) * 0.7 + noise.ridged(u / 0.35 + x, v / 0.3 + y) * 0.6;
      return 0.75 + knots * 0.7;
    }
    case 'rust': {
      const eaten = smooth(0.02, 0.4, noise.soft(u / 1.1, v / 2.6) + noise.soft(u / 0.2, v / 0.9) * 0.3);
      colour[0] = mix(r, 0.17, eaten);
      colour[1] = mix(g, 0.068, eaten);
      colour[2] = mix(b, 0.03, eaten);
      return 1 + worn;
    }
    default:
      return 1 + worn * 0.5;
  }
}
