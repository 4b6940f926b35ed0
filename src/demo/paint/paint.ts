// Painting a scene: ground column by column from near to far, sky where no ground stands, water as a mirror pushed
// about by waves, then boats and houses with their reflections, lights, birds, weather.

import { Canvas, LAND, SKY, WATER } from './canvas';
import { type Ground, groundOf } from './ground';
import { type Light, type Vector, lightOf, skyColour } from './light';
import { facesOf } from './models';
import { Noise, clamp, mix, randomFrom, smooth } from './noise';
import type { Colour, Placed, Scene } from './scene';

const NEAREST_M = 2.2;
const FARTHEST_M = 24_000;
/** Each step away is so much longer than the last: fine enough that terraces show no bands. */
const STEP = 1.0105;

export interface View {
  scene: Scene;
  light: Light;
  noise: Noise;
  ground: Ground;
  canvas: Canvas;
  /** Pixels of a metre at a metre's distance, and the horizon's row. */
  focal: number;
  horizonRow: number;
  /** The column straight ahead. */
  centre: number;
}

export function paintScene(scene: Scene): Canvas {
  const canvas = new Canvas(scene.width, scene.height);
  const noise = new Noise(scene.seed);
  const focal = scene.height / 2 / Math.tan((scene.fieldOfView * Math.PI) / 360);
  const view: View = { scene, light: lightOf(scene), noise, ground: groundOf(scene, noise), canvas, focal, horizonRow: scene.horizon * scene.height, centre: scene.width / 2 - scene.pan * focal };
  const shallow = paintGround(view);
  paintSky(view);
  const stands = scene.models.map((placed) => ({ placed, faces: placeFaces(view, placed) }));
  paintWater(view, shallow);
  for (const { placed, faces } of stands.toSorted((a, b) => b.placed.z - a.placed.z)) paintModel(view, placed, faces);
  if (scene.birds > 0) paintBirds(view);
  if (scene.rain > 0) paintRain(view);
  return canvas;
}

/** Distances at which the ground is looked at, and its height there for every column: `heights[column * steps + step]`. */
function surveyGround({ scene, ground, canvas, focal, centre }: View) {
  const distances: number[] = [];
  for (let z = NEAREST_M; z < FARTHEST_M; z *= STEP) distances.push(z);
  const steps = distances.length;
  const heights = new Float32Array(canvas.width * steps);
  for (let column = 0; column < canvas.width; column++) {
    const sideways = (column - centre) / focal;
    let highest = -Infinity;
    for (let step = 0; step < steps; step++) {
      const z = distances[step]!;
      // behind a ridge that hides even the highest ground possible there, nothing needs to be known
      if (step % 16 === 0 && highest > (scene.peakM * 1.6 - scene.cameraM) / z) break;
      const height = ground(sideways * z, z);
      heights[column * steps + step] = height;
      highest = Math.max(highest, (height - scene.cameraM) / z);
    }
  }
  return { distances, heights };
}

/** Returns, per pixel, the height of the ground under the water (for surf and shallows). */
function paintGround(view: View): Float32Array {
  const { scene, light, noise, canvas, focal, horizonRow, centre } = view;
  const { width, height } = canvas;
  const { distances, heights } = surveyGround(view);
  const steps = distances.length;
  const shallow = new Float32Array(width * height).fill(-50);
  const colour = new Float32Array(3);
  for (let column = 0; column < width; column++) {
    const sideways = (column - centre) / focal;
    let reached = height;
    for (let step = 1; step < steps && reached > 0; step++) {
      const [lastZ, z] = [distances[step - 1]!, distances[step]!];
      const [lastHeight, raw] = [heights[column * steps + step - 1]!, heights[column * steps + step]!];
      const row = horizonRow - ((Math.max(0, raw) - scene.cameraM) * focal) / z;
      const top = Math.max(0, Math.ceil(row));
      if (top >= reached) continue;
      const lastRow = horizonRow - ((Math.max(0, lastHeight) - scene.cameraM) * focal) / lastZ;
      const lie = lieOf(heights, distances, width, focal, column, step);
      for (let y = reached - 1; y >= top; y--) {
        const at = y * width + column;
        const t = clamp((lastRow - y) / Math.max(0.001, lastRow - row));
        const pixelZ = mix(lastZ, z, t);
        const pixelHeight = mix(lastHeight, raw, t);
        canvas.depth[at] = pixelZ;
        canvas.what[at] = pixelHeight <= 0 ? WATER : LAND;
        shallow[at] = pixelHeight;
        if (pixelHeight <= 0) continue;
        groundColour(scene, light, noise, lie, sideways * pixelZ, pixelHeight, pixelZ, colour);
        haze(scene, light, pixelZ, pixelHeight, colour);
        canvas.light.set(colour, at * 3);
      }
      reached = top;
    }
  }
  return shallow;
}

