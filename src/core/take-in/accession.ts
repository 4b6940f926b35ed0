// The accession: one batch of photos taken in at one time, and its record. Numbers are `YYYY.NNN`, those of its photos
// `YYYY.NNN.NNNN`. The record is kept as JSON and as a page that can be read without any program of ours.

import type { Sheet } from './sheet';

/** Where a file was placed and verified. */
export interface PlacedFile {
  driveId: string;
  path: string;
}

export interface AccessionFile {
  from: string;
  number: string;
  role: 'photo' | 'sidecar' | 'beside';
  sizeBytes: number;
  modifiedMs: number;
  /** `null` until it was read. */
  sha256: string | null;
  placed: PlacedFile[];
}

export interface Accession {
  id: string;
  /** `2026.001` */
  number: string;
  name: string;
  note: string;
  source: string;
  /** Milliseconds since 1970, UTC. */
  startedAt: number;
  endedAt: number | null;
  /**
   * Photos and videos on the source when it was looked at; of these, known from before; of these, left out by the
   * person.
   */
  onSource: number;
  known: number;
  leftOut: number;
  routine: string | null;
  sheet: Sheet;
}

const NUMBER = /^(\d{4})\.(\d{3,})$/;
const PHOTO_NUMBER = /^\d{4}\.\d{3,}\.\d{4,}$/;

/** The number after the highest of the year. */
export function nextAccession(numbers: readonly string[], year: number): string {
  let highest = 0;
  for (const number of numbers) {
    const [, of, count] = NUMBER.exec(number) ?? [];
    if (Number(of) === year) highest = Math.max(highest, Number(count));
  }
  return `${String(year).padStart(4, '0')}.${String(highest + 1).padStart(3, '0')}`;
}

export const photoNumber = (accession: string, index: number): string =>
  `${accession}.${String(index).padStart(4, '0')}`;

/** The accession number of a photo among its identifiers; `null` where it has none. */
export const numberAmong = (identifiers: readonly string[]): string | null =>
  identifiers.find((text) => PHOTO_NUMBER.test(text)) ?? null;

/** `2026.001` of `2026.001.0012`. */
export const accessionOf = (number: string): string => number.split('.').slice(0, 2).join('.');

/**
 * Where a sidecar lies as it came, byte for byte, in the archive folder of each drive it went to: the one beside the
 * photo is written into.
 */
export const keptAsItCame = (number: string, from: string): string => `_wembo/accessions/${number}/${from}`;

/** Where cards are kept as they were, each in a folder of its accession’s number. */
export const CARD_COPIES = '_wembo/cards';
export const cardCopyFolder = (number: string): string => `${CARD_COPIES}/${number}`;
/** Checksums of all files of such a copy, as `sha256sum -c` reads them in the folder of the copies. */
export const cardCopyList = (number: string): string => `${CARD_COPIES}/${number}.sha256`;

export interface AccessionCounts {
  onSource: number;
  known: number;
  leftOut: number;
  /** Photos and videos that were to be taken in. */
  chosen: number;
  /** Of those, verified on each drive, by its id. */
  onDrives: Map<string, number>;
  /** Of those, with a verified copy on every drive they were to go to. */
  complete: number;
}

export function countAccession(
  { onSource, known, leftOut, sheet }: Accession,
  files: readonly AccessionFile[],
): AccessionCounts {
  const photos = files.filter(({ role }) => role === 'photo');
  const wanted = [sheet.driveId, sheet.second.driveId].filter((id) => id !== null);
  const onDrives = new Map(
    wanted.map((id) => [id, photos.filter(({ placed }) => placed.some(({ driveId }) => driveId === id)).length]),
  );
  const complete = photos.filter(({ placed }) =>
    wanted.every((id) => placed.some(({ driveId }) => driveId === id)),
  ).length;
  return { onSource, known, leftOut, chosen: photos.length, onDrives, complete };
}

/** `134 on the card · 134 on Studio · 134 on Vault · all checksums equal`, or what is still missing. */
export function countsLine(counts: AccessionCounts, driveName: (id: string) => string): string {
  const parts = [`${counts.onSource} on the card`];
  if (counts.known > 0) parts.push(`${counts.known} known from before`);
  if (counts.leftOut > 0) parts.push(`${counts.leftOut} left out`);
  for (const [id, count] of counts.onDrives) parts.push(`${count} on ${driveName(id)}`);
  const short = [...counts.onDrives].filter(([, count]) => count < counts.chosen);
  parts.push(
    short.length === 0
      ? 'all checksums equal'
      : short.map(([id, count]) => `${counts.chosen - count} not on ${driveName(id)} yet`).join(' · '),
  );
  return parts.join(' · ');
}

/** The record as a page of plain text. @param when writes a time of milliseconds since 1970 for people. */
export function accessionPage(
  accession: Accession,
  files: readonly AccessionFile[],
  driveName: (id: string) => string,
  when: (milliseconds: number) => string,
): string {
  const heading = `Accession ${accession.number}${accession.name ? `  ${accession.name}` : ''}`;
  const lines = [
    heading,
    '='.repeat(heading.length),
    '',
    `From        ${accession.source}`,
    `Begun       ${when(accession.startedAt)}`,
    `Ended       ${accession.endedAt === null ? 'not yet' : when(accession.endedAt)}`,
    ...(accession.routine === null ? [] : [`Routine     ${accession.routine}`]),
    ...(accession.sheet.clockSeconds === 0
      ? []
      : [
          `Clock       ${accession.sheet.clockSeconds} seconds added for folders and names; the dates taken stay as written`,
        ]),
    ...(accession.sheet.asItIs
      ? [
          `As it is    every file of the card, on ${driveName(accession.sheet.asItIs)} in ${cardCopyFolder(accession.number)}`,
        ]
      : []),
    ...(accession.note === '' ? [] : [`Note        ${accession.note.replaceAll('\n', '\n            ')}`]),
    '',
    countsLine(countAccession(accession, files), driveName),
    '',
  ];
  for (const file of files) {
    lines.push(
      `${file.number}  ${file.from}  ${file.sizeBytes} bytes`,
      `  SHA-256 ${file.sha256 ?? 'not read yet'}`,
      ...file.placed.map(({ driveId, path }) => `  ${driveName(driveId)}: ${path}`),
    );
  }
  return `${lines.join('\n')}\n`;
}
