// The sheet of a take-in: where photos go, what they are called, what is written on arrival. A routine is a sheet kept
// under a name.

import type { Versioned } from '../fields/version';
import type { BlankName, Pattern } from '../names/pattern';

export interface Sheet {
  /** The drive photos go to. */
  driveId: string | null;
  withSubfolders: boolean;
  withVideos: boolean;
  folder: Pattern;
  /** Whether each photo's own date and camera choose its folder, or the first one's choose it for all. */
  folderPer: 'photo' | 'accession';
  /** `null`: the names the camera gave. */
  names: Pattern | null;
  blanks: Record<BlankName, string>;
  /** Whether the name the camera gave is kept in the metadata. */
  keepOldName: boolean;
  kitIds: string[];
  keywords: string[];
  marker: string;
  /** Seconds to be added to the camera's clock for folders and names. The date taken stays as written. */
  clockSeconds: number;
  second: {
    driveId: string | null;
    /** Folders and names like the first copy, or the card's own below one folder. */
    layout: 'same' | 'card';
    folder: Pattern;
  };
  /** The drive on which the card is kept as it is, too, with files that are no photos; older routines do not say. */
  asItIs?: string | null | undefined;
  /** Small ones come with the photos; large ones behind that, or when nobody is at work. */
  previews: 'small' | 'large' | 'by-night';
  /** Verified copies on different drives that every file must have before the card may be emptied. */
  copiesToEmpty: number;
  /**
   * Whether a copy counts for that whose drive is away, and cannot be looked at; older routines do not say, and mean
   * no.
   */
  awayCounts?: boolean | undefined;
}

export interface Routine extends Versioned {
  id: string;
  name: string;
  sheet: Sheet;
}

/** A pattern for names, kept under a name of its own. */
export interface NamePattern extends Versioned {
  id: string;
  name: string;
  parts: Pattern;
}

/** Year first, so that the order of names is the order of time (common practice). */
export const YEAR_AND_SHOOT: Pattern = [
  { kind: 'date', form: 'YYYY' },
  { kind: 'level' },
  { kind: 'date', form: 'YYYY-MM-DD' },
  { kind: 'text', text: ' ' },
  { kind: 'blank', of: 'subject' },
];

/** Four digits at least: events pass a thousand frames (common practice). */
export const DATE_AND_NUMBER: Pattern = [
  { kind: 'date', form: 'YYYYMMDD' },
  { kind: 'text', text: '_' },
  { kind: 'blank', of: 'subject' },
  { kind: 'text', text: '_' },
  { kind: 'sequence', start: 1, digits: 4, over: 'folder' },
];

export const NEW_SHEET: Sheet = {
  driveId: null,
  withSubfolders: true,
  withVideos: true,
  folder: YEAR_AND_SHOOT,
  folderPer: 'photo',
  names: null,
  blanks: { kind: '', client: '', subject: '' },
  keepOldName: true,
  kitIds: [],
  keywords: [],
  marker: '',
  clockSeconds: 0,
  second: {
    driveId: null,
    layout: 'same',
    folder: [
      { kind: 'date', form: 'YYYY-MM-DD' },
      { kind: 'text', text: ' ' },
      { kind: 'source' },
      { kind: 'text', text: ' ' },
      { kind: 'accession' },
    ],
  },
  previews: 'small',
  copiesToEmpty: 2,
  awayCounts: false,
};

/** Photos first and last of a run, in clock order, and what is put on it on top of what all get. */
export interface Run {
  first: string;
  last: string;
  keywords: string[];
  kitIds: string[];
}
