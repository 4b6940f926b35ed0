/** A picture as a canvas gives it: red, green, blue, opacity of each pixel, rows from the top. */
export interface Pixels {
  data: Uint8ClampedArray | Uint8Array;
  width: number;
  height: number;
}
