// Pictures as brightness alone, row by row from the top left, 0 to 255.

export interface Grey {
  width: number;
  height: number;
  values: Float32Array;
}

/** Luma of RGBA bytes by the weights of ITU-R BT.601. */
export function greyOf({ width, height, data }: { width: number; height: number; data: ArrayLike<number> }): Grey {
  const values = new Float32Array(width * height);
  for (let at = 0; at < values.length; at++)
    values[at] = 0.299 * (data[4 * at] ?? 0) + 0.587 * (data[4 * at + 1] ?? 0) + 0.114 * (data[4 * at + 2] ?? 0);
  return { width, height, values };
}
