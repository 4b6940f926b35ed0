// What a shoot is: one table row in attic.ts, harbour.ts, studio.ts or card.ts; and how it unfolds into views and
// frames.

import type { FieldValues } from '@/core/fields/registry';
import type { Closeup } from '../paint/closeups';
import type { Outdoors, Weather } from '../paint/motifs';
import { treeOf } from './vocabulary';
import {
  CAMERAS,
  CREATORS,
  type CameraKey,
  type CreatorKey,
  type LensKey,
  PLACES,
  type PlaceKey,
  summerTime,
  sunAt,
} from './world';

export type DriveKey = 'attic' | 'harbour' | 'studio' | 'card';
export type Sky = 'clear' | 'fair' | 'broken' | 'grey' | 'haze' | 'fog' | 'rain' | 'snowing' | 'storm';

export interface Shoot {
  drive: DriveKey;
  folder: string;
  /** Number of the first frame, as the camera counts. */
  first: number;
  /** What the islands' clocks showed: `2019-07-04 14:03:22`; for scans a year, or year and month. */
  at: string;
  place: PlaceKey;
  motif: Outdoors | Closeup;
  /**
   * The views in their order: how many frames, and what they are to each other. `1` a frame, `1p` upright, `3b` a
   * bracket, `4m` a burst, `2n` near-duplicates, `3w` a panorama from left to right, `1x` out of focus, `1s` shaken,
   * `1d` too dark, `1o` too light.
   */
  views: string;
  camera: CameraKey;
  lens: LensKey;
  by: CreatorKey;
  sky: Sky;
  /** Where the camera looks, in degrees from north. */
  facing?: number;
  /** Minutes between views. */
  pace?: number;
  snow?: number;
  /** Seconds by which this camera's clock was ahead of the islands' clocks. */
  clockAhead?: number;
  headline?: string;
  /** One for each view, in turn; an empty one for none. */
  captions?: string[];
  keywords?: string[];
  /** One character for each frame: a rating, `.` for none, `x` for rejected. */
  ratings?: string;
  /** Markers, by frame. */
  markers?: Record<number, string>;
  /**
   * `sidecar`: XMP beside the photo; `iim`: in the file, Latin-1, as old programs did; `both`: IIM from one program and
   * XMP from another, which do not agree; `none`.
   */
  described: 'sidecar' | 'iim' | 'both' | 'none';
  format?:
    | 'jpeg'
    | 'jpeg-p3'
    | 'jpeg-large'
    | 'png'
    | 'webp'
    | 'avif'
    | 'jxl'
    | 'heic'
    | 'psd'
    | 'tiff'
    | 'tiff16'
    | 'dng'
    | 'dng-bare'
    | 'dng+jpeg'
    | 'avi'
    | 'mp4';
  /** Further fields, for all frames. */
  more?: FieldValues;
  monochrome?: boolean;
}

export type ViewKind =
  'plain' | 'upright' | 'bracket' | 'burst' | 'near' | 'panorama' | 'focus' | 'shaken' | 'dark' | 'light';

export interface ShootView {
  kind: ViewKind;
  index: number;
  /** Frames of the shoot that show it. */
  frames: number[];
}

const KINDS: Record<string, ViewKind> = {
  '': 'plain',
  p: 'upright',
  b: 'bracket',
  m: 'burst',
  n: 'near',
  w: 'panorama',
  x: 'focus',
  s: 'shaken',
  d: 'dark',
  o: 'light',
};

export function viewsOf({ views }: Pick<Shoot, 'views'>): ShootView[] {
  let next = 0;
  return views.split(' ').map((token, index) => {
    const [, count, letter] = /^(\d+)([a-z]?)$/.exec(token) ?? [];
    const kind = KINDS[letter ?? '?'];
    if (!count || !kind) throw new Error(`a view is a number and a letter, not "${token}"`);
    return { kind, index, frames: Array.from({ length: Number(count) }, () => next++) };
  });
}

export const frameCount = (shoot: Pick<Shoot, 'views'>): number =>
  viewsOf(shoot).reduce((sum, { frames }) => sum + frames.length, 0);

/** Seconds between the frames of one view. */
const WITHIN: Record<ViewKind, number> = {
  plain: 0,
  upright: 0,
  bracket: 1,
  burst: 0.4,
  near: 9,
  panorama: 4,
  focus: 0,
  shaken: 0,
  dark: 0,
  light: 0,
};

