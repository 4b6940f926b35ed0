'use client';

// A row of photos that lead to themselves in Find.

import Link from 'next/link';
import { photoAddress } from '@/features/parts/search/use-scope';
import { usePreview } from './previews';
import styles from './thumb-strip.module.css';

interface Props {
  label: string;
  /** What is searched for where they are opened. */
  scope: string;
  photoIds: readonly string[];
}

export const ThumbStrip = ({ label, scope, photoIds }: Props) => (
  <ul className={styles.thumbs} aria-label={label}>
    {photoIds.map((id) => (
      <Thumb key={id} id={id} scope={scope} />
    ))}
  </ul>
);

function Thumb({ id, scope }: { id: string; scope: string }) {
  const preview = usePreview(id);
  return (
    <li>
      <Link href={photoAddress(scope, id)} aria-label="Open this photo">
        {preview ? <img src={preview} alt="" draggable={false} /> : <span />}
      </Link>
    </li>
  );
}