/** The normal of the ground, from its neighbours four columns and one step away. */
function lieOf(heights: Float32Array, distances: number[], width: number, focal: number, column: number, step: number): Vector {
  const steps = distances.length;
  const [left, right] = [Math.max(0, column - 4), Math.min(width - 1, column + 4)];
  const z = distances[step]!;
  const dx = (heights[right * steps + step]! - heights[left * steps + step]!) / (((right - left) * z) / focal);
  const [near, far] = [Math.max(0, step - 1), Math.min(steps - 1, step + 1)];
  const along = (heights[column * steps + far]! - heights[column * steps + near]!) / (distances[far]! - distances[near]!);
  const length = Math.hypot(dx, 1, along);
  return [-dx / length, 1 / length, -along / length];
}

function groundColour(scene: Scene, light: Light, noise: Noise, [nx, ny, nz]: Vector, x: number, height: number, z: number, out: Float32Array): void {
  const detail = texture(noise, x, z);
  const broad = noise.layered(x / 190, z / 190, 3);
  const stony = scene.foreground === 'shore' && z < 90 ? 1 : 0;
  const steep = Math.max(stony, smooth(0.86, 0.55, ny + detail * 0.16 + broad * 0.07));
  const rockTone = (0.75 + detail * 0.7 + noise.at(height / 11, x / 900) * 0.5) * (stony > 0 ? 1.25 + detail * 1.4 : 1);
  const wet = 1 - smooth(0.3, 3.4, height + detail * 1.2);
  const tuft = 0.8 + detail * 0.65 + broad * 0.35;
  const snowy = scene.snow > 0 ? smooth(1 - scene.snow, 1.15 - scene.snow, height / Math.max(60, scene.peakM) + detail * 0.2 + ny * 0.35) * (1 - steep * 0.75) : 0;
  const grass: Colour = [mix(0.19, 0.088, scene.green) * tuft, mix(0.155, 0.118, scene.green) * tuft, mix(0.075, 0.036, scene.green) * tuft];
  const dry = clamp(broad * 0.9 + 0.2) * (1 - scene.green * 0.55);
  const rock: Colour = [0.105 * rockTone, 0.096 * rockTone, 0.088 * rockTone];
  const sun = clamp(nx * light.sun[0] + ny * light.sun[1] + nz * light.sun[2]);
  const cast = 0.62 + 0.38 * smooth(-0.25, 0.3, noise.layered(x / 1500 + 9, z / 1500, 3) + 0.42 - scene.cloud * 0.5);
  const sky = 0.45 + 0.55 * ny;
  const water = scene.falls > 0 ? fall(scene, noise, x, z, height, steep) : 0;
  for (let channel = 0; channel < 3; channel++) {
    const straw = channel === 0 ? 0.2 : channel === 1 ? 0.15 : 0.06;
    let base = mix(mix(grass[channel]!, straw * tuft, dry * 0.55), rock[channel]!, steep);
    base = mix(base, stony > 0 ? base * 0.45 : 0.022, wet * 0.8);
    base = mix(base, 0.8, Math.max(snowy, water));
    out[channel] = base * (light.sunColour[channel]! * sun * cast * 2.5 + light.ambient[channel]! * sky * 1.5 + light.horizon[channel]! * 0.2);
  }
}

/** Grain of the ground at every distance: two sizes, blended, so that none is ever too fine for the pixels. */
function texture(noise: Noise, x: number, z: number): number {
  const level = Math.log2(0.9 + z * 0.008);
  const whole = Math.floor(level);
  const [fine, coarse] = [Math.pow(2, whole), Math.pow(2, whole + 1)];
  return mix(noise.layered(x / fine, z / fine, 4), noise.layered(x / coarse, z / coarse, 4), level - whole);
}

/** Thin white threads down the steep parts. */
function fall(scene: Scene, noise: Noise, x: number, z: number, height: number, steep: number): number {
  const lane = x / 46 + noise.at(height / 60, z / 300) * 0.35;
  const nearest = Math.abs(lane - Math.round(lane));
  const chosen = noise.at(Math.round(lane) * 7.7, 3.1) > 0.32 - scene.falls * 0.3;
  return chosen ? smooth(0.055, 0.012, nearest) * (0.35 + steep * 0.65) : 0;
}