/** When a frame was taken: UTC, and what the camera's clock showed. Scans have no time of day. */
export function takenAt(
  shoot: Shoot,
  view: ShootView,
  frame: number,
): { utc: Date; shown: string; offset: string } | null {
  if (shoot.at.length < 19) return null;
  const local = Date.parse(`${shoot.at.replace(' ', 'T')}Z`);
  const summer = summerTime(new Date(local));
  const place = view.frames.indexOf(frame);
  // the gap between views wanders, as a photographer does
  const seconds =
    view.index * (shoot.pace ?? 4) * 60 + ((view.index * 37) % 53) + Math.floor(place * WITHIN[view.kind]);
  const utc = new Date(local - (summer ? 3600_000 : 0) + seconds * 1000);
  const shown = new Date(local + (seconds + (shoot.clockAhead ?? 0)) * 1000).toISOString().slice(0, 19);
  return { utc, shown, offset: summer ? '+01:00' : '+00:00' };
}

const SKIES: Record<Sky, Pick<Weather, 'cloud' | 'hazeM'> & Partial<Weather>> = {
  clear: { cloud: 0.16, hazeM: 36_000 },
  fair: { cloud: 0.4, hazeM: 27_000 },
  broken: { cloud: 0.55, hazeM: 22_000 },
  grey: { cloud: 0.86, hazeM: 15_000, cloudBaseM: 420 },
  haze: { cloud: 0.34, hazeM: 8_000 },
  fog: { cloud: 0.95, hazeM: 700 },
  rain: { cloud: 0.92, hazeM: 6_000, rain: 0.7, cloudBaseM: 260, swell: 0.3 },
  snowing: { cloud: 0.9, hazeM: 2_400, snowfall: 0.7 },
  storm: { cloud: 0.7, hazeM: 14_000, swell: 0.5 },
};
/** How green the islands are, January to December: common practice of the eye, no source. */
const GREEN = [0.16, 0.12, 0.16, 0.3, 0.6, 0.86, 1, 0.95, 0.8, 0.55, 0.36, 0.22];

/** The light and the season of a shoot, from its date, place and sky. */
export function weatherOf(shoot: Shoot): Weather {
  const taken = takenAt(shoot, { kind: 'plain', index: 0, frames: [0] }, 0);
  const { lat, lon } = PLACES[shoot.place];
  const utc = taken?.utc ?? new Date(Date.UTC(1950, 6, 2, 11));
  const sun = sunAt(utc, lat, lon);
  return {
    ...SKIES[shoot.sky],
    sunHeight: sun.height,
    sunTurn: sun.azimuth - (shoot.facing ?? 20),
    green: GREEN[utc.getUTCMonth()] ?? 0.5,
    snow: shoot.snow ?? 0,
  };
}

/** The name of a frame's file without its ending, as its camera counts: after 9999 comes 0001. */
export function frameName({ camera, first }: Shoot, frame: number): string {
  return `${CAMERAS[camera].stem}${String(((first + frame - 1) % 9999) + 1).padStart(4, '0')}`;
}

/** The descriptive fields of one frame. */
export function fieldsOf(shoot: Shoot, frame: number): FieldValues {
  if (shoot.described === 'none') return {};
  const view = viewsOf(shoot).find(({ frames }) => frames.includes(frame));
  const { city, province, sublocation } = PLACES[shoot.place];
  const creator = CREATORS[shoot.by];
  const fields: FieldValues = {
    creator: [creator],
    copyrightNotice: `© ${shoot.at.slice(0, 4)} Faroe Harbours Survey`,
    credit: `${creator} / Faroe Harbours Survey`,
    source: 'Faroe Harbours Survey',
    city,
    province,
    country: 'Faroe Islands',
    countryCode: 'FO',
    ...(sublocation && { sublocation }),
    ...shoot.more,
  };
  if (shoot.at.length < 19) fields.captured = shoot.at;
  if (shoot.headline) fields.headline = shoot.headline;
  const caption = shoot.captions?.[(view?.index ?? 0) % shoot.captions.length];
  if (caption) fields.caption = caption;
  if (shoot.keywords) fields.keywords = shoot.keywords;
  const tree = shoot.drive === 'studio' && shoot.keywords ? treeOf(shoot.keywords) : undefined;
  if (tree) fields.keywordTree = tree;
  const rating = shoot.ratings?.[frame] ?? '.';
  if (rating !== '.') fields.rating = rating === 'x' ? -1 : Number(rating);
  const marker = shoot.markers?.[frame];
  if (marker) fields.label = marker;
  return fields;
}
