// Boats and ships, along z with the bow towards −z, their waterline at height 0.

import type { Vector } from './light';
import { type Material, MeshShape } from './mesh';
import { clamp, mix } from './noise';
import type { Colour } from './scene';

const paint = (colour: Colour, surface: Material['surface'] = 'plain', gloss = 0.35): Material => ({
  colour,
  surface,
  gloss,
});
const TAR = paint([0.03, 0.024, 0.02], 'strakes', 0.3);
const OILED = paint([0.21, 0.105, 0.042], 'strakes', 0.4);
const WHITE = paint([0.66, 0.66, 0.63], 'plain', 0.3);
const CREAM = paint([0.6, 0.55, 0.44], 'clapboard', 0.3);
const DECK = paint([0.22, 0.17, 0.12], 'boards', 0.1);
const RED_LEAD = paint([0.3, 0.05, 0.03], 'plain', 0.2);
const IRON = paint([0.09, 0.09, 0.095], 'rust', 0.2);
const ROPE = paint([0.2, 0.16, 0.1]);
const GLASS: Material = { colour: [0.02, 0.028, 0.032], surface: 'glass', gloss: 0.9 };
const LIT_GLASS: Material = { colour: [1, 0.46, 0.13], surface: 'glass', gloss: 0.3, glow: 0.9 };
const LAMP: Material = { colour: [1, 0.78, 0.5], surface: 'plain', glow: 9 };

/** Colours hulls are painted in these islands: common practice, no source. */
const TOPSIDES: Colour[] = [
  [0.05, 0.11, 0.2],
  [0.33, 0.045, 0.03],
  [0.045, 0.13, 0.1],
  [0.56, 0.56, 0.53],
  [0.06, 0.06, 0.065],
  [0.42, 0.26, 0.06],
  [0.08, 0.2, 0.28],
];

interface Lines {
  lengthM: number;
  beamM: number;
  /** Height of the side over the water amidships, how much it rises at bow and stern. */
  sideM: number;
  bowRise: number;
  sternRise: number;
  /** Depth of the keel under the water. */
  keelM: number;
  /** How full the ends are: 2 sharp, 5 boxy; and how wide the stern is against the middle. */
  fullness: number;
  stern: number;
}

const STATIONS = 22;

/** Points of one side, from the keel to the rail, at every station from bow (0) to stern. */
function side(
  { lengthM, beamM, sideM, bowRise, sternRise, keelM, fullness, stern }: Lines,
  hand: 1 | -1,
  bands: number,
  inset = 0,
): Vector[][] {
  return Array.from({ length: STATIONS + 1 }, (_, station) => {
    const t = (station / STATIONS) * 2 - 1;
    const aft = t > 0 ? stern : 0;
    const wide =
      Math.max(0, (1 - Math.pow(Math.abs(t), fullness)) * (1 - aft) + aft * (1 - 0.25 * t * t)) * (beamM / 2) - inset;
    const rail = sideM + (t < 0 ? bowRise : sternRise) * Math.pow(Math.abs(t), 2.4) - inset * 0.4;
    const keel = -keelM + Math.pow(Math.abs(t), 6) * (t < 0 ? keelM * 1.3 : keelM * 0.4);
    // the bow rakes out over the water
    const rake = t < 0 ? Math.pow(-t, 7) * lengthM * 0.05 : 0;
    return Array.from({ length: bands + 1 }, (_, band): Vector => {
      const up = band / bands;
      const flare = Math.pow(up, 0.55 + 0.5 * Math.pow(Math.abs(t), 2));
      return [hand * Math.max(0.02, wide * flare), mix(keel, rail, up), (t * lengthM) / 2 - rake * up];
    });
  });
}

function hull(shape: MeshShape, lines: Lines, materialOf: (band: number) => Material, bands = 8): void {
  for (const hand of [1, -1] as const) {
    shape.skin(side(lines, hand, bands), materialOf);
    const rail = side(lines, hand, 1).map((rib) => rib[1]!);
    for (let at = 0; at + 1 < rail.length; at++)
      shape.tube(rail[at]!, rail[at + 1]!, 0.035 + lines.lengthM * 0.003, WHITE, undefined, 5);
  }
  if (lines.stern > 0.1) {
    const [right, left] = [side(lines, 1, bands).at(-1)!, side(lines, -1, bands).at(-1)!];
    for (let band = 0; band < bands; band++)
      shape.quad(right[band]!, left[band]!, left[band + 1]!, right[band + 1]!, materialOf(band));
  }
}

