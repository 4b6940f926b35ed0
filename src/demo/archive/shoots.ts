// The Faroe Harbours Survey, first form: the shoots, their places and people. Places are real geography (coordinates
// to about a kilometre, from memory); people, institution, cameras and captions are invented.

import type { FieldValues } from '@/core/fields/registry';
import type { Motif, Weather } from '../paint/motifs';

export interface Place {
  sublocation?: string;
  city: string;
  province: string;
  lat: number;
  lon: number;
}

export interface Camera {
  make: string;
  model: string;
  serial: string;
  lens: string;
  focalMm: number;
  /** Whether it writes OffsetTime and GPS, as later cameras do. */
  offsets: boolean;
  gps: boolean;
}

export type DriveKey = 'studio' | 'attic' | 'card';

export interface Shoot {
  drive: DriveKey;
  folder: string;
  /** File name before its number, and the first number. */
  stem: string;
  first: number;
  date: string;
  time: string;
  minutesApart: number;
  place: Place;
  motif: Motif;
  frames: number;
  camera: Camera;
  creator: string;
  weather: Weather;
  headline?: string;
  captions?: string[];
  keywords?: string[];
  ratings?: number[];
  label?: (string | undefined)[];
  /** `sidecar`: XMP beside the photo; `iim`: in the file, Latin-1, as old programs did; `none`: not described yet. */
  described: 'sidecar' | 'iim' | 'none';
  portrait?: number[];
  bracket?: boolean;
  format?: 'jpeg' | 'png' | 'webp';
}

const PLACES = {
  klaksvik: { sublocation: 'the old slip', city: 'Klaksvík', province: 'Norðoyar', lat: 62.227, lon: -6.589 },
  gjogv: { city: 'Gjógv', province: 'Eysturoy', lat: 62.326, lon: -6.941 },
  vestmanna: { sublocation: 'Vestmannabjørgini', city: 'Vestmanna', province: 'Streymoy', lat: 62.212, lon: -7.205 },
  torshavn: { sublocation: 'Vágsbotn', city: 'Tórshavn', province: 'Streymoy', lat: 62.009, lon: -6.771 },
  sandoy: { sublocation: 'off Skopun', city: 'Skopun', province: 'Sandoy', lat: 61.905, lon: -6.878 },
  saksun: { city: 'Saksun', province: 'Streymoy', lat: 62.249, lon: -7.176 },
  kirkja: { city: 'Kirkja', province: 'Norðoyar', lat: 62.322, lon: -6.315 },
  kallur: { sublocation: 'Kallur', city: 'Trøllanes', province: 'Norðoyar', lat: 62.374, lon: -6.803 },
  mykines: { city: 'Mykines', province: 'Vágar', lat: 62.104, lon: -7.646 },
  vidareidi: { city: 'Viðareiði', province: 'Norðoyar', lat: 62.36, lon: -6.531 },
  gasadalur: { sublocation: 'Múlafossur', city: 'Gásadalur', province: 'Vágar', lat: 62.111, lon: -7.436 },
  leirvik: { sublocation: 'Leirvíksfjørður', city: 'Leirvík', province: 'Eysturoy', lat: 62.215, lon: -6.7 },
  funningur: { city: 'Funningur', province: 'Eysturoy', lat: 62.287, lon: -6.968 },
} satisfies Record<string, Place>;

const CAMERAS = {
  compact: { make: 'Fjell', model: 'Fjell C5', serial: '40117', lens: '', focalMm: 7.4, offsets: false, gps: false },
  k2: { make: 'Norda', model: 'Norda K2', serial: 'K2-20931', lens: 'Norda 28-70mm f/2.8', focalMm: 35, offsets: false, gps: false },
  k4: { make: 'Norda', model: 'Norda K4', serial: 'K4-00482', lens: 'Norda 24-105mm f/4', focalMm: 35, offsets: true, gps: true },
  tele: { make: 'Norda', model: 'Norda K4', serial: 'K4-01177', lens: 'Norda 100-400mm f/5.6', focalMm: 210, offsets: true, gps: false },
  scanner: { make: 'Ljós', model: 'Ljós F2400', serial: '', lens: '', focalMm: 0, offsets: false, gps: false },
} satisfies Record<string, Camera>;

const HOLT = 'Mia Holt';
const REYN = 'Jógvan á Reyn';
const LUND = 'Anna Fjørð Lund';

