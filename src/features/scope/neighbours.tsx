'use client';

// From a photo to the others around it: the rest of its day, its folder, its set, its accession.

import { Button } from 'antd';
import { capturedIn, wordsIn } from '@/core/fields/values';
import { folderIn, nameIn } from '@/core/names/file-names';
import { quoted } from '@/core/scope/write-scope';
import { numberAmong } from '@/core/take-in/accession';
import { pathToBe } from '@/storage/catalog/changes';
import type { FileRecord, PhotoRecord } from '@/storage/catalog/records';
import styles from './scope.module.css';
import { useScope } from './use-scope';

/** The scopes around a photo, by what they are called. */
export function scopesAround(photo: PhotoRecord, file: FileRecord | undefined, inSet: boolean): { name: string; scope: string }[] {
  const day = capturedIn(photo.fields)?.written.slice(0, 10) ?? '';
  const number = numberAmong(wordsIn(photo.fields.identifier));
  const path = file ? pathToBe(file) : '';
  const around: { name: string; scope: string | false }[] = [
    { name: 'This day', scope: day.length === 10 && `taken:${day}` },
    { name: 'Its folder', scope: folderIn(path) !== '' && `folder:${quoted(folderIn(path))}` },
    { name: 'Its set', scope: inSet && path !== '' && `set:${quoted(nameIn(path))}` },
    { name: 'Its accession', scope: number !== null && `accession:${number.slice(0, number.lastIndexOf('.'))}` },
  ];
  return around.filter((one): one is { name: string; scope: string } => one.scope !== false);
}

export function Neighbours({ photo, file, inSet }: { photo: PhotoRecord; file: FileRecord | undefined; inSet: boolean }) {
  const { setScope } = useScope();
  return (
    <nav className={styles.neighbours} aria-label="From this photo to">
      {scopesAround(photo, file, inSet).map(({ name, scope }) => <Button key={name} size="small" onClick={() => setScope(scope)} title={scope}>{name}</Button>)}
    </nav>
  );
}
