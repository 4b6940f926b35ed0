// The motifs close by: nets and floats, ropes, rust and flaking paint, planks with nails, a dry-stone wall, wool.

import type { Canvas } from './canvas';
import { FLOATS, TWINES } from './gear';
import { Noise, clamp, mix, randomFrom, smooth } from './noise';
import { type Random, pick, whole, within } from './placing';
import { type Point, Relief } from './relief';
import type { Colour, Film } from './scene';

export const CLOSEUPS = ['nets', 'ropes', 'rust', 'planks', 'stones', 'wool'] as const;
export type Closeup = (typeof CLOSEUPS)[number];

interface Close {
  seed: number;
  variant: number;
  width: number;
  height: number;
  /** Degrees over the horizon, and the share of cloud. */
  sunHeight: number;
  cloud: number;
}

type Put = (height: number, r: number, g: number, b: number, shine?: number) => void;

/** The light of a close-up, and where the lens is sharp. */
export function paintCloseup(
  motif: Closeup,
  { seed, variant, width, height, sunHeight, cloud }: Close,
): { canvas: Canvas; film: Partial<Film> } {
  const shoot = randomFrom(seed);
  const wideCm =
    within(shoot, SPANS[motif][0], SPANS[motif][1]) * (variant > 0 ? within(randomFrom(seed + variant), 0.6, 1.2) : 1);
  const relief = new Relief(width, height, wideCm, seed * 5 + variant);
  LAY[motif](relief, shoot, randomFrom(seed * 3 + variant));
  const canvas = relief.lit(within(shoot, 190, 350), clamp(sunHeight, 16, 48), smooth(0.35, 0.8, cloud));
  // looked at aslant: the upper part of the picture lies farther away
  const slant = within(shoot, 0.15, 0.5);
  for (let at = 0; at < canvas.depth.length; at++)
    canvas.depth[at] = canvas.depth[at]! * (1 + slant * (0.55 - Math.floor(at / width) / height));
  return { canvas, film: { focusM: 0.6, aperture: within(shoot, 0.4, 1.3), key: within(shoot, 0.5, 0.72) } };
}

const SPANS: Record<Closeup, [number, number]> = {
  nets: [110, 190],
  ropes: [55, 110],
  rust: [40, 90],
  planks: [60, 120],
  stones: [120, 220],
  wool: [26, 50],
};