function haze(scene: Scene, light: Light, distance: number, height: number, colour: Float32Array): void {
  const low = 0.55 + 0.75 * Math.exp(-height / 110);
  const share = 1 - Math.exp((-distance / scene.hazeM) * low);
  for (let channel = 0; channel < 3; channel++) colour[channel] = mix(colour[channel]!, light.haze[channel]!, share);
}

function directionOf({ centre, focal, horizonRow }: View, column: number, row: number): Vector {
  const [x, y] = [(column - centre) / focal, (horizonRow - row) / focal];
  const length = Math.hypot(x, y, 1);
  return [x / length, y / length, 1 / length];
}

function paintSky(view: View): void {
  const { canvas, scene, light, noise } = view;
  const colour = new Float32Array(3);
  for (let at = 0; at < canvas.what.length; at++) {
    if (canvas.what[at] !== SKY) continue;
    skyColour(scene, light, noise, directionOf(view, at % canvas.width, Math.floor(at / canvas.width)), colour);
    canvas.light.set(colour, at * 3);
  }
}

const DEEP: Colour = [0.008, 0.03, 0.036];

function paintWater(view: View, shallow: Float32Array): void {
  const { canvas, scene, light, noise, focal, horizonRow, centre } = view;
  const mirror = new Float32Array(3);
  for (let at = 0; at < canvas.what.length; at++) {
    if (canvas.what[at] !== WATER) continue;
    const column = at % canvas.width;
    const row = Math.floor(at / canvas.width);
    const z = canvas.depth[at]!;
    const x = ((column - centre) / focal) * z;
    const fade = 1 / (1 + z * 0.006);
    const size = 1.1 + scene.swell * 3.5;
    const rough = 0.25 + scene.swell;
    const waveX = (noise.layered(x / size, z / (size * 2.6), 3) * 0.6 + noise.at(x * 1.7, z * 0.9) * 0.3) * rough;
    const waveZ = (noise.layered(x / (size * 2.2) + 30, z / size - 7, 4) + noise.at(x * 2.3 + 9, z * 1.1) * 0.35) * rough;
    const patch = 0.55 + 0.75 * clamp(noise.layered(x / 160 + 2, z / 420, 3) + 0.45);
    mirrorAt(view, column + waveX * 42 * fade * patch, 2 * horizonRow - row - Math.abs(waveZ) * 95 * fade * patch - scene.swell * 6, mirror);
    const grazing = clamp(scene.cameraM / Math.hypot(z, scene.cameraM) + waveZ * 0.22 * patch, 0.01, 1);
    const fresnel = 0.03 + 0.97 * Math.pow(1 - grazing, 4.2);
    const glint = glitter(light, x, z, scene.cameraM, waveX, waveZ);
    const foam = foamAt(scene, noise, x, z, shallow[at]!, waveZ);
    const lit = light.ambient[1]! * 1.2 + light.sunColour[1]! * 0.35;
    const shelf = smooth(-3.5, 0, shallow[at]!);
    const share = 1 - Math.exp(-z / scene.hazeM);
    for (let channel = 0; channel < 3; channel++) {
      const body = (DEEP[channel]! * 2.2 + shelf * [0.03, 0.06, 0.045][channel]!) * lit + light.ambient[channel]! * 0.035;
      let value = mix(body, mirror[channel]! * 0.93, fresnel) + light.glow[channel]! * glint;
      value = mix(value, 0.75 * lit, foam);
      canvas.light[at * 3 + channel] = mix(value, light.haze[channel]!, share);
    }
  }
}

/** What stands above the water at a mirrored place; below it, nothing mirrors, so the nearest row above serves. */
function mirrorAt({ canvas, horizonRow }: View, column: number, row: number, out: Float32Array): void {
  const x = clamp(Math.round(column), 0, canvas.width - 1);
  let y = clamp(Math.round(row), 0, Math.floor(horizonRow));
  while (y > 0 && canvas.what[y * canvas.width + x] === WATER) y -= 1;
  const at = (y * canvas.width + x) * 3;
  for (let channel = 0; channel < 3; channel++) out[channel] = canvas.light[at + channel]!;
}

