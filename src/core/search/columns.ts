// What is counted, compared and sorted of each photo, as one typed array a property, by slot. Words that repeat (cameras,
// markers, sets of drives) are numbers into a list of their own.

import { wrongCodes } from '../codes/check-codes';
import { hasOpenBlank } from '../describe/blanks';
import { wordsIn } from '../fields/values';
import { positionIn } from '../geo/position';
import { numbered } from '../names/natural';
import { numberAmong } from '../take-in/accession';
import { FLAG, type SearchRecord } from './search-record';

/** Distinct words under numbers; 0 is the empty one. */
export class WordList {
  readonly words: string[] = [''];
  private readonly numbers = new Map<string, number>([['', 0]]);

  number(word: string): number {
    const known = this.numbers.get(word);
    if (known !== undefined) return known;
    this.numbers.set(word, this.words.length);
    return this.words.push(word) - 1;
  }
}

export class Columns {
  size = 0;
  day = new Int32Array(0);
  second = new Float64Array(0);
  addedAt = new Float64Array(0);
  rating = new Int8Array(0);
  copies = new Uint8Array(0);
  flags = new Uint8Array(0);
  aspect = new Float32Array(0);
  camera = new Uint16Array(0);
  marker = new Uint16Array(0);
  format = new Uint16Array(0);
  place = new Uint32Array(0);
  drives = new Uint16Array(0);
  /** NaN for photos without a position. */
  lat = new Float64Array(0);
  lon = new Float64Array(0);
  /** Sorting forms of the first name and of the accession number. */
  readonly names: string[] = [];
  readonly accessions: string[] = [];
  readonly cameraWords = new WordList();
  readonly markerWords = new WordList();
  readonly formatWords = new WordList();
  readonly placeWords = new WordList();
  /** Names of the drives a photo is on, as JSON: a list of them is one word. */
  readonly driveWords = new WordList();

  put(slot: number, record: SearchRecord): void {
    if (slot >= this.day.length) this.grow(Math.max(1024, slot + 1, this.day.length * 2));
    this.size = Math.max(this.size, slot + 1);
    const { fields } = record;
    this.day[slot] = record.day;
    this.second[slot] = record.second;
    this.addedAt[slot] = record.addedAt;
    this.rating[slot] = typeof fields.rating === 'number' ? fields.rating : 0;
    this.copies[slot] = record.copies;
    this.flags[slot] = (hasOpenBlank(fields) ? FLAG.blank : 0) | (record.placed ? 0 : FLAG.unplaced) | (record.large ? FLAG.large : 0) | (wrongCodes(fields).length > 0 ? FLAG.wrongCode : 0);
    this.aspect[slot] = record.aspect;
    this.camera[slot] = this.cameraWords.number(record.camera);
    this.marker[slot] = this.markerWords.number(typeof fields.label === 'string' ? fields.label : '');
    this.format[slot] = this.formatWords.number(record.format);
    this.place[slot] = this.placeWords.number([fields.country, fields.province, fields.city, fields.sublocation].filter((part) => typeof part === 'string').join(', '));
    this.drives[slot] = this.driveWords.number(record.drives.length === 0 ? '' : JSON.stringify(record.drives));
    const position = positionIn(fields);
    this.lat[slot] = position?.lat ?? NaN;
    this.lon[slot] = position?.lon ?? NaN;
    this.names[slot] = numbered(record.names[0] ?? '');
    this.accessions[slot] = numberAmong(wordsIn(fields.identifier)) ?? '';
  }

  drivesOf(number: number): string[] {
    const word = this.driveWords.words[number] ?? '';
    return word === '' ? [] : (JSON.parse(word) as string[]);
  }

  private grow(length: number): void {
    const grown = <A extends Int32Array | Float64Array | Int8Array | Uint8Array | Float32Array | Uint16Array | Uint32Array>(column: A): A => {
      const next = new (column.constructor as new (length: number) => A)(length);
      next.set(column);
      return next;
    };
    this.day = grown(this.day);
    this.second = grown(this.second);
    this.addedAt = grown(this.addedAt);
    this.rating = grown(this.rating);
    this.copies = grown(this.copies);
    this.flags = grown(this.flags);
    this.aspect = grown(this.aspect);
    this.camera = grown(this.camera);
    this.marker = grown(this.marker);
    this.format = grown(this.format);
    this.place = grown(this.place);
    this.drives = grown(this.drives);
    this.lat = grown(this.lat);
    this.lon = grown(this.lon);
  }
}
