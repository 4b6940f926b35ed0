// What edits will do, summed up for the person before it happens: by field, and in each by what stands there and what
// comes.

import { FIELDS, type FieldKey } from './registry';
import type { FieldValue } from './shape';
import type { FieldEdit } from './edits';

export interface FieldPreview {
  key: FieldKey;
  photos: number;
  /** Photos that say something else there now. */
  replaced: number;
  /** The most frequent first. */
  kinds: { before?: FieldValue; after?: FieldValue; photos: number }[];
}

export interface EditsPreview {
  photos: number;
  fields: FieldPreview[];
}

export function previewEdits(edits: readonly FieldEdit[]): EditsPreview {
  const fields = FIELDS.flatMap(({ key }): FieldPreview[] => {
    const own = edits.filter((edit) => edit.key === key);
    if (own.length === 0) return [];
    const kinds = new Map<string, FieldPreview['kinds'][number]>();
    for (const { before, after } of own) {
      const name = JSON.stringify([before, after]);
      const kind = kinds.get(name);
      if (kind) kind.photos += 1;
      else
        kinds.set(name, { ...(before !== undefined && { before }), ...(after !== undefined && { after }), photos: 1 });
    }
    return [
      {
        key,
        photos: own.length,
        replaced: own.filter(({ before }) => before !== undefined).length,
        kinds: [...kinds.values()].sort((a, b) => b.photos - a.photos),
      },
    ];
  });
  return { photos: new Set(edits.map(({ photoId }) => photoId)).size, fields };
}