const LAY: Record<Closeup, (relief: Relief, shoot: Random, random: Random) => void> = {
  nets: (relief, shoot, random) => {
    boards(relief, [0.16, 0.13, 0.1], 14, 0.6);
    const twine = pick(shoot, TWINES);
    heap(relief, twine, random);
    for (let sheet = 0; sheet < 3; sheet++)
      meshes(relief, pick(random, [twine, twine, pick(random, TWINES)]), random, 4 + sheet * 3);
    const kinds = [pick(shoot, FLOATS), pick(shoot, FLOATS)];
    for (let index = 0, count = 7 + whole(random, 12); index < count; index++) {
      const size = within(random, 4.5, 7.5);
      relief.ball(
        within(random, 0, relief.wideCm),
        within(random, 0, relief.tallCm),
        size * within(random, 1.1, 1.5),
        size,
        within(random, 6, 16),
        within(random, 0, 3.1),
        pick(random, kinds),
        0.35,
        0.2,
      );
    }
    for (let index = 0; index < 2; index++)
      relief.rope(wander(relief, random, 7), within(random, 0.8, 1.3), () => 15 + index * 2, pick(random, TWINES));
  },
  ropes: (relief, shoot, random) => {
    boards(relief, [0.2, 0.17, 0.13], 16, 0.4);
    const colours = [
      pick(shoot, TWINES),
      [0.36, 0.29, 0.17] as Colour,
      pick(shoot, TWINES),
      [0.3, 0.3, 0.28] as Colour,
    ];
    const radius = within(shoot, 1.1, 2.1);
    // coils laid one on the other
    for (let coil = 0; coil < 3; coil++) {
      const [cx, cy] = [within(random, 0.1, 0.9) * relief.wideCm, within(random, 0.1, 0.9) * relief.tallCm];
      const colour = pick(random, colours);
      for (let turn = 0; turn < 9; turn++) {
        const far = within(random, 8, 22);
        const flat = within(random, 0.72, 1);
        const start = random() * 6.3;
        const ring = Array.from({ length: 15 }, (_, at): Point => [
          cx + Math.cos(start + at * 0.48) * far * (1 + 0.04 * Math.sin(at * 1.7)),
          cy + Math.sin(start + at * 0.48) * far * flat,
        ]);
        relief.rope(
          ring,
          radius * within(random, 0.92, 1.05),
          (t) => turn * radius * 0.8 + Math.sin(t * 9 + turn) * radius * 0.35,
          colour,
          3,
        );
      }
    }
    for (let index = 0, count = 4 + whole(random, 5); index < count; index++)
      relief.rope(
        wander(relief, random, 6),
        radius * within(random, 0.5, 1.2),
        (t) => 5 + index * radius * 0.7 + Math.sin(t * 12 + index) * 1.2,
        pick(random, colours),
        random() > 0.5 ? 3 : 4,
      );
  },
  rust: (relief, shoot) => {
    const coat = pick(shoot, [
      [0.05, 0.13, 0.24],
      [0.3, 0.05, 0.035],
      [0.42, 0.42, 0.39],
      [0.05, 0.14, 0.1],
      [0.06, 0.06, 0.065],
      [0.4, 0.24, 0.04],
    ] as Colour[]);
    const under = pick(shoot, [
      [0.32, 0.07, 0.04],
      [0.28, 0.28, 0.26],
      [0.05, 0.15, 0.2],
    ] as Colour[]);
    const eaten = within(shoot, -0.18, 0.16);
    const { noise } = relief;
    const seam = within(shoot, 0.25, 0.75) * relief.tallCm;
    relief.surface((x, y, put) => {
      const wide = noise.soft(x / 42, y / 42);
      const fine = noise.soft(x / 7 + 0.3, y / 7);
      const run = noise.soft(x / 5, y / 60 + 0.7) * 0.35;
      const blister = wide + fine * 0.45 + run * smooth(seam - 8, seam + 30, y) - eaten;
      const bare = smooth(0.14, 0.17, blister);
      const primer = smooth(0.02, 0.05, blister) * (1 - bare);
      const flake = smooth(0.0, 0.02, blister) - smooth(0.02, 0.06, blister);
      const pits = noise.soft(x / 1.6, y / 1.6) * 0.5 + noise.soft(x / 0.5, y / 0.5) * 0.3;
      const stain = clamp(noise.soft(x / 4, y / 90 + 0.2) * 1.3 + noise.soft(x / 30, y / 30) - 0.1) * 0.6;
      const iron: Colour = [0.2 * (1 + pits * 0.9), 0.078 * (1 + pits * 1.1), 0.032 * (1 + pits)];
      const skin = 1 + noise.soft(x / 20, y / 30) * 0.18 + noise.soft(x / 0.9, y / 2.2) * 0.07;
      const painted: Colour = [
        mix(coat[0] * skin, 0.22, stain),
        mix(coat[1] * skin, 0.1, stain),
        mix(coat[2] * skin, 0.05, stain),
      ];
      const mixed = painted.map((value, channel) =>
        mix(mix(value, under[channel]! * skin, primer), iron[channel]!, bare),
      );
      const strip = Math.abs(y - seam) < 2.6 ? 0.55 : 0;
      put(
        (1 - bare) * 0.16 +
          (1 - primer) * 0.05 +
          flake * 0.18 +
          pits * 0.09 * bare +
          strip +
          noise.soft(x / 26, y / 26) * 0.5,
        mixed[0]!,
        mixed[1]!,
        mixed[2]!,
        0.3 * (1 - bare),
      );
    });
    for (let x = within(shoot, 1, 5); x < relief.wideCm; x += 6.2)
      relief.ball(x, seam, 1.25, 1.25, 0.3, 0, [0.19, 0.085, 0.045], 0.15);
  },
  planks: (relief, shoot) => {
    boards(
      relief,
      pick(shoot, [
        [0.23, 0.19, 0.15],
        [0.28, 0.17, 0.08],
        [0.035, 0.03, 0.028],
        [0.31, 0.07, 0.045],
        [0.12, 0.22, 0.26],
      ] as Colour[]),
      within(shoot, 10, 17),
      within(shoot, 0.2, 1),
    );
  },
  stones: (relief, shoot, random) => {
    const { noise } = relief;
    relief.surface((x, y, put) => put(-8 + noise.soft(x / 9, y / 9), 0.02, 0.02, 0.018));
    const course = within(shoot, 15, 24);
    for (let y = -course; y < relief.tallCm + course; y += course * 0.82) {
      for (let x = -20 + random() * 20; x < relief.wideCm + 20;) {
        const [wide, tall] = [course * within(random, 0.6, 1.15), course * within(random, 0.46, 0.6)];
        stone(relief, random, x + wide, y + within(random, -3, 3), wide, tall);
        x += wide * 1.86;
      }
    }
  },
  wool: (relief, shoot, random) => {
    const fleece = pick(shoot, [
      [0.46, 0.42, 0.34],
      [0.12, 0.07, 0.045],
      [0.25, 0.23, 0.2],
      [0.4, 0.3, 0.2],
    ] as Colour[]);
    const { noise } = relief;
    relief.surface((x, y, put) => {
      const by = 0.6 + noise.soft(x / 4, y / 4) * 0.4;
      put(noise.soft(x / 12, y / 12) * 2, fleece[0] * by, fleece[1] * by, fleece[2] * by);
    });
    for (let lock = 0; lock < 1500; lock++) {
      const [x, y] = [within(random, -2, relief.wideCm + 2), within(random, -2, relief.tallCm + 2)];
      const flow = noise.soft(x / 22, y / 22) * 4 + 0.6;
      const curl = within(random, 0.5, 1.1);
      const path = Array.from({ length: 6 }, (_, at): Point => [
        x + Math.cos(flow) * at * 0.55 + Math.sin(at * 2.1) * curl * 0.34,
        y + Math.sin(flow) * at * 0.55 + Math.cos(at * 2.1) * curl * 0.34,
      ]);
      const by = within(random, 0.7, 1.25);
      relief.rope(
        path,
        within(random, 0.13, 0.3),
        (t) => noise.soft(x / 12, y / 12) * 2 + 0.3 + Math.sin(t * 3) * 0.5,
        [fleece[0] * by, fleece[1] * by, fleece[2] * by],
        5,
        0.02,
      );
    }
  },
};

