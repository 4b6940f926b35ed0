// What a picture is painted from: plain numbers, drawn from a seed by the motifs. Lengths in metres, angles in degrees.

export type Colour = readonly [r: number, g: number, b: number];

export type Foreground = 'water' | 'shore' | 'slope' | 'cliff';

export type ModelKind = 'boat' | 'trawler' | 'ferry' | 'house' | 'boathouse' | 'church' | 'lighthouse' | 'quay' | 'sheep' | 'figure' | 'post';

export interface Placed {
  kind: ModelKind;
  /** Metres to the right and away from the camera. */
  x: number;
  z: number;
  /** Turn about the vertical, in degrees. */
  turn: number;
  scale: number;
  colour: number;
}

export interface Scene {
  seed: number;
  width: number;
  height: number;
  /** Height of the camera over the water, and the picture's lower edge to upper edge angle. */
  cameraM: number;
  fieldOfView: number;
  /** How far to the right the camera looks, as a tangent. */
  pan: number;
  /** Where the horizon lies, 0 at the top. */
  horizon: number;
  foreground: Foreground;
  /** Height of the highest ground, how much land stands in the sea, where the land begins. */
  peakM: number;
  land: number;
  nearM: number;
  /** How far the open water reaches in the middle, as a valley through the land. */
  sound: number;
  terraces: number;
  snow: number;
  /** How green: 1 high summer, 0 winter straw. */
  green: number;
  sunHeight: number;
  /** Degrees right of where the camera looks. */
  sunTurn: number;
  cloud: number;
  /** Visibility in metres. */
  hazeM: number;
  swell: number;
  night: number;
  aurora: number;
  rain: number;
  lights: boolean;
  birds: number;
  falls: number;
  models: Placed[];
  /** In stops: over- or underexposed, bracketed. */
  exposure: number;
  /** Kelvin offset of the film: −1 cold, 1 warm. */
  warmth: number;
  grain: number;
  monochrome: boolean;
  /** Radius in pixels: out of focus. */
  blur: number;
}
