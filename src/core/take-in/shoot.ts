// A shoot that is prepared: its folder is there before its first photo, and is where the card to come goes.

import type { BlankName, NameFacts, Pattern, PatternPart } from '../names/pattern';

export interface PreparedShoot {
  driveId: string;
  /** From the drive's root. */
  folder: string;
  /** `2026-11-30` */
  date: string;
  blanks: Record<BlankName, string>;
}

/** What is known of the folder's name before there is a photo. */
export const shootFacts = (date: string, blanks: Record<BlankName, string>, accession: string): NameFacts => ({
  captured: { written: date, offset: null },
  oldBase: '',
  camera: '',
  accession,
  photoNumber: '',
  blanks,
  source: '',
  role: 'originals',
});

/** The folder itself as a pattern: whatever the photos say, they go there. */
export const patternOfFolder = (folder: string): Pattern =>
  folder
    .split('/')
    .flatMap((text, at): PatternPart[] => [...(at === 0 ? [] : [{ kind: 'level' } as const]), { kind: 'text', text }]);