/** Weathered boards with grain, nails and gaps. */
function boards(relief: Relief, [r, g, b]: Colour, boardCm: number, flaking: number): void {
  const { noise } = relief;
  const bare: Colour = [0.22, 0.19, 0.155];
  relief.surface((x, y, put: Put) => {
    const which = Math.floor(y / boardCm);
    const across = y / boardCm - which;
    const edge = Math.min(across, 1 - across) * boardCm;
    const own = noise.soft(which * 0.37 + 0.2, 0.9);
    const grain = noise.soft(x / 46 + which * 1.7, y / 1.5) * 0.6 + noise.soft(x / 14 + which, y / 0.5) * 0.35;
    const split = smooth(0.5, 0.62, noise.soft(x / 60 + which * 0.9, y / 1.1 + 0.4));
    const worn = smooth(0.1, 0.3, noise.soft(x / 26 + which * 0.3, y / 9) + grain * 0.35 - 0.5 + flaking * 0.55);
    const nail = Math.hypot(((x + which * 13) % 44) - 22, (across - 0.5) * boardCm * 1.2);
    const stain = smooth(3.4, 0.4, nail) * 0.5;
    const shade = (1 + own * 0.3 + grain * 0.34) * (1 - split * 0.5);
    const iron = nail < 0.55 ? 1 : 0;
    put(
      smooth(0, 0.5, edge) * 1.6 + grain * 0.12 - split * 0.35 - worn * 0.05 + iron * 0.12,
      mix(mix(r, bare[0], worn) * shade, 0.11, Math.max(iron, stain)),
      mix(mix(g, bare[1], worn) * shade, 0.06, Math.max(iron, stain)),
      mix(mix(b, bare[2], worn) * shade, 0.035, Math.max(iron, stain)),
      0.04,
    );
  });
}

/** A mass of net in folds, before single meshes are laid over it. */
function heap(relief: Relief, [r, g, b]: Colour, random: Random): void {
  const { noise } = relief;
  const [ox, oy] = [random() * 3, random() * 3];
  const heights = new Float32Array(relief.height);
  let spot = 0;
  const colours = new Float32Array(relief.colour);
  relief.surface((x, y, put) => {
    const fold = noise.ridged(x / 60 + ox, y / 42 + oy) * 9 + noise.soft(x / 40 + ox, y / 40) * 9 + 1;
    const [wx, wy] = [x + noise.soft(x / 25, y / 25 + ox) * 7, y + noise.soft(x / 25 + oy, y / 25) * 7];
    const knit = Math.max(Math.sin((wx + wy) * 2.3), Math.sin((wx - wy) * 2.1));
    const by = Math.max(0.06, 0.5 + 0.42 * knit + noise.soft(x / 3, y / 3) * 0.4);
    const stands = fold > 3.4;
    if (stands) put(fold + knit * 0.35, r * by, g * by, b * by, 0.02);
    else put(heights[spot]!, colours[spot * 3]!, colours[spot * 3 + 1]!, colours[spot * 3 + 2]!, 0.03);
    spot += 1;
  });
}

