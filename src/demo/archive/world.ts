// Places, people, cameras and the sun of the Faroe Harbours Survey. Places are real geography (coordinates to about a
// kilometre, from memory); people, institution, makers, cameras and lenses are invented.

export interface Place {
  sublocation?: string;
  city: string;
  province: string;
  lat: number;
  lon: number;
}

const place = (city: string, province: string, lat: number, lon: number, sublocation?: string): Place => ({
  city,
  province,
  lat,
  lon,
  ...(sublocation && { sublocation }),
});

export const PLACES = {
  klaksvik: place('Klaksvík', 'Norðoyar', 62.227, -6.589, 'the old slip'),
  klaksvikQuay: place('Klaksvík', 'Norðoyar', 62.2242, -6.5868, 'Kósin'),
  gjogv: place('Gjógv', 'Eysturoy', 62.326, -6.941),
  vestmanna: place('Vestmanna', 'Streymoy', 62.212, -7.205, 'Vestmannabjørgini'),
  vestmannaQuay: place('Vestmanna', 'Streymoy', 62.1553, -7.169),
  torshavn: place('Tórshavn', 'Streymoy', 62.009, -6.771, 'Vágsbotn'),
  tinganes: place('Tórshavn', 'Streymoy', 62.0075, -6.769, 'Tinganes'),
  skopun: place('Skopun', 'Sandoy', 61.905, -6.878, 'off Skopun'),
  sandur: place('Sandur', 'Sandoy', 61.835, -6.812),
  saksun: place('Saksun', 'Streymoy', 62.249, -7.176),
  tjornuvik: place('Tjørnuvík', 'Streymoy', 62.289, -7.149),
  haldarsvik: place('Haldarsvík', 'Streymoy', 62.276, -7.091),
  kirkja: place('Kirkja', 'Norðoyar', 62.322, -6.315),
  kallur: place('Trøllanes', 'Norðoyar', 62.374, -6.803, 'Kallur'),
  mikladalur: place('Mikladalur', 'Norðoyar', 62.336, -6.764),
  mykines: place('Mykines', 'Vágar', 62.104, -7.646),
  vidareidi: place('Viðareiði', 'Norðoyar', 62.36, -6.531),
  gasadalur: place('Gásadalur', 'Vágar', 62.111, -7.436, 'Múlafossur'),
  sorvagur: place('Sørvágur', 'Vágar', 62.071, -7.308),
  midvagur: place('Miðvágur', 'Vágar', 62.051, -7.193, 'Bøsdalafossur'),
  leirvik: place('Leirvík', 'Eysturoy', 62.215, -6.7, 'Leirvíksfjørður'),
  fuglafjordur: place('Fuglafjørður', 'Eysturoy', 62.245, -6.814),
  funningur: place('Funningur', 'Eysturoy', 62.287, -6.968),
  runavik: place('Runavík', 'Eysturoy', 62.108, -6.721),
  tvoroyri: place('Tvøroyri', 'Suðuroy', 61.556, -6.803),
  vagur: place('Vágur', 'Suðuroy', 61.474, -6.811),
  akraberg: place('Sumba', 'Suðuroy', 61.394, -6.679, 'Akraberg'),
  hvalba: place('Hvalba', 'Suðuroy', 61.601, -6.951),
  nolsoy: place('Nólsoy', 'Streymoy', 62.009, -6.669),
  skuvoy: place('Skúvoy', 'Sandoy', 61.773, -6.807),
} satisfies Record<string, Place>;

export interface Lens {
  name: string;
  focalMm: number;
  widestF: number;
}

export const LENSES = {
  fixed: { name: '', focalMm: 7.4, widestF: 2.8 },
  kit: { name: 'Norda 18-55mm f/3.5-5.6', focalMm: 24, widestF: 3.5 },
  standard: { name: 'Norda 28-70mm f/2.8', focalMm: 35, widestF: 2.8 },
  walk: { name: 'Norda 24-105mm f/4', focalMm: 35, widestF: 4 },
  tele: { name: 'Norda 100-400mm f/5.6', focalMm: 210, widestF: 5.6 },
  wide: { name: 'Norda 14mm f/2.8', focalMm: 14, widestF: 2.8 },
  macro: { name: 'Sjón 60mm f/2.8 Macro', focalMm: 60, widestF: 2.8 },
  prime: { name: 'Sjón 35mm f/1.8', focalMm: 35, widestF: 1.8 },
  brim: { name: 'Brim 16-50mm f/2.8', focalMm: 27, widestF: 2.8 },
  telephone: { name: 'Alda main 5.1 mm 1:1.7', focalMm: 5.1, widestF: 1.7 },
} satisfies Record<string, Lens>;

export interface Camera {
  make: string;
  model: string;
  serial: string;
  /** File names: what stands before the number, and the ending. */
  stem: string;
  ending: string;
  shape: '3:2' | '4:3' | '16:9';
  /** Whether it writes OffsetTime and GPS, as later cameras do. */
  offsets: boolean;
  gps: boolean;
  film: { grain: number; contrast: number; warmth: number };
}

