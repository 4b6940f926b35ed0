// The parts a pattern can be put together from, with their words and how each begins.

import type { PatternPart } from '@/core/names/pattern';

interface PartKind {
  label: string;
  help: string;
  make: PatternPart;
  /** Where it makes sense. */
  in: 'names' | 'folders' | 'both';
}

export const PART_KINDS: readonly PartKind[] = [
  { label: 'text', help: 'What you type, a separator too', make: { kind: 'text', text: '_' }, in: 'both' },
  { label: 'date', help: 'When it was taken, in any form', make: { kind: 'date', form: 'YYYY-MM-DD' }, in: 'both' },
  { label: 'subject', help: 'Typed once, above', make: { kind: 'blank', of: 'subject' }, in: 'both' },
  { label: 'client', help: 'Typed once, above', make: { kind: 'blank', of: 'client' }, in: 'both' },
  { label: 'kind of work', help: 'Typed once, above', make: { kind: 'blank', of: 'kind' }, in: 'both' },
  {
    label: 'sequence',
    help: '0001, 0002 …',
    make: { kind: 'sequence', start: 1, digits: 4, over: 'folder' },
    in: 'names',
  },
  { label: 'camera’s number', help: 'The last digits of the old name', make: { kind: 'camera-number' }, in: 'names' },
  { label: 'old name', help: 'As the camera called it', make: { kind: 'old-name' }, in: 'names' },
  { label: 'camera', help: 'Its make and model', make: { kind: 'camera' }, in: 'both' },
  { label: 'accession', help: 'The number of this accession', make: { kind: 'accession' }, in: 'both' },
  {
    label: 'photo’s number',
    help: 'Its permanent number in the accession',
    make: { kind: 'photo-number' },
    in: 'names',
  },
  { label: 'card or folder', help: 'What it comes from', make: { kind: 'source' }, in: 'both' },
  {
    label: 'originals or processed',
    help: 'Keeps PSD and TIFF beside the originals',
    make: { kind: 'role' },
    in: 'folders',
  },
  {
    label: 'folder in it',
    help: 'What follows lies inside what stands before',
    make: { kind: 'level' },
    in: 'folders',
  },
];

const sameKind = (one: PatternPart, other: PatternPart) =>
  one.kind === other.kind && (one.kind !== 'blank' || one.of === (other as typeof one).of);

export const labelOf = (part: PatternPart): string =>
  PART_KINDS.find(({ make }) => sameKind(make, part))?.label ?? part.kind;
