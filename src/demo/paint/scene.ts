// What a picture is painted from: plain numbers, drawn from a seed by the motifs. Lengths in metres, angles in degrees.

import type { Mesh } from './mesh';

export type Colour = readonly [r: number, g: number, b: number];

export type Foreground = 'water' | 'shore' | 'slope' | 'cliff' | 'quay' | 'slip' | 'wall';

export interface Scene {
  seed: number;
  width: number;
  height: number;
  /** Height of the camera over the water, and the picture's lower edge to upper edge angle. */
  cameraM: number;
  fieldOfView: number;
  /** How far to the right the camera looks, as a tangent. */
  pan: number;
  /** Metres the photographer moved to the right since the first frame. */
  step: number;
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
  /**
   * Low land along the shore, where a village can stand, and how high the hill behind it is against the peak; 0 for
   * none.
   */
  shelf: number;
  snow: number;
  /** How green: 1 high summer, 0 winter straw. */
  green: number;
  sunHeight: number;
  /** Degrees right of where the camera looks. */
  sunTurn: number;
  cloud: number;
  /** Where cloud lies on the hills, in metres over the sea; 0 for none. */
  cloudBaseM: number;
  /** Visibility in metres. */
  hazeM: number;
  /** Height of the waves: 0 a mirror, 1 a storm. */
  swell: number;
  night: number;
  aurora: number;
  rain: number;
  snowfall: number;
  lights: boolean;
  birds: number;
  falls: number;
  /** What stands in the picture, in world coordinates. */
  meshes: Mesh[];
  film: Film;
}

export interface Film {
  /** In stops from the metered exposure: over- or underexposed, bracketed. */
  exposure: number;
  /** How light the metered picture is: 1 as it is by day. */
  key: number;
  /** −1 cold, 1 warm. */
  warmth: number;
  contrast: number;
  grain: number;
  monochrome: boolean;
  /** Dust and scratches of a print or a negative, 0 to 1. */
  wear: number;
  /** Radius in pixels: the whole frame out of focus. */
  blur: number;
  /** Length in pixels of a hand that moved. */
  shake: number;
  /** Distance in metres at which the lens is sharp, and how quickly it is not; 0 for sharp throughout. */
  focusM: number;
  aperture: number;
}
