// The shapes of what comes from drives: patterns, kits, sheets and accessions. Each is the core's own type, checked.

import { z } from 'zod';
import { type FieldKey, isFieldKey } from '@/core/fields/registry';
import type { FieldValue } from '@/core/fields/shape';
import type { KitEntry } from '@/core/describe/kit';
import type { PatternPart, Pattern } from '@/core/names/pattern';
import { MADE_FORMATS } from '@/core/send-out/delivery-profile';
import { CORNERS, WATERMARK_BYTES_LIMIT } from '@/core/send-out/watermark';
import type { Accession, AccessionFile } from '@/core/take-in/accession';
import type { Sheet } from '@/core/take-in/sheet';

const text = z.string().max(2000);
const whole = z.number().int().min(0).max(1_000_000_000);

const part: z.ZodType<PatternPart> = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('text'), text }),
  z.object({ kind: z.literal('date'), form: text }),
  z.object({
    kind: z.literal('sequence'),
    start: whole,
    digits: z.number().int().min(1).max(9),
    over: z.enum(['accession', 'folder', 'day']),
  }),
  z.object({ kind: z.literal('blank'), of: z.enum(['kind', 'client', 'subject']) }),
  ...(['camera-number', 'old-name', 'camera', 'accession', 'photo-number', 'source', 'role', 'level'] as const).map(
    (kind) => z.object({ kind: z.literal(kind) }),
  ),
] as never);

export const pattern: z.ZodType<Pattern> = z.array(part).max(60);

/** A caption may be long. */
const said = z.string().max(100_000);

export const fieldValue: z.ZodType<FieldValue> = z.lazy(() =>
  z.union([
    said,
    z.number(),
    z.boolean(),
    z.array(said).max(1000),
    z.record(text, fieldValue),
    z.array(z.record(text, fieldValue)).max(1000),
  ]),
);

export const kitEntry: z.ZodType<KitEntry> = z.object({
  key: z.custom<FieldKey>((key) => typeof key === 'string' && isFieldKey(key)),
  mode: z.enum(['leave', 'fill', 'add', 'replace']),
  value: fieldValue,
});

const id = z.string().max(64);

/** What was called a film is a video. */
const withVideos = (read: unknown): unknown =>
  typeof read === 'object' && read !== null && 'withFilms' in read
    ? Object.fromEntries(Object.entries(read).map(([key, value]) => [key === 'withFilms' ? 'withVideos' : key, value]))
    : read;

const sheetNow: z.ZodType<Sheet> = z.object({
  driveId: id.nullable(),
  withSubfolders: z.boolean(),
  withVideos: z.boolean(),
  folder: pattern,
  folderPer: z.enum(['photo', 'accession']),
  names: pattern.nullable(),
  blanks: z.object({ kind: text, client: text, subject: text }),
  keepOldName: z.boolean(),
  kitIds: z.array(id).max(50),
  keywords: z.array(text).max(500),
  marker: text,
  clockSeconds: z.number(),
  second: z.object({ driveId: id.nullable(), layout: z.enum(['same', 'card']), folder: pattern }),
  asItIs: id.nullable().optional(),
  previews: z.enum(['small', 'large', 'by-night']),
  copiesToEmpty: z.number().int().min(1).max(9),
  awayCounts: z.boolean().optional(),
});

export const sheet = z.preprocess(withVideos, sheetNow);

const digest = z.string().regex(/^[0-9a-f]{64}$/);
const path = z.string().max(5000);

const file: z.ZodType<AccessionFile> = z.object({
  from: path,
  number: text,
  role: z.enum(['photo', 'sidecar', 'beside']),
  sizeBytes: z.number(),
  modifiedMs: z.number(),
  sha256: digest.nullable(),
  placed: z.array(z.object({ driveId: id, path })).max(20),
});

/** Letters of the note of an accession, at most. */
export const NOTE_LENGTH = 100_000;

export type AccessionOnDrive = Accession & { files: AccessionFile[] };

/** Version 1 called videos films. */
export const ACCESSION_VERSION = 2;

export const accessionFile: z.ZodType<AccessionOnDrive> = z.object({
  format: z.literal('wembo-accession'),
  version: z.union([z.literal(1), z.literal(ACCESSION_VERSION)]),
  id,
  number: z.string().regex(/^\d{4}\.\d{3,9}$/),
  name: text,
  note: z.string().max(NOTE_LENGTH),
  source: text,
  startedAt: z.number(),
  endedAt: z.number().nullable(),
  onSource: whole,
  known: whole,
  leftOut: whole,
  routine: text.nullable(),
  sheet,
  files: z.array(file).max(200_000),
});

const pixels = z.number().int().min(1).max(100_000);
const outputSize = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('full') }),
  z.object({ kind: z.literal('long-edge'), pixels }),
  z.object({ kind: z.literal('short-edge'), pixels }),
  z.object({ kind: z.literal('within'), width: pixels, height: pixels }),
  z.object({ kind: z.literal('megapixels'), megapixels: z.number().min(0.01).max(1000) }),
  z.object({ kind: z.literal('print'), long: z.number().min(0.1).max(1000), unit: z.enum(['cm', 'in']) }),
]);

const watermark = z.object({
  text: z.string().max(500),
  picture: z.string().max(WATERMARK_BYTES_LIMIT).startsWith('data:image/png;base64,').nullable(),
  place: z.enum(CORNERS),
  size: z.number().min(0.01).max(1),
  opacity: z.number().min(0).max(1),
});

/** A delivery profile without its name. */
export const profileContent = {
  picture: z.discriminatedUnion('kind', [
    z.object({
      kind: z.literal('made'),
      format: z.enum(MADE_FORMATS),
      quality: z.number().int().min(1).max(100),
      bytesLimit: z.number().int().min(1000).nullable(),
      size: outputSize,
      enlarge: z.boolean(),
      ppi: z.number().int().min(1).max(10_000),
      colour: z.enum(['srgb', 'kept']),
      sharpening: z.enum(['none', 'screen', 'paper']),
    }),
    z.object({ kind: z.literal('original'), sidecar: z.boolean() }),
  ]),
  names: pattern,
  folder: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('on-drive'), driveId: id.nullable(), parts: pattern }),
    z.object({
      kind: z.literal('zip'),
      driveId: id.nullable(),
      parts: pattern,
      name: z.string().min(1).max(200),
    }),
    z.object({ kind: z.literal('beside'), name: z.string().min(1).max(200) }),
  ]),
  words: z.object({
    which: z.enum(['all', 'descriptive', 'rights', 'none']),
    place: z.enum(['in', 'town', 'out']),
    people: z.enum(['in', 'out']),
  }),
  watermark: watermark.nullable(),
  extras: z.object({ page: z.boolean(), table: z.boolean() }),
  sentAs: z.string().max(500),
} satisfies z.ZodRawShape;

/** A file that arrived somewhere. */
export const sentFile = z.object({
  photoId: z.string().max(200),
  driveId: id,
  path: z.string().max(5000),
  fingerprint: z.string().max(64),
  sha256: z.string().max(64),
  bytes: z.number().min(0),
  width: z.number().nullable(),
  height: z.number().nullable(),
});