const weather = (sunHeight: number, sunTurn: number, cloud: number, hazeKm: number, green: number, snow = 0): Weather => ({ sunHeight, sunTurn, cloud, hazeM: hazeKm * 1000, green, snow });

export const SHOOTS: Shoot[] = [
  {
    drive: 'attic', folder: '1962 prints scanned', stem: 'print_', first: 1, date: '1962', time: '', minutesApart: 0, place: PLACES.torshavn, motif: 'old-print', frames: 3, camera: CAMERAS.scanner, creator: 'unknown', weather: weather(38, -70, 0.5, 9, 0.6),
    headline: 'Boats in the eastern harbour, Tórshavn', captions: ['Print from the Survey’s box 14, photographer not known.'], keywords: ['harbour', 'boat', 'print', 'black and white'], described: 'sidecar', format: 'png',
  },
  {
    drive: 'attic', folder: '07-2004 Klaksvik', stem: 'FJC_', first: 212, date: '2004-07-14', time: '11:20:10', minutesApart: 7, place: PLACES.klaksvik, motif: 'harbour', frames: 4, camera: CAMERAS.compact, creator: REYN, weather: weather(44, 55, 0.55, 24, 0.95),
    headline: 'Fishing boats at Klaksvík', captions: ['The inner harbour on a still July morning.', 'Two boats of the line fleet at the quay in Klaksvík.'], keywords: ['harbor', 'boat', 'Klaksvík', 'summer'], ratings: [2, 3, 0, 1], described: 'iim',
  },
  {
    drive: 'attic', folder: '02-2006 Gjogv', stem: 'FJC_', first: 588, date: '2006-02-11', time: '13:02:44', minutesApart: 4, place: PLACES.gjogv, motif: 'snow', frames: 3, camera: CAMERAS.compact, creator: REYN, weather: weather(11, -48, 0.3, 30, 0.1, 0.9),
    headline: 'Snow down to the sea', keywords: ['snow', 'winter', 'village'], ratings: [0, 4, 0], described: 'iim',
  },
  {
    drive: 'attic', folder: '06-2007 Vestmanna', stem: 'DSN', first: 1041, date: '2007-06-22', time: '16:41:30', minutesApart: 2, place: PLACES.vestmanna, motif: 'bird-cliff', frames: 3, camera: CAMERAS.k2, creator: HOLT, weather: weather(33, -95, 0.45, 26, 0.9),
    headline: 'Fulmars and kittiwakes below the ledges', captions: ['Seen from the boat at the foot of Vestmannabjørgini.'], keywords: ['bird cliff', 'fulmar', 'kittywake'], ratings: [3, 0, 2], described: 'iim', portrait: [1],
  },
  {
    drive: 'attic', folder: '09-2009 Torshavn', stem: 'DSN', first: 3310, date: '2009-09-19', time: '18:55:02', minutesApart: 5, place: PLACES.torshavn, motif: 'boathouses', frames: 3, camera: CAMERAS.k2, creator: HOLT, weather: weather(9, 62, 0.28, 22, 0.7),
    headline: 'Boathouses in evening light', captions: ['Tarred boathouses with turf roofs.'], keywords: ['boathouse', 'evening', 'turf roof'], ratings: [4, 3, 0], described: 'iim',
  },
  {
    drive: 'attic', folder: '05-2011 Ferry', stem: 'DSN', first: 5127, date: '2011-05-30', time: '09:12:45', minutesApart: 1, place: PLACES.sandoy, motif: 'ferry', frames: 3, camera: CAMERAS.k2, creator: LUND, weather: weather(30, 70, 0.7, 11, 0.6),
    headline: 'The morning ferry in a swell', keywords: ['ferry', 'swell', 'sea'], ratings: [0, 2, -1], described: 'iim', format: 'webp',
  },
  {
    drive: 'studio', folder: '2016/2016-08-05 Saksun', stem: 'NK2_', first: 7702, date: '2016-08-05', time: '20:34:18', minutesApart: 6, place: PLACES.saksun, motif: 'sound', frames: 3, camera: CAMERAS.k2, creator: HOLT, weather: weather(7, -30, 0.42, 20, 0.95),
    headline: 'Evening over the tidal lagoon', captions: ['The lagoon at Saksun at low tide, with the first lamp lit.'], keywords: ['lagoon', 'evening', 'sound'], ratings: [0, 5, 3], label: [undefined, 'exhibition'], described: 'sidecar',
  },
  {
    drive: 'studio', folder: '2018/2018-03-17 Kirkja', stem: 'NK4_', first: 118, date: '2018-03-17', time: '10:05:51', minutesApart: 9, place: PLACES.kirkja, motif: 'village', frames: 4, camera: CAMERAS.k4, creator: LUND, weather: weather(20, 58, 0.5, 28, 0.45, 0.25),
    headline: 'Kirkja on Fugloy', captions: ['The village below the ridge, seen from the mail boat.', 'Turf-roofed houses of Kirkja.', 'Kirkja, with the church to the left.'], keywords: ['village', 'turf roof', 'Fugloy', 'church'], ratings: [3, 4, 2, 0], described: 'sidecar', portrait: [2],
  },
  {
    drive: 'studio', folder: '2019/2019-07-04 Klaksvík slip', stem: 'NK4_', first: 2031, date: '2019-07-04', time: '14:03:22', minutesApart: 3, place: PLACES.klaksvik, motif: 'harbour', frames: 6, camera: CAMERAS.k4, creator: HOLT, weather: weather(46, -52, 0.48, 30, 1),
    headline: 'Launching the Norðlýsið after her third refit', captions: ['Shipwrights ease the cradle as the Norðlýsið meets the water at the old slip in Klaksvík.', 'The Norðlýsið afloat again.', 'Onlookers’ boats off the slip.'], keywords: ['boat', 'slip', 'shipwright', 'refit', 'harbour'], ratings: [3, 4, 1, 2, 0, 5], label: ['exhibition', undefined, undefined, undefined, undefined, 'exhibition'], described: 'sidecar', bracket: true,
  },
  {
    drive: 'studio', folder: '2020/2020-10-09 Kallur', stem: 'NK4_', first: 4410, date: '2020-10-09', time: '17:22:05', minutesApart: 8, place: PLACES.kallur, motif: 'lighthouse', frames: 4, camera: CAMERAS.k4, creator: HOLT, weather: weather(10, 74, 0.38, 26, 0.6),
    headline: 'Kallur light on its ridge', captions: ['The light at Kallur on the north end of Kalsoy.'], keywords: ['lighthouse', 'cliff', 'Kalsoy', 'autumn'], ratings: [5, 3, 0, 2], described: 'sidecar', portrait: [1],
  },
  {
    drive: 'studio', folder: '2021/2021-06-18 Mykines', stem: 'NK4_', first: 6006, date: '2021-06-18', time: '12:48:39', minutesApart: 11, place: PLACES.mykines, motif: 'bird-cliff', frames: 3, camera: CAMERAS.tele, creator: LUND, weather: weather(50, 110, 0.35, 30, 1),
    headline: 'Ledges of the bird cliff', captions: ['Gannets and fulmars off Mykines.'], keywords: ['bird cliff', 'gannet', 'fulmar', 'summer'], ratings: [2, 3, 4], described: 'sidecar',
  },
  {
    drive: 'studio', folder: '2021/2021-06-18 Mykines', stem: 'NK4_', first: 6021, date: '2021-06-18', time: '15:30:12', minutesApart: 6, place: PLACES.mykines, motif: 'sheep', frames: 2, camera: CAMERAS.k4, creator: LUND, weather: weather(38, -130, 0.6, 22, 1),
    headline: 'Sheep above the landing', keywords: ['sheep', 'wool', 'slope'], ratings: [3, 0], described: 'sidecar',
  },
  {
    drive: 'studio', folder: '2022/2022-12-02 Tórshavn night', stem: 'NK4_', first: 8850, date: '2022-12-02', time: '17:46:20', minutesApart: 12, place: PLACES.torshavn, motif: 'night', frames: 4, camera: CAMERAS.k4, creator: REYN, weather: weather(-10, 0, 0.45, 30, 0.3),
    headline: 'Harbour lamps', captions: ['Lamps of the old town in the harbour water.', 'A trawler at her berth, lights on.'], keywords: ['night', 'harbour', 'lamp', 'reflection'], ratings: [4, 0, 3, 5], described: 'sidecar',
  },
  {
    drive: 'studio', folder: '2023/2023-02-20 Viðareiði', stem: 'NK4_', first: 9311, date: '2023-02-20', time: '22:10:08', minutesApart: 2, place: PLACES.vidareidi, motif: 'aurora', frames: 3, camera: CAMERAS.k4, creator: REYN, weather: weather(-14, 0, 0.08, 40, 0.1, 0.5),
    headline: 'Northern light over the sound', keywords: ['northern light', 'night', 'winter'], ratings: [4, 5, 1], described: 'sidecar',
  },
  {
    drive: 'studio', folder: '2024/2024-05-11 Gásadalur', stem: 'NK4_', first: 1207, date: '2024-05-11', time: '11:36:50', minutesApart: 4, place: PLACES.gasadalur, motif: 'falls', frames: 4, camera: CAMERAS.k4, creator: HOLT, weather: weather(42, 68, 0.52, 26, 0.8),
    headline: 'Water falling into the sea', captions: ['Snow melt over the edge at Múlafossur.'], keywords: ['waterfall', 'cliff', 'spring'], ratings: [3, 2, 4, 0], described: 'sidecar', portrait: [1],
  },
  {
    drive: 'studio', folder: '2025/2025-04-26 Leirvík', stem: 'NK4_', first: 3003, date: '2025-04-26', time: '07:58:14', minutesApart: 5, place: PLACES.leirvik, motif: 'fog', frames: 3, camera: CAMERAS.k4, creator: LUND, weather: weather(18, 20, 0.95, 1.4, 0.6),
    headline: 'Fog on the sound', keywords: ['fog', 'boat', 'sound'], ratings: [2, 4, 0], described: 'sidecar',
  },
  {
    drive: 'studio', folder: '2026/2026-01-17 Funningur', stem: 'NK4_', first: 4777, date: '2026-01-17', time: '12:40:33', minutesApart: 3, place: PLACES.funningur, motif: 'snow', frames: 3, camera: CAMERAS.k4, creator: HOLT, weather: weather(6, 40, 0.25, 34, 0.1, 0.85),
    headline: 'Funningur in January', keywords: ['snow', 'winter', 'village'], described: 'sidecar',
  },
  { drive: 'card', folder: 'DCIM/104NORDA', stem: 'NK4_', first: 5201, date: '2026-08-30', time: '08:14:02', minutesApart: 1, place: PLACES.gjogv, motif: 'shore', frames: 4, camera: CAMERAS.k4, creator: HOLT, weather: weather(19, 78, 0.5, 22, 0.85), described: 'none' },
  { drive: 'card', folder: 'DCIM/104NORDA', stem: 'NK4_', first: 5211, date: '2026-08-30', time: '10:02:31', minutesApart: 2, place: PLACES.gjogv, motif: 'sheep', frames: 3, camera: CAMERAS.k4, creator: HOLT, weather: weather(36, -70, 0.4, 26, 0.85), described: 'none', portrait: [1] },
  { drive: 'card', folder: 'DCIM/105NORDA', stem: 'NK4_', first: 5301, date: '2026-08-30', time: '19:40:55', minutesApart: 3, place: PLACES.gjogv, motif: 'sound', frames: 3, camera: CAMERAS.k4, creator: HOLT, weather: weather(5, -18, 0.5, 18, 0.85), described: 'none' },
];

/** The descriptive fields of one frame. */
export function fieldsOf(shoot: Shoot, frame: number): FieldValues {
  if (shoot.described === 'none') return {};
  const fields: FieldValues = {
    creator: [shoot.creator], copyrightNotice: `© ${shoot.date.slice(0, 4)} Faroe Harbours Survey`, credit: `${shoot.creator} / Faroe Harbours Survey`, source: 'Faroe Harbours Survey',
    city: shoot.place.city, province: shoot.place.province, country: 'Faroe Islands', countryCode: 'FO',
  };
  if (shoot.place.sublocation) fields.sublocation = shoot.place.sublocation;
  if (shoot.headline) fields.headline = shoot.headline;
  const caption = shoot.captions?.[frame % shoot.captions.length];
  if (caption) fields.caption = caption;
  if (shoot.keywords) fields.keywords = shoot.keywords;
  const rating = shoot.ratings?.[frame];
  if (rating) fields.rating = rating;
  const label = shoot.label?.[frame];
  if (label) fields.label = label;
  return fields;
}
