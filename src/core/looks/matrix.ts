// Matrices of three by three, as colours need them.

/** Rows of three. */
export type Matrix = readonly [number, number, number, number, number, number, number, number, number];

export type Channels = readonly [number, number, number];

export const times = (m: Matrix, [a, b, c]: Channels): Channels => [
  m[0] * a + m[1] * b + m[2] * c,
  m[3] * a + m[4] * b + m[5] * c,
  m[6] * a + m[7] * b + m[8] * c,
];

export const product = (m: Matrix, n: Matrix): Matrix => {
  const [a, b, c] = [0, 1, 2].map((at) => times(m, [n[at] as number, n[at + 3] as number, n[at + 6] as number])) as [
    Channels,
    Channels,
    Channels,
  ];
  return [a[0], b[0], c[0], a[1], b[1], c[1], a[2], b[2], c[2]];
};

export function inverted([a, b, c, d, e, f, g, h, i]: Matrix): Matrix {
  const [A, B, C] = [e * i - f * h, f * g - d * i, d * h - e * g];
  const determinant = a * A + b * B + c * C;
  return [
    A, c * h - b * i, b * f - c * e,
    B, a * i - c * g, c * d - a * f,
    C, b * g - a * h, a * e - b * d,
  ].map((value) => value / determinant) as unknown as Matrix; // prettier-ignore
}