function glitter(light: Light, x: number, z: number, cameraM: number, waveX: number, waveZ: number): number {
  const length = Math.hypot(x, cameraM, z);
  const across = x / length - light.sun[0] - waveX * 0.14;
  const along = cameraM / length - light.sun[1] + waveZ * 0.5;
  return Math.exp(-(across * across * 60 + along * along * 26)) * smooth(0.05, 0.5, waveZ + 0.15) * 0.9;
}

function foamAt(scene: Scene, noise: Noise, x: number, z: number, depth: number, wave: number): number {
  const surf = smooth(-1.5 - scene.swell * 2.2, -0.05, depth + noise.layered(x / 5, z / 5, 3) * 1.1) * (0.35 + scene.swell * 0.9);
  const lace = smooth(-0.05, 0.4, noise.layered(x / 1.1, z / 1.6, 4));
  const caps = scene.swell > 0.45 ? smooth(0.34, 0.6, wave * 0.55 + noise.layered(x / 7, z / 4, 4) * 0.75) * (scene.swell - 0.35) * smooth(2500, 200, z) : 0;
  return clamp(surf * lace + caps);
}

interface PlacedFace {
  world: Vector[];
  centreZ: number;
  colour: Colour;
  glows: boolean;
}

/** Turns a model's faces into the world, standing on the ground or afloat. */
function placeFaces({ scene, ground }: View, placed: Placed): PlacedFace[] {
  const afloat = placed.kind === 'boat' || placed.kind === 'trawler' || placed.kind === 'ferry' || placed.kind === 'quay';
  const base = afloat ? 0 : Math.max(0, ground(placed.x, placed.z));
  const turn = (placed.turn * Math.PI) / 180;
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  return facesOf(placed.kind, placed.colour, scene.lights)
    .map(({ points, colour, glows = false }) => {
      const world = points.map(([x, y, z]): Vector => [placed.x + (x * cos - z * sin) * placed.scale, base + y * placed.scale, placed.z + (x * sin + z * cos) * placed.scale]);
      return { world, colour, glows, centreZ: world.reduce((sum, [, , z]) => sum + z, 0) / world.length };
    })
    .sort((a, b) => b.centreZ - a.centreZ);
}

function paintModel(view: View, placed: Placed, faces: PlacedFace[]): void {
  const { scene, focal, horizonRow, light, centre, canvas } = view;
  const project = ([x, y, z]: Vector): [number, number] => [centre + (x * focal) / z, horizonRow - ((y - scene.cameraM) * focal) / z];
  if (faces.some(({ world }) => world.some(([, , z]) => z < 1))) return;
  for (const face of faces) {
    const colour = faceColour(view, face);
    const mirrored = face.world.map(([x, y, z]): [number, number] => project([x, -y, z]));
    const dim: Colour = [colour[0] * 0.62, colour[1] * 0.64, colour[2] * 0.66];
    if (face.world.every(([, y]) => y < 40)) paintReflection(view, mirrored, face.centreZ, dim, face.glows);
  }
  for (const face of faces) {
    const colour = faceColour(view, face);
    const fine = view.noise;
    canvas.fill(face.world.map(project), face.centreZ, 1, null, (x, y) => {
      const grain = 0.93 + 0.14 * fine.at(x * 0.31, y * 0.47) + 0.1 * fine.at(x * 0.05, y * 0.9);
      return [colour[0] * grain, colour[1] * grain, colour[2] * grain];
    });
    if (face.glows) paintGlow(view, face.world.map(project), light, placed.z);
  }
}

function faceColour({ light, scene }: View, { world, colour, glows, centreZ }: PlacedFace): Colour {
  if (glows) return [colour[0] * 1.6, colour[1] * 1.6, colour[2] * 1.6];
  const [a, b, c] = [world[0]!, world[1]!, world[2]!];
  const [u, v]: [Vector, Vector] = [[b[0] - a[0], b[1] - a[1], b[2] - a[2]], [c[0] - a[0], c[1] - a[1], c[2] - a[2]]];
  let normal: Vector = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
  const length = Math.hypot(...normal) || 1;
  normal = [normal[0] / length, normal[1] / length, normal[2] / length];
  if (normal[0] * a[0] + normal[1] * (a[1] - scene.cameraM) + normal[2] * a[2] > 0) normal = [-normal[0], -normal[1], -normal[2]];
  const sun = clamp(normal[0] * light.sun[0] + normal[1] * light.sun[1] + normal[2] * light.sun[2]);
  const sky = 0.5 + 0.5 * normal[1];
  const out = new Float32Array(3);
  for (let channel = 0; channel < 3; channel++) out[channel] = colour[channel]! * (light.sunColour[channel]! * sun * 1.5 + light.ambient[channel]! * sky * 1.6 + light.horizon[channel]! * 0.3);
  haze(scene, light, centreZ, 5, out);
  return [out[0]!, out[1]!, out[2]!];
}

