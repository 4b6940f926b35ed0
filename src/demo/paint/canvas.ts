// The picture while it is painted: linear light, and how far each pixel is.

export class Canvas {
  readonly light: Float32Array;
  /** Distance in metres; Infinity for sky and open water. */
  readonly depth: Float32Array;

  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    this.light = new Float32Array(width * height * 3);
    this.depth = new Float32Array(width * height).fill(Infinity);
  }

  copy(): Canvas {
    const copy = new Canvas(this.width, this.height);
    copy.light.set(this.light);
    copy.depth.set(this.depth);
    return copy;
  }

  /** A window of it. */
  cut(left: number, top: number, width: number, height: number): Canvas {
    const part = new Canvas(width, height);
    for (let y = 0; y < height; y++) {
      const from = (top + y) * this.width + left;
      part.light.set(this.light.subarray(from * 3, (from + width) * 3), y * width * 3);
      part.depth.set(this.depth.subarray(from, from + width), y * width);
    }
    return part;
  }

  /** Light between the pixels, held at the edges. */
  sample(x: number, y: number, out: Float32Array): void {
    const { width, height, light } = this;
    const cx = x < 0 ? 0 : x > width - 1.001 ? width - 1.001 : x;
    const cy = y < 0 ? 0 : y > height - 1.001 ? height - 1.001 : y;
    const ix = Math.floor(cx);
    const iy = Math.floor(cy);
    const fx = cx - ix;
    const fy = cy - iy;
    const at = (iy * width + ix) * 3;
    const below = at + width * 3;
    for (let channel = 0; channel < 3; channel++) {
      const upper = light[at + channel]! * (1 - fx) + light[at + channel + 3]! * fx;
      const lower = light[below + channel]! * (1 - fx) + light[below + channel + 3]! * fx;
      out[channel] = upper * (1 - fy) + lower * fy;
    }
  }

  /** Mixes a colour in, where nothing nearer stands. */
  blend(x: number, y: number, depth: number, alpha: number, r: number, g: number, b: number): void {
    if (x < 0 || y < 0 || x >= this.width || y >= this.height) return;
    const at = y * this.width + x;
    if (depth > this.depth[at]!) return;
    const { light } = this;
    light[at * 3] = light[at * 3]! * (1 - alpha) + r * alpha;
    light[at * 3 + 1] = light[at * 3 + 1]! * (1 - alpha) + g * alpha;
    light[at * 3 + 2] = light[at * 3 + 2]! * (1 - alpha) + b * alpha;
  }

  /** A soft round spot, added as light. */
  glow(x: number, y: number, depth: number, radius: number, r: number, g: number, b: number): void {
    for (let py = Math.max(0, Math.floor(y - radius)); py <= Math.min(this.height - 1, y + radius); py++) {
      for (let px = Math.max(0, Math.floor(x - radius)); px <= Math.min(this.width - 1, x + radius); px++) {
        const far = Math.hypot(px - x, py - y) / radius;
        const at = py * this.width + px;
        if (far >= 1 || depth > this.depth[at]!) continue;
        const by = (1 - far) * (1 - far) * (1 - far);
        this.light[at * 3] = this.light[at * 3]! + r * by;
        this.light[at * 3 + 1] = this.light[at * 3 + 1]! + g * by;
        this.light[at * 3 + 2] = this.light[at * 3 + 2]! + b * by;
      }
    }
  }
}