function deckAt(shape: MeshShape, lines: Lines, belowRailM: number, material: Material): void {
  const [right, left] = [side(lines, 1, 1), side(lines, -1, 1)];
  for (let at = 0; at < STATIONS; at++) {
    const level = (rib: Vector[]): Vector => [rib[1]![0] * 0.97, rib[1]![1] - belowRailM, rib[1]![2]];
    shape.quad(level(right[at]!), level(left[at]!), level(left[at + 1]!), level(right[at + 1]!), material);
  }
}

/** An open rowing boat with a high stem at both ends. `afloat` false shows it as on a slip, keel and all. */
export function openBoat(colour: number, lengthM = 6.4): MeshShape {
  const shape = new MeshShape();
  const lines: Lines = {
    lengthM,
    beamM: lengthM * 0.27,
    sideM: 0.42,
    bowRise: 0.62,
    sternRise: 0.52,
    keelM: 0.26,
    fullness: 2,
    stern: 0,
  };
  const outside = [TAR, OILED, paint(TOPSIDES[colour % TOPSIDES.length]!, 'strakes')][colour % 3]!;
  hull(shape, lines, (band) => (band === 6 ? paint([0.5, 0.48, 0.42], 'strakes') : outside), 7);
  for (const hand of [1, -1] as const) shape.skin(side(lines, hand, 5, 0.05), () => OILED);
  for (const [end, rise] of [
    [-1, 0.34],
    [1, 0.28],
  ] as const)
    shape.tube(
      [0, 0, (end * lengthM) / 2],
      [0, lines.sideM + (end < 0 ? lines.bowRise : lines.sternRise) + rise, ((end * lengthM) / 2) * 1.045],
      0.06,
      OILED,
      0.04,
    );
  for (const at of [-0.42, -0.1, 0.22, 0.5])
    shape.box([-lengthM * 0.115, 0.22, at * lengthM * 0.5], [lengthM * 0.115, 0.26, at * lengthM * 0.5 + 0.22], OILED);
  for (const hand of [-1, 1])
    shape.tube([hand * 0.25, 0.36, -lengthM * 0.3], [hand * 0.3, 0.34, lengthM * 0.28], 0.03, paint([0.4, 0.27, 0.13]));
  return shape;
}

function windowsAround(
  shape: MeshShape,
  [x0, y0, z0]: Vector,
  [x1, y1, z1]: Vector,
  everyM: number,
  glass: Material,
): void {
  const row = (from: number, to: number) => Math.max(1, Math.floor((to - from) / everyM));
  const put = (a: Vector, b: Vector) => shape.quad(a, b, [b[0], y1, b[2]], [a[0], y1, a[2]], glass);
  for (let at = 0, count = row(x0, x1), wide = (x1 - x0) / count; at < count; at++) {
    put([x0 + wide * (at + 0.14), y0, z0 - 0.03], [x0 + wide * (at + 0.86), y0, z0 - 0.03]);
    put([x0 + wide * (at + 0.14), y0, z1 + 0.03], [x0 + wide * (at + 0.86), y0, z1 + 0.03]);
  }
  for (let at = 0, count = row(z0, z1), wide = (z1 - z0) / count; at < count; at++) {
    put([x0 - 0.03, y0, z0 + wide * (at + 0.14)], [x0 - 0.03, y0, z0 + wide * (at + 0.86)]);
    put([x1 + 0.03, y0, z0 + wide * (at + 0.14)], [x1 + 0.03, y0, z0 + wide * (at + 0.86)]);
  }
}

