'use client';

// One photo large. The preview is there at once; the original takes its place when it is decoded. Space: real pixels.

import { Button } from 'antd';
import { useEffect, useState } from 'react';
import { useLive } from '@/storage/catalog/live';
import type { PhotoRecord } from '@/storage/catalog/records';
import { exposureWords } from '@/ui/format';
import { useKeys } from '@/ui/keys';
import { RatingBars } from '@/ui/rating-bars';
import { usePreview } from '../session/previews';
import { session, useSession } from '../session/session';
import styles from './single-view.module.css';

interface Props {
  photoId: string;
  order: string[];
  onStep: (step: 1 | -1) => void;
  onClose: () => void;
}

type Original = { state: 'loading' } | { state: 'shown'; url: string } | { state: 'away' } | { state: 'undecodable' };

export function SingleView({ photoId, order, onStep, onClose }: Props) {
  const photo = useLive(() => session.db.photos.get(photoId), [photoId]);
  const preview = usePreview(photoId);
  const original = useOriginal(photoId);
  const [zoomed, setZoomed] = useState(false);
  const [at, setAt] = useState({ x: 0.5, y: 0.5 });
  useEffect(() => setZoomed(false), [photoId]);
  useKeys({ ' ': () => setZoomed((now) => !now), Escape: onClose, Enter: onClose });
  const place = order.indexOf(photoId);
  const source = original.state === 'shown' ? original.url : preview;
  return (
    <section className={styles.view} aria-label="Single view">
      <div
        className={styles.stage} data-zoomed={zoomed} onDoubleClick={onClose}
        onPointerMove={(event) => {
          const box = event.currentTarget.getBoundingClientRect();
          setAt({ x: (event.clientX - box.left) / box.width, y: (event.clientY - box.top) / box.height });
        }}
      >
        {source && (zoomed ? <Pixels source={source} at={at} /> : <img src={source} alt={altOf(photo)} className={styles.whole} />)}
        {!source && <p className={styles.remark}>{preview === null ? 'There is no preview of this photo.' : ''}</p>}
        <Remark original={original} />
      </div>
      <footer className={styles.foot}>
        <Button type="text" onClick={() => onStep(-1)} disabled={place <= 0} aria-label="← A: previous photo">← <kbd>A</kbd></Button>
        <span className="mono">{photo ? exposureWords(photo.exposure).join('  ') : ''}</span>
        <RatingBars rating={typeof photo?.fields.rating === 'number' ? photo.fields.rating : 0} size="large" />
        <span className="mono">{place + 1} of {order.length}</span>
        <Button type="text" onClick={() => setZoomed((now) => !now)}>{zoomed ? 'Whole picture' : '100 %'} <kbd>Space</kbd></Button>
        <Button type="text" onClick={onClose}>Wall <kbd>Esc</kbd></Button>
        <Button type="text" onClick={() => onStep(1)} disabled={place < 0 || place >= order.length - 1} aria-label="D →: next photo"><kbd>D</kbd> →</Button>
      </footer>
    </section>
  );
}

const altOf = (photo: PhotoRecord | undefined): string => {
  const said = photo?.fields.caption ?? photo?.fields.headline ?? photo?.fields.title;
  return typeof said === 'string' ? said : 'Photo';
};

function Remark({ original }: { original: Original }) {
  if (original.state === 'away') return <p className={styles.remark}>Its drive is away: this is the preview.</p>;
  if (original.state === 'undecodable') return <p className={styles.remark}>This browser cannot decode the original: this is the preview.</p>;
  return null;
}

/** Real pixels, with the part under the pointer in view. */
function Pixels({ source, at }: { source: string; at: { x: number; y: number } }) {
  return <div className={styles.pixels} style={{ backgroundImage: `url(${source})`, backgroundPosition: `${at.x * 100}% ${at.y * 100}%` }} role="img" aria-label="Photo at 100 %" />;
}

function useOriginal(photoId: string): Original {
  const [original, setOriginal] = useState<{ id: string; original: Original } | null>(null);
  const connections = useSession((state) => state.connections);
  useEffect(() => {
    let current = true;
    let url: string | null = null;
    const show = async () => {
      const found = await session.original(photoId);
      const blob = found && (await decodable(found.file, photoId));
      if (!current) return;
      if (!blob) {
        setOriginal({ id: photoId, original: { state: found ? 'undecodable' : 'away' } });
        return;
      }
      url = URL.createObjectURL(blob);
      setOriginal({ id: photoId, original: { state: 'shown', url } });
    };
    void show();
    return () => {
      current = false;
      if (url) URL.revokeObjectURL(url);
    };
  }, [photoId, connections]);
  return original?.id === photoId ? original.original : { state: 'loading' };
}

/** What the browser can show of a file: itself, or the largest JPEG embedded in it. `null` where neither decodes. */
async function decodable(file: File, photoId: string): Promise<Blob | null> {
  const embedded = (await session.db.photos.get(photoId))?.previews[0];
  const inside = embedded && file.slice(embedded.offset, embedded.offset + embedded.length, 'image/jpeg');
  for (const blob of [file, inside]) {
    if (!blob) continue;
    const image = new Image();
    image.src = URL.createObjectURL(blob);
    try {
      await image.decode();
      return blob;
    } catch {
      continue;
    } finally {
      URL.revokeObjectURL(image.src);
    }
  }
  return null;
}