function paintReflection({ canvas, noise, scene }: View, points: [number, number][], depth: number, colour: Colour, glows: boolean): void {
  const wobble = (y: number) => noise.layered(y * 0.11, depth * 0.01, 3) * (5 + scene.swell * 14) + noise.at(y * 0.6, 3) * 2.4;
  const strips = points.map(([x, y]): [number, number] => [x + wobble(y) * 0.3, y]);
  canvas.fill(strips, depth * 0.98, glows ? 0.85 : 0.6, WATER, (x, y) => {
    const gap = noise.layered(x * 0.06, y * 0.35, 3) + noise.at(x * 0.03 + wobble(y), y * 0.12) * 0.5;
    return gap > 0.28 ? null : colour;
  });
}

/** The halo of a lit window, and its streak on the water. */
function paintGlow({ canvas, horizonRow }: View, points: [number, number][], light: Light, z: number): void {
  const [x, y] = [points.reduce((sum, [px]) => sum + px, 0) / points.length, points.reduce((sum, [, py]) => sum + py, 0) / points.length];
  const radius = clamp(2600 / z, 6, 46);
  const strength = 0.028 * clamp(1 - light.horizon[1] * 3, 0.1, 1);
  for (let row = Math.max(0, Math.floor(y - radius)); row < Math.min(canvas.height, y + radius * 7); row++) {
    for (let column = Math.max(0, Math.floor(x - radius)); column < Math.min(canvas.width, x + radius); column++) {
      const at = row * canvas.width + column;
      const water = canvas.what[at] === WATER && row > horizonRow;
      const distance = Math.hypot(column - x, water ? (row - y) * 0.1 : row - y) / radius;
      if (distance >= 1) continue;
      const add = Math.pow(1 - distance, 3) * strength * (water ? 1.3 : 1);
      canvas.light[at * 3] = canvas.light[at * 3]! + add * 1.5;
      canvas.light[at * 3 + 1] = canvas.light[at * 3 + 1]! + add;
      canvas.light[at * 3 + 2] = canvas.light[at * 3 + 2]! + add * 0.45;
    }
  }
}

function paintBirds({ canvas, scene, light, horizonRow }: View): void {
  const random = randomFrom(scene.seed + 77);
  for (let bird = 0; bird < scene.birds; bird++) {
    const [x, y] = [(0.5 + (random() + random() + random() - 1.5) * 0.55) * canvas.width, (0.08 + random() * 0.8) * horizonRow];
    const span = (3 + random() * random() * 22) * (canvas.width / 1200);
    const [lift, tilt] = [(random() - 0.25) * span * 0.5, (random() - 0.5) * 0.7];
    const pale = random() > 0.55;
    const tone: Colour = pale ? [light.ambient[0] * 1.5 + 0.2, light.ambient[1] * 1.5 + 0.2, light.ambient[2] * 1.5 + 0.2] : [light.haze[0] * 0.16, light.haze[1] * 0.17, light.haze[2] * 0.19];
    const thick = Math.max(0.7, span * 0.11);
    for (const side of [-1, 1]) {
      const wing: [number, number][] = [[x, y - thick * 0.5], [x + side * span * 0.5, y - lift + tilt * side * span * 0.2], [x + side * span, y - lift * 0.55 + tilt * side * span * 0.4], [x + side * span * 0.45, y - lift + thick + tilt * side * span * 0.2], [x, y + thick]];
      canvas.fill(wing, 300, 0.9, null, () => tone);
    }
  }
}

function paintRain({ canvas, scene, light }: View): void {
  const random = randomFrom(scene.seed + 99);
  for (let drop = 0; drop < scene.rain * 2600; drop++) {
    const [x, y, length] = [random() * canvas.width, random() * canvas.height, 10 + random() * 34];
    const add = (0.02 + random() * 0.04) * (light.horizon[1] + 0.1);
    for (let step = 0; step < length; step++) {
      const [column, row] = [Math.floor(x - step * 0.16), Math.floor(y + step)];
      if (column < 0 || row >= canvas.height) break;
      const at = (row * canvas.width + column) * 3;
      for (let channel = 0; channel < 3; channel++) canvas.light[at + channel] = canvas.light[at + channel]! + add;
    }
  }
}
