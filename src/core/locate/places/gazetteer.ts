// Names for places, from a gazetteer: the nearest named place to a position, and places by their names. Distances on
// the sphere; the index finds the nearest over the antimeridian and the poles too.

import KDBush from 'kdbush';
import { around } from 'geokdbush';
import { countryOf } from '../../fields/countries';
import { type Box, distanceM } from '../../geo/sphere';
import type { LatLon } from '../../geo/position';
import { foldText } from '../../text/fold';

/** A row of the gazetteer as its package has it. */
export interface GazetteerRow {
  name: string;
  lat: string;
  lng: string;
  country: string;
  admin1: string;
  admin2: string;
}

export interface NamedPlace extends LatLon {
  city: string;
  /** Of the first administrative division; empty where the gazetteer has none. */
  province: string;
  /** Of the second division. */
  district: string;
  country: string;
  /** ISO 3166-1, three letters, as IIM has them. */
  countryCode: string;
}

export interface NearPlace extends NamedPlace {
  distanceM: number;
}

type Division = { code: string; name: string };

export class Gazetteer {
  private readonly index: KDBush;
  private readonly folded: string[];
  /** 2: bears the name of its province; 1: of its district. The gazetteer has no populations. */
  private readonly rank: Uint8Array;
  private readonly first: ReadonlyMap<string, string>;
  private readonly second: ReadonlyMap<string, string>;

  /** In time proportional to n log n: some 171,000 places in well under a second. */
  constructor(
    private readonly rows: readonly GazetteerRow[],
    first: readonly Division[],
    second: readonly Division[],
  ) {
    this.index = new KDBush(Math.max(1, rows.length));
    for (const { lat, lng } of rows) this.index.add(Number(lng), Number(lat));
    if (rows.length === 0) this.index.add(0, 0);
    this.index.finish();
    this.first = new Map(first.map(({ code, name }) => [code, name]));
    this.second = new Map(second.map(({ code, name }) => [code, name]));
    this.folded = rows.map(({ name }) => foldText(name));
    const isNamed = (name: string | undefined, at: number) => name !== undefined && foldText(name) === this.folded[at];
    this.rank = Uint8Array.from(rows, ({ country, admin1, admin2 }, at) =>
      isNamed(this.first.get(`${country}.${admin1}`), at)
        ? 2
        : isNamed(this.second.get(`${country}.${admin1}.${admin2}`), at)
          ? 1
          : 0,
    );
  }

  get size(): number {
    return this.rows.length;
  }

  private place(at: number): NamedPlace | null {
    const row = this.rows[at];
    if (!row) return null;
    const { name, lat, lng, country, admin1, admin2 } = row;
    return {
      city: name,
      lat: Number(lat),
      lon: Number(lng),
      countryCode: countryOf(country)?.alpha3 ?? country,
      country: countryOf(country)?.name ?? country,
      province: this.first.get(`${country}.${admin1}`) ?? '',
      district: this.second.get(`${country}.${admin1}.${admin2}`) ?? '',
    };
  }

  /** The named places nearest to a position, the nearest first. Logarithmic. */
  nearest(position: LatLon, limit = 1, withinM = Infinity): NearPlace[] {
    if (this.rows.length === 0) return [];
    const found = around(
      this.index,
      position.lon,
      position.lat,
      limit,
      Number.isFinite(withinM) ? withinM / 1000 : undefined,
    );
    return found.flatMap((at) => {
      const place = this.place(at);
      return place ? [{ ...place, distanceM: distanceM(position, place) }] : [];
    });
  }

  /**
   * Named places between two parallels and two meridians: those that give their name to a province first, then to a
   * district.
   */
  within({ south, west, north, east }: Box, limit: number): NamedPlace[] {
    const boxes =
      west <= east
        ? [[west, east]]
        : [
            [west, 180],
            [-180, east],
          ];
    const found = boxes.flatMap(([from = 0, to = 0]) => this.index.range(from, south, to, north));
    const ranked = found.map((at) => ({ at, rank: this.rank[at] ?? 0 }));
    ranked.sort((a, b) => b.rank - a.rank || a.at - b.at);
    return ranked.slice(0, limit).flatMap(({ at }) => this.place(at) ?? []);
  }

  /**
   * Places whose name is, begins with, or holds what was typed, in that order; of the same order those near `by` first.
   * Linear.
   */
  search(typed: string, limit = 10, by: LatLon | null = null): NamedPlace[] {
    const [asked = '', ...region] = typed.split(',').map((part) => foldText(part.trim()));
    if (asked === '') return [];
    const hits: { at: number; rank: number }[] = [];
    this.folded.forEach((name, at) => {
      const rank =
        name === asked
          ? 0
          : name.startsWith(asked)
            ? 1
            : name.includes(` ${asked}`) || name.includes(`-${asked}`)
              ? 2
              : -1;
      if (rank >= 0) hits.push({ at, rank });
    });
    const places = hits.flatMap(({ at, rank }) => {
      const place = this.place(at);
      if (
        !place ||
        !region.every((part) =>
          [place.province, place.district, place.country, place.countryCode].some((name) =>
            foldText(name).startsWith(part),
          ),
        )
      )
        return [];
      return [{ place, rank, distance: by ? distanceM(by, place) : 0, length: place.city.length }];
    });
    places.sort((a, b) => a.rank - b.rank || a.distance - b.distance || a.length - b.length);
    return places.slice(0, limit).map(({ place }) => place);
  }
}