export const CAMERAS = {
  compact: {
    make: 'Fjell',
    model: 'Fjell C5',
    serial: '40117',
    stem: 'FJC_',
    ending: 'JPG',
    shape: '4:3',
    offsets: false,
    gps: false,
    film: { grain: 0.042, contrast: 0.7, warmth: -0.15 },
  },
  k1: {
    make: 'Norda',
    model: 'Norda K1',
    serial: 'K1-03318',
    stem: 'DSN',
    ending: 'JPG',
    shape: '3:2',
    offsets: false,
    gps: false,
    film: { grain: 0.045, contrast: 0.55, warmth: 0.15 },
  },
  k2: {
    make: 'Norda',
    model: 'Norda K2',
    serial: 'K2-20931',
    stem: 'NK2_',
    ending: 'jpg',
    shape: '3:2',
    offsets: false,
    gps: false,
    film: { grain: 0.034, contrast: 0.5, warmth: 0.1 },
  },
  k4: {
    make: 'Norda',
    model: 'Norda K4',
    serial: 'K4-00482',
    stem: 'NK4_',
    ending: 'jpg',
    shape: '3:2',
    offsets: true,
    gps: true,
    film: { grain: 0.026, contrast: 0.5, warmth: 0 },
  },
  r1: {
    make: 'Brim',
    model: 'Brim R1',
    serial: 'R1-7700214',
    stem: 'R1A',
    ending: 'jpg',
    shape: '3:2',
    offsets: true,
    gps: false,
    film: { grain: 0.024, contrast: 0.42, warmth: 0.05 },
  },
  phone: {
    make: 'Alda',
    model: 'Alda 7',
    serial: '',
    stem: 'ALD',
    ending: 'jpg',
    shape: '16:9',
    offsets: true,
    gps: true,
    film: { grain: 0.03, contrast: 0.75, warmth: 0.1 },
  },
  scanner: {
    make: 'Ljós',
    model: 'Ljós F2400',
    serial: '',
    stem: 'FHS-',
    ending: 'jpg',
    shape: '4:3',
    offsets: false,
    gps: false,
    film: { grain: 0.075, contrast: 0.45, warmth: 0 },
  },
} satisfies Record<string, Camera>;

export const CREATORS = {
  holt: 'Mia Holt',
  reyn: 'Jógvan á Kvirrareyni',
  lund: 'Anna Fjørð Lund',
  unknown: 'photographer not known',
} as const;

export type PlaceKey = keyof typeof PLACES;
export type LensKey = keyof typeof LENSES;
export type CameraKey = keyof typeof CAMERAS;
export type CreatorKey = keyof typeof CREATORS;

const DEGREE = Math.PI / 180;

/**
 * Height over the horizon and direction from north over east of the sun, in degrees, to about a tenth: the
 * low-precision formula of the Astronomical Almanac (from memory; checked in world.test.ts against solstices and
 * equinoxes).
 */
export function sunAt(utc: Date, lat: number, lon: number): { height: number; azimuth: number } {
  const days = utc.getTime() / 86_400_000 - 10_957.5;
  const anomaly = (357.529 + 0.98560028 * days) * DEGREE;
  const longitude = (280.459 + 0.98564736 * days + 1.915 * Math.sin(anomaly) + 0.02 * Math.sin(2 * anomaly)) * DEGREE;
  const tilt = 23.439 * DEGREE;
  const ascension = Math.atan2(Math.cos(tilt) * Math.sin(longitude), Math.cos(longitude));
  const declination = Math.asin(Math.sin(tilt) * Math.sin(longitude));
  const sidereal = (18.697374558 + 24.06570982441908 * days) * 15 * DEGREE + lon * DEGREE;
  const hour = sidereal - ascension;
  const height = Math.asin(
    Math.sin(lat * DEGREE) * Math.sin(declination) + Math.cos(lat * DEGREE) * Math.cos(declination) * Math.cos(hour),
  );
  const azimuth = Math.atan2(
    -Math.sin(hour),
    Math.tan(declination) * Math.cos(lat * DEGREE) - Math.sin(lat * DEGREE) * Math.cos(hour),
  );
  return { height: height / DEGREE, azimuth: (azimuth / DEGREE + 360) % 360 };
}

/**
 * Whether summer time holds in the islands: WET, and WEST from the last Sunday of March to that of October, 01:00 UTC.
 */
export function summerTime(utc: Date): boolean {
  const lastSunday = (month: number) => {
    const last = new Date(Date.UTC(utc.getUTCFullYear(), month + 1, 0, 1));
    return last.getTime() - last.getUTCDay() * 86_400_000;
  };
  return utc.getTime() >= lastSunday(2) && utc.getTime() < lastSunday(9);
}