/** A sheet of open meshes thrown over what lies there: knotted diamonds that hang in folds. */
function meshes(relief: Relief, colour: Colour, random: Random, lift: number): void {
  const noise = new Noise(whole(random, 9999));
  const cell = within(random, 5, 9);
  const [ox, oy] = [within(random, 0.2, 0.8) * relief.wideCm, within(random, 0.2, 0.8) * relief.tallCm];
  const turn = random() * 3;
  const place = (i: number, j: number): Point => {
    const [u, v] = [i * cell * 0.72, j * cell];
    const [x, y] = [ox + u * Math.cos(turn) - v * Math.sin(turn), oy + u * Math.sin(turn) + v * Math.cos(turn)];
    return [x + noise.soft(x / 50, y / 50) * 15, y + noise.soft(x / 50 + 1, y / 50 + 1) * 15];
  };
  const reach = 9;
  for (let i = -reach; i <= reach; i++) {
    for (let j = -reach; j <= reach; j++) {
      if ((i + j) % 2 !== 0 || Math.hypot(i, j) > reach) continue;
      for (const side of [-1, 1]) {
        const [from, to] = [place(i, j), place(i + side, j + 1)];
        const sag: Point = [(from[0] + to[0]) / 2 + noise.soft(i, j) * 1.5, (from[1] + to[1]) / 2 + 1];
        relief.rope(
          [from, sag, to],
          0.27,
          () => lift + noise.soft(from[0] / 30, from[1] / 30) * 6 + 3,
          colour,
          3,
          0.02,
        );
      }
      const [kx, ky] = place(i, j);
      relief.ball(
        kx,
        ky,
        0.62,
        0.5,
        lift + noise.soft(kx / 30, ky / 30) * 6 + 3,
        turn,
        [colour[0] * 0.8, colour[1] * 0.8, colour[2] * 0.8],
        0.02,
      );
    }
  }
}

function stone(relief: Relief, random: Random, x: number, y: number, rx: number, ry: number): void {
  const { noise } = relief;
  const scale = relief.pixelsPerCm;
  const grey = within(random, 0.075, 0.17);
  const square = within(random, 2.6, 4.2);
  const [tilt, salt] = [within(random, -0.12, 0.12), random() * 4];
  for (let row = Math.max(0, Math.floor((y - ry) * scale)); row <= Math.min(relief.rows - 1, (y + ry) * scale); row++) {
    for (
      let column = Math.max(0, Math.floor((x - rx) * scale));
      column <= Math.min(relief.width - 1, (x + rx) * scale);
      column++
    ) {
      const [px, py] = [column / scale, row / scale];
      const [u, v] = [(px - x) / rx, (py - y) / ry + ((px - x) / rx) * tilt];
      const edge =
        Math.pow(Math.abs(u), square) + Math.pow(Math.abs(v), square) + noise.soft(px / 14 + salt, py / 14) * 0.35;
      if (edge > 1) continue;
      const rough = noise.soft(px / 8 + salt, py / 8) * 0.8 + noise.soft(px / 1.6, py / 1.6 + salt) * 0.4;
      const lichen = smooth(
        0.25,
        0.4,
        noise.soft(px / 11 + 1.1, py / 11 + salt) + noise.soft(px / 1.3, py / 1.3) * 0.3,
      );
      const moss = smooth(0.2, 0.45, noise.soft(px / 20 + salt, py / 20 + 2) + (edge - 0.7) * 0.4);
      const at = row * relief.width + column;
      const height = Math.pow(1 - edge, 0.4) * 6 + rough * 0.8;
      if (height <= relief.height[at]!) continue;
      const shade = grey * (1 + rough * 0.7);
      relief.height[at] = height;
      relief.colour[at * 3] = mix(mix(shade, 0.34, lichen), 0.1, moss * 0.7);
      relief.colour[at * 3 + 1] = mix(mix(shade * 0.97, 0.33, lichen), 0.115, moss * 0.7);
      relief.colour[at * 3 + 2] = mix(mix(shade * 0.91, 0.26, lichen), 0.035, moss * 0.7);
      relief.shine[at] = 0.03;
    }
  }
}

function wander(relief: Relief, random: Random, points: number): Point[] {
  const [from, to] = [within(random, -0.1, 1.1), within(random, -0.1, 1.1)];
  const upright = random() > 0.5;
  return Array.from({ length: points }, (_, at): Point => {
    const t = (at / (points - 1)) * 1.3 - 0.15;
    const off = mix(from, to, t) + within(random, -0.16, 0.16);
    return upright ? [off * relief.wideCm, t * relief.tallCm] : [t * relief.wideCm, off * relief.tallCm];
  });
}