/** A decked boat of the line fleet with her wheelhouse aft or forward. */
export function fishingBoat(colour: number, lit: boolean, lengthM = 11): MeshShape {
  const shape = new MeshShape();
  const by = lengthM / 11;
  const lines: Lines = {
    lengthM,
    beamM: 3.6 * by,
    sideM: 1.05 * by,
    bowRise: 1.15 * by,
    sternRise: 0.35 * by,
    keelM: 0.5 * by,
    fullness: 2.5,
    stern: colour % 2 === 0 ? 0.5 : 0.05,
  };
  const topsides = paint(TOPSIDES[colour % TOPSIDES.length]!, 'strakes', 0.5);
  hull(shape, lines, (band) => (band < 3 ? RED_LEAD : band === 9 ? WHITE : topsides), 10);
  deckAt(shape, lines, 0.45 * by, DECK);
  const forward = colour % 3 === 0;
  const z = (forward ? -0.12 : 0.2) * lengthM;
  const floor = 0.62 * by;
  const house = colour % 2 === 0 ? WHITE : CREAM;
  shape.box([-0.95 * by, floor, z - 1.1 * by], [0.95 * by, floor + 1.95 * by, z + 1.2 * by], house);
  shape.box(
    [-1.1 * by, floor + 1.95 * by, z - 1.3 * by],
    [1.1 * by, floor + 2.05 * by, z + 1.3 * by],
    paint(TOPSIDES[(colour + 3) % TOPSIDES.length]!),
  );
  windowsAround(
    shape,
    [-0.95 * by, floor + 1.15 * by, z - 1.1 * by],
    [0.95 * by, floor + 1.7 * by, z + 1.2 * by],
    0.62 * by,
    lit ? LIT_GLASS : GLASS,
  );
  const mast = forward ? 0.22 * lengthM : -0.16 * lengthM;
  shape.tube([0, floor, mast], [0, 5.6 * by, mast], 0.085 * by, CREAM, 0.05 * by);
  shape.tube([0, floor + 1.2 * by, mast], [0, 3.6 * by, mast + 2.4 * by], 0.06 * by, CREAM);
  for (const end of [-lengthM * 0.5, lengthM * 0.45])
    shape.tube([0, 5.4 * by, mast], [0, 1.7 * by, end], 0.014 * by, ROPE, undefined, 4);
  shape.tube([0.5 * by, floor + 2 * by, z], [0.5 * by, floor + 3.5 * by, z], 0.025 * by, WHITE, undefined, 4);
  shape.box([-0.5 * by, floor, mast + 0.8 * by], [0.5 * by, floor + 0.5 * by, mast + 1.6 * by], IRON);
  for (const at of [-0.2, 0.02, 0.3])
    shape.ball(
      [lines.beamM * 0.5 * 1.02, 0.55 * by, at * lengthM],
      [0.16, 0.28, 0.2],
      paint([0.5, 0.17, 0.04], 'plain', 0.4),
      8,
      5,
    );
  if (lit) shape.ball([0, 5.7 * by, mast], [0.13, 0.13, 0.13], LAMP, 6, 4);
  return shape;
}

/** A steel trawler of some thirty metres. */
export function trawler(colour: number, lit: boolean): MeshShape {
  const shape = new MeshShape();
  const lines: Lines = {
    lengthM: 31,
    beamM: 8.2,
    sideM: 2.5,
    bowRise: 2.6,
    sternRise: 0.5,
    keelM: 1.2,
    fullness: 3,
    stern: 0.75,
  };
  hull(
    shape,
    lines,
    (band) => (band < 3 ? RED_LEAD : band === 7 ? WHITE : paint(TOPSIDES[colour % TOPSIDES.length]!, 'rust', 0.3)),
    9,
  );
  deckAt(shape, lines, 0.9, DECK);
  const glass = lit ? LIT_GLASS : GLASS;
  shape
    .box([-3.3, 1.7, -7], [3.3, 4.8, 0.5], WHITE)
    .box([-2.9, 4.8, -6.4], [2.9, 7.4, -1.5], WHITE)
    .box([-3.2, 7.4, -6.9], [3.2, 7.6, -1], WHITE);
  windowsAround(shape, [-2.9, 5.9, -6.4], [2.9, 6.9, -1.5], 0.95, glass);
  windowsAround(shape, [-3.3, 3.2, -7], [3.3, 3.7, 0.5], 1.7, glass);
  shape
    .tube([0, 7.5, -4], [0, 13.4, -4], 0.2, WHITE, 0.1)
    .tube([1.4, 7.5, -2.4], [1.4, 10, -2.4], 0.5, paint([0.3, 0.05, 0.03]));
  for (const x of [-2.6, 2.6]) shape.tube([x, 1.6, 12.5], [x, 8.4, 12.5], 0.22, CREAM);
  shape.tube([-2.6, 8.4, 12.5], [2.6, 8.4, 12.5], 0.2, CREAM);
  shape.ball([0, 2.4, 8], [1.6, 1, 1.6], paint([0.06, 0.2, 0.14], 'net'), 10, 6).box([-1.5, 1.6, 3], [1.5, 3, 5], IRON);
  for (const end of [-15, 12.5]) shape.tube([0, 13, -4], [0, end < 0 ? 5 : 8.4, end], 0.04, ROPE, undefined, 4);
  if (lit)
    for (const [x, y, z] of [
      [0, 13.6, -4],
      [-2.6, 8.7, 12.4],
      [2.6, 8.7, 12.4],
      [0, 7.8, 0],
    ] as Vector[])
      shape.ball([x, y, z], [0.22, 0.22, 0.22], LAMP, 6, 4);
  return shape;
}

