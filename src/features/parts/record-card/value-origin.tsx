'use client';

import { Button } from 'antd';
import { cutByIim } from '@/core/metadata/embed/iim-edit';
import { type FieldRow, fieldOf } from '@/core/fields/registry';
import { sameValue, toTyped } from '@/core/fields/values';
import type { Disagreement, Family } from '@/core/metadata/reading/reconcile';
import { planSet } from '@/core/fields/edits';
import type { FileRecord, PhotoRecord } from '@/storage/catalog/records';
import { embeddedIn } from '@/storage/catalog/sidecars';
import { SmallCard } from '@/ui/small-card';
import { session } from '@/engine/session';
import styles from './record-card.module.css';

/** The one photo the card shows, and its files: what is needed to say where a value comes from. */
export interface OriginOfValue {
  photo: PhotoRecord;
  files: FileRecord[];
}

const FAMILY_WORDS: Record<Family, string> = { exif: 'EXIF', iim: 'IIM', xmp: 'XMP', video: 'video' };

/** Where the value in force stands: a family in the image file, the sidecar, or only here so far. */
function standsIn({ photo, files }: OriginOfValue, { key }: FieldRow): { word: string; sentence: string } | null {
  const value = photo.fields[key];
  if (value === undefined) return null;
  const family = photo.sources[key];
  if (family && files.some((file) => sameValue(value, embeddedIn(file, photo)[key])))
    return { word: FAMILY_WORDS[family], sentence: `from ${FAMILY_WORDS[family]} in the image file` };
  if (files.some(({ sidecar }) => sidecar && sameValue(sidecar.base[key], value)))
    return { word: 'sidecar', sentence: 'from the sidecar' };
  return { word: 'here', sentence: 'entered here; it waits to be written into the sidecar' };
}

/** Whether an image file itself holds the value, and so in IIM as much of it as fits there. */
const isInAFile = ({ photo, files }: OriginOfValue, { key }: FieldRow): boolean =>
  files.some(({ embedded }) => embedded !== null && sameValue(embedded[key], photo.fields[key]));

/** Where a value comes from, and what disagrees with it, with the choice. */
export function ValueOrigin({ origin, row }: { origin: OriginOfValue; row: FieldRow }) {
  const stands = standsIn(origin, row);
  const disagreement = origin.photo.disagreements.find(({ key }) => key === row.key);
  const isCut = cutByIim(row, origin.photo.fields) && isInAFile(origin, row);
  if (!stands && !disagreement) return null;
  const content = (
    <div className={styles.origin}>
      {stands && (
        <p>
          {row.label}: {stands.sentence}.
        </p>
      )}
      {isCut && row.iim && (
        <p>Longer than the {row.iim.maxBytes} bytes IIM has for it: there a cut stands, XMP holds it whole.</p>
      )}
      {disagreement && <Statements photo={origin.photo} disagreement={disagreement} />}
    </div>
  );
  return (
    <SmallCard content={content} placement="topRight">
      <button
        type="button"
        className={styles.stands}
        data-differs={disagreement !== undefined}
        data-cut={isCut}
        aria-label={`Where ${row.label} comes from: ${stands?.sentence ?? 'nowhere'}${disagreement ? '; the file says different things' : ''}`}
      >
        {stands?.word ?? '–'}
        {isCut && ' cut'}
        {disagreement && ' ≠'}
      </button>
    </SmallCard>
  );
}

function Statements({ photo, disagreement: { key, said } }: { photo: PhotoRecord; disagreement: Disagreement }) {
  const take = (value: (typeof said)[number]['value']) =>
    void session.change({ kind: 'fields', origin: 'person', edits: planSet([photo], key, value) });
  return (
    <>
      <p>The image file says different things:</p>
      <table className={styles.statements} aria-label={`What the file says for ${fieldOf(key).label}`}>
        <tbody>
          {said.map(({ family, value }) => (
            <tr key={family}>
              <th scope="row">{FAMILY_WORDS[family]}</th>
              <td>{toTyped(value)}</td>
              <td>
                {sameValue(photo.fields[key], value) ? (
                  <span className="quiet">in force</span>
                ) : (
                  <Button size="small" onClick={() => take(value)}>
                    Take this
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
