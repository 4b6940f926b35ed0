// The page for strangers: whoever finds this folder in thirty years is told what it is, and how to read it without Wembo.

import { ARCHIVE_FOLDER, type Drive } from '../drives/drive';
import { readIfThere, replaceFile } from '../drives/safe-write';

export const STRANGER_PAGE = `${ARCHIVE_FOLDER}/READ-ME.txt`;

/** Raised with the text: a page of an earlier one is written anew. What a person wrote into one of this number stays. */
const EDITION = 2;
const HEADING = 'What this folder is — edition';

const TEXT = `${HEADING} ${EDITION}

This folder belongs to an archive of photos. It was made by Wembo, a program that catalogs photos where they lie. No
photo needs it: the photos lie in their own folders beside this one, as files that any program opens. What was
written about a photo stands in the file of its name that ends in .xmp, beside it: plain text, by the open standards
XMP (ISO 16684-1) and IPTC Photo Metadata. Keep each .xmp with its photo.

All files here are plain text in UTF-8, most of them JSON; those in backups/ are packed with gzip. You need no program
but one that shows text.

To see whether every photo is what it was, open a command line in the folder above this one:

    sha256sum -c _wembo/manifest-sha256.txt        (Linux)
    shasum -a 256 -c _wembo/manifest-sha256.txt    (macOS)

It names each file that is damaged or missing. Another copy of this archive may have it whole.

What is what:

  manifest-sha256.txt     the checksum of every photo on this drive
  fixity.jsonl            when each was last read in full, and its length and time; one JSON object a line
  identities.json         which photo a file is that was written into since it was first seen
  drive.json              the name of this drive, and the mark it is known by
  accessions/             what came when, from which card, and where it went: a page of text and the same as JSON
  cards/                  memory cards kept as they were, each with a list of checksums
  set-aside/DATE/         photos somebody took out of the archive that day, under the paths they had. Move one back by
                          hand and it is in again; erase what nobody wants
  kept-aside/             files of this folder that could not be understood
  history/                who changed what when: one JSON object a line
  tracks/                 where the photographer was: files of positioning devices
  collections.json        photos put together by hand, and searches that were kept; photos are named by a fingerprint
                          that stands in identities.json, or is computed as said there
  deliveries.json         what was sent to whom
  delivery-profiles.json  how it was made
  vocabulary.json         the words photos are described with, and how they belong together
  shorthand.json          abbreviations for words
  learnt-words.json       names and spellings the program was told are right
  kits.json               words given together
  name-patterns.json      how files are named
  routines.json           how cards are taken in
  ladder.json             what one star, two stars … mean here
  markers.json            what the markers mean here
  rounds.json             photos under choice, and how far that was
  left-out.json           photos that are on the drive and not in the catalog
  clocks.json             how far the cameras' clocks were wrong
  spots.json              places by name
  settings.json           what was chosen for this archive, and what is said of its drives
  backups/                all that a catalog knew at a time; gzip, one JSON object a line (gunzip -c FILE | less)
  drill/                  may be deleted

A fingerprint is the first 32 hexadecimal digits of SHA-256 over the length of the file (8 bytes, most significant
first), its first 16384 bytes, and, where it is longer than those, its last 16384 bytes.
`;

/** Where there is none, or one of an earlier edition. */
export async function writeStrangerPage(drive: Drive): Promise<void> {
  const there = await readIfThere(drive, STRANGER_PAGE);
  const edition = new RegExp(`^${HEADING} (\\d+)`).exec(new TextDecoder().decode(there ?? new Uint8Array()))?.[1];
  if (there && !(edition !== undefined && Number(edition) < EDITION)) return;
  await replaceFile(drive, STRANGER_PAGE, new TextEncoder().encode(TEXT), there);
}