/** The ferry between the islands, white over blue. */
export function ferry(lit: boolean): MeshShape {
  const shape = new MeshShape();
  const lines: Lines = {
    lengthM: 82,
    beamM: 16,
    sideM: 6.2,
    bowRise: 3.4,
    sternRise: 0.6,
    keelM: 3,
    fullness: 3.4,
    stern: 0.8,
  };
  const blue = paint([0.035, 0.09, 0.19], 'plain', 0.5);
  hull(shape, lines, (band) => (band < 3 ? RED_LEAD : band < 6 ? blue : WHITE), 9);
  deckAt(shape, lines, 0.4, paint([0.13, 0.2, 0.16]));
  const glass = lit ? LIT_GLASS : GLASS;
  const tier = (half: number, y: number, z0: number, z1: number, tall: number) => {
    shape.box([-half, y, z0], [half, y + tall, z1], WHITE);
    shape.box([-half - 0.4, y + tall, z0 - 0.4], [half + 0.4, y + tall + 0.2, z1 + 0.4], paint([0.5, 0.5, 0.48]));
    windowsAround(shape, [-half, y + 1.1, z0], [half, y + 2.1, z1], 2, glass);
  };
  tier(7.4, 6.4, -26, 33, 3);
  tier(7, 9.6, -24, 26, 2.9);
  tier(6.4, 12.7, -22, -8, 3);
  shape.box([-2.6, 12.7, 8], [2.6, 18.5, 16], blue).box([-2.7, 16, 7.9], [2.7, 17.2, 16.1], WHITE);
  shape.tube([0, 15.6, -15], [0, 24, -15], 0.35, WHITE, 0.15).tube([-2.4, 21, -15], [2.4, 21, -15], 0.12, WHITE);
  for (const z of [-4, 2, 20])
    for (const x of [-6.9, 6.9]) shape.box([x - 0.9, 13, z], [x + 0.9, 14.3, z + 4.6], paint([0.5, 0.16, 0.03]));
  return shape;
}

/** A two-masted smack, as fished off Iceland and Greenland until the middle of the last century. */
export function smack(sails: boolean): MeshShape {
  const shape = new MeshShape();
  const lines: Lines = {
    lengthM: 24,
    beamM: 6,
    sideM: 1.3,
    bowRise: 1.3,
    sternRise: 0.8,
    keelM: 1,
    fullness: 2.5,
    stern: 0.3,
  };
  hull(
    shape,
    lines,
    (band) => (band < 3 ? RED_LEAD : band === 8 ? WHITE : paint([0.03, 0.03, 0.033], 'strakes', 0.5)),
    9,
  );
  deckAt(shape, lines, 0.5, DECK);
  const spar = paint([0.32, 0.19, 0.08], 'plain', 0.4);
  const canvas = paint([0.26, 0.11, 0.06], 'plain', 0);
  for (const [z, top] of [
    [-4, 19],
    [7.5, 14.5],
  ] as const) {
    shape
      .tube([0, 0.8, z], [0, top, z + 0.4], 0.2, spar, 0.09)
      .tube([0, 2.6, z + 0.3], [0.5, 3, z + top * 0.42], 0.12, spar)
      .tube([0, top * 0.66, z + 0.3], [0.5, top * 0.9, z + top * 0.26], 0.1, spar);
    for (const x of [-2.6, 2.6])
      for (const back of [0.4, 1.4]) shape.tube([x, 1.6, z + back], [0, top * 0.8, z + 0.3], 0.022, ROPE, undefined, 4);
    if (sails) {
      const ribs = Array.from({ length: 9 }, (_, i) =>
        Array.from({ length: 9 }, (_, j): Vector => {
          const [u, v] = [i / 8, j / 8];
          const long = mix(top * 0.4, top * 0.25, v) * u;
          return [
            0.2 + Math.sin(u * Math.PI) * Math.sin(v * Math.PI * 0.9 + 0.2) * 1.1,
            mix(3, top * (0.68 + 0.2 * u), v),
            z + 0.35 + long,
          ];
        }),
      );
      shape.skin(ribs, () => canvas);
    }
  }
  shape.tube([0, 2.4, -11], [0, 4.2, -19], 0.16, spar, 0.07);
  for (const top of [12.5, 18]) shape.tube([0, top, -4], [0, 4, -18.5], 0.022, ROPE, undefined, 4);
  if (sails)
    shape.triangle(
      [
        [0.1, 4.4, -18],
        [0.5, 3.2, -6.2],
        [0.1, 14.5, -4.3],
      ],
      canvas,
    );
  shape.tube([0, 18.6, -3.6], [0, 14.4, 7.9], 0.02, ROPE, undefined, 4).box([-1, 1, 1.5], [1, 2.1, 4], WHITE);
  return shape;
}

