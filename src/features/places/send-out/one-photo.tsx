'use client';

// One photo of the delivery as it will go: the picture with its watermark, its pixels and print, and the exact words
// that will be in its file, with those that stay.

import { Button } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { fieldOf } from '@/core/fields/registry';
import type { FieldValue, Structure } from '@/core/fields/shape';
import { structuresIn, toStrings } from '@/core/fields/values';
import { nameIn } from '@/core/names/file-names';
import { printWords } from '@/core/picture/print-size';
import type { DeliveryProfile } from '@/core/send-out/delivery-profile';
import type { SendablePhoto } from '@/core/send-out/delivery-plan';
import { type BehindWhy, type SentWords, wordsOfPhoto } from '@/core/send-out/words-policy';
import { behindWords } from '@/messages/delivery';
import { bytes, count } from '@/ui/format';
import { asCorrected } from '@/engine/looks';
import { session } from '@/engine/session';
import { drawWatermark } from '@/engine/watermark-drawing';
import styles from './send-out.module.css';
import type { DeliveryAtHand } from './use-delivery-plan';

export function OnePhoto({ planned }: { planned: DeliveryAtHand }) {
  const { plan, photos, used } = planned;
  const [at, setAt] = useState(0);
  const file = plan.files[Math.min(at, plan.files.length - 1)];
  const photo = photos.find(({ id }) => id === file?.photoId);
  if (!file || !photo) return null;
  const shown = Math.min(at, plan.files.length - 1);
  return (
    <div className={styles.one}>
      <p className={styles.step}>
        <Button size="small" disabled={shown === 0} onClick={() => setAt(shown - 1)} aria-label="Photo before">
          ‹
        </Button>
        <span>
          {count(shown + 1)} of {count(plan.files.length)}
        </span>
        <Button
          size="small"
          disabled={shown === plan.files.length - 1}
          onClick={() => setAt(shown + 1)}
          aria-label="Next photo"
        >
          ›
        </Button>
        <strong className="mono">{nameIn(file.path)}</strong>
        <span className="quiet">{sizeOf(file, used)}</span>
      </p>
      <div className={styles.pictureAndWords}>
        <Marked photo={photo} profile={used} />
        <WordsOf photo={photo} planned={planned} />
      </div>
    </div>
  );
}

function sizeOf(
  { pixels, estimatedBytes }: DeliveryAtHand['plan']['files'][number],
  { picture }: DeliveryProfile,
): string {
  const size =
    pixels && picture.kind === 'made'
      ? `${count(pixels.width)} × ${count(pixels.height)}, ${printWords(pixels, picture.ppi)}, about `
      : '';
  return `${size}${bytes(estimatedBytes)}`;
}

/** The preview with the watermark of the profile, drawn by the same hand as in the delivery. */
function Marked({ photo, profile }: { photo: SendablePhoto; profile: DeliveryProfile }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { watermark } = profile;
  const isMarked = profile.picture.kind === 'made' && watermark !== null;
  const mark = JSON.stringify(isMarked ? watermark : null);
  useEffect(() => {
    let isCurrent = true;
    const draw = async () => {
      const preview = await session.db.previews.get(photo.id);
      const bitmap = preview && (await createImageBitmap(await asCorrected(photo, preview.blob)));
      const overlay =
        bitmap && isMarked ? await drawWatermark(watermark, { fields: photo.fields, path: photo.path }, bitmap) : null;
      const overlaid = overlay && (await createImageBitmap(overlay.pixels));
      const target = canvas.current;
      if (!isCurrent || !target || !bitmap) return;
      target.width = bitmap.width;
      target.height = bitmap.height;
      const context = target.getContext('2d');
      context?.drawImage(bitmap, 0, 0);
      if (overlay && overlaid) context?.drawImage(overlaid, overlay.left, overlay.top);
      bitmap.close();
    };
    draw().catch((error: unknown) => console.error(error));
    return () => {
      isCurrent = false;
    };
    // the mark says all of the watermark
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [photo.id, mark]);
  return <canvas ref={canvas} className={styles.picture} role="img" aria-label={`Preview of ${nameIn(photo.path)}`} />;
}

function WordsOf({ photo, planned }: { photo: SendablePhoto; planned: DeliveryAtHand }) {
  const { used, marks } = planned;
  const { picture, words } = used;
  if (picture.kind === 'original' && !picture.sidecar)
    return <p className="quiet">The file goes as it is, with all that stands in it.</p>;
  const { fields, behind } = wordsOfPhoto(photo.fields, words, marks);
  const leaving = Object.entries(fields);
  return (
    <div className={styles.words} tabIndex={0} role="region" aria-label="Words in its file">
      <table>
        <caption>
          In its {picture.kind === 'original' ? 'sidecar' : 'file'}: {count(leaving.length)} fields
          {picture.kind === 'made' && words.which === 'all' ? ', and what the camera noted' : ''}
        </caption>
        <tbody>
          {leaving.map(([key, value]) => (
            <tr key={key}>
              <th scope="row">{fieldOf(key as keyof typeof fields).label}</th>
              <td>{key === 'keywordTree' ? branchesOf(value).join('; ') : toStrings(value).join('; ')}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {behind.length > 0 && (
        <dl className={styles.behind}>
          {reasonsOf(behind).map(([why, labels]) => (
            <div key={why}>
              <dt>Stays here, {behindWords(why)}:</dt> <dd>{labels.join(', ')}</dd>
            </div>
          ))}
        </dl>
      )}
    </div>
  );
}

/** The fields of which something stays, by the reason. */
function reasonsOf(behind: SentWords['behind']): [BehindWhy, string[]][] {
  const reasons = new Map<BehindWhy, string[]>();
  for (const { key, why } of behind) reasons.set(why, [...(reasons.get(why) ?? []), fieldOf(key).label]);
  return [...reasons];
}

/** The keywords of a tree with those they stand under: `birds › puffin`. */
function branchesOf(value: FieldValue): string[] {
  const walk = (nodes: readonly Structure[], above: readonly string[]): string[] =>
    nodes.flatMap(({ keyword, applied, children }) => {
      const path = [...above, String(keyword)];
      const below = structuresIn(children);
      return [...(applied === true || below.length === 0 ? [path.join(' › ')] : []), ...walk(below, path)];
    });
  return structuresIn(value).flatMap(({ hierarchy }) => walk(structuresIn(hierarchy), []));
}