/** A wooden hull being built or repaired: keel, ribs, and planks up to `plankedShare` of her side. Keel at height 0. */
export function hullOnSlip(colour: number, plankedShare: number, lengthM = 12): MeshShape {
  const shape = new MeshShape();
  const lines: Lines = {
    lengthM,
    beamM: lengthM * 0.31,
    sideM: lengthM * 0.14,
    bowRise: lengthM * 0.1,
    sternRise: lengthM * 0.05,
    keelM: lengthM * 0.1,
    fullness: 2.3,
    stern: 0.15,
  };
  const bands = 12;
  const fresh = paint([0.36, 0.22, 0.1], 'strakes', 0.15);
  const finished = paint(TOPSIDES[colour % TOPSIDES.length]!, 'strakes', 0.5);
  const body = new MeshShape();
  for (const hand of [1, -1] as const) {
    const ribs = side(lines, hand, bands);
    const planked = Math.max(1, Math.round(bands * clamp(plankedShare)));
    body.skin(
      ribs.map((rib) => rib.slice(0, planked + 1)),
      (band) => (plankedShare < 1 ? fresh : band < 5 ? RED_LEAD : band === bands - 1 ? WHITE : finished),
    );
    if (plankedShare < 1)
      for (let at = 1; at < STATIONS; at++)
        for (let band = 0; band < bands; band++)
          body.tube(ribs[at]![band]!, ribs[at]![band + 1]!, 0.07, fresh, undefined, 4);
    for (let at = 0; at < STATIONS; at++)
      body.tube(ribs[at]![bands]!, ribs[at + 1]![bands]!, 0.08, fresh, undefined, 5);
  }
  if (plankedShare >= 1) deckAt(body, lines, 0.3, DECK);
  if (plankedShare >= 1) {
    const [half, floor] = [lengthM * 0.075, lines.sideM - 0.3];
    body
      .box([-half, floor, lengthM * 0.14], [half, floor + lengthM * 0.13, lengthM * 0.32], CREAM)
      .box(
        [-half * 1.15, floor + lengthM * 0.13, lengthM * 0.125],
        [half * 1.15, floor + lengthM * 0.138, lengthM * 0.335],
        WHITE,
      );
    windowsAround(
      body,
      [-half, floor + lengthM * 0.075, lengthM * 0.14],
      [half, floor + lengthM * 0.115, lengthM * 0.32],
      0.5,
      GLASS,
    );
  }
  body.box([-0.14, -lines.keelM - 0.25, -lengthM * 0.46], [0.14, -lines.keelM + 0.1, lengthM * 0.5], fresh);
  body.tube(
    [0, -lines.keelM, -lengthM * 0.46],
    [0, lines.sideM + lines.bowRise + 0.4, -lengthM * 0.56],
    0.14,
    fresh,
    0.1,
  );
  shape.add(body.at({ x: 0, y: lines.keelM + 0.75, z: 0 }));
  for (const at of [-0.32, -0.08, 0.16, 0.38]) {
    shape.box([-0.9, 0, at * lengthM - 0.15], [0.9, 0.5, at * lengthM + 0.15], paint([0.2, 0.15, 0.1], 'boards'));
    for (const hand of [-1, 1])
      shape.tube(
        [hand * lengthM * 0.22, 0, at * lengthM],
        [hand * lengthM * 0.115, lengthM * 0.16, at * lengthM],
        0.09,
        paint([0.3, 0.22, 0.13]),
        undefined,
        5,
      );
  }
  return shape;
}
