'use client';

// From a photo to the others around it: of its day, in this and other years, of its hour, its place, its folder, its
// set, its accession; those that look like it, and those of its colours.

import { Button, Dropdown } from 'antd';
import { capturedIn, wordsIn, positionIn } from '@/core/fields/values';
import { hexOfLab } from '@/core/picture/colours';
import { folderIn, nameIn } from '@/core/names/file-names';
import { nearText } from '@/core/query/terms';
import { folderValue } from '@/core/query/folder-value';
import { quoted } from '@/core/query/write-scope';
import { numberAmong } from '@/core/take-in/accession';
import { pathToBe } from '@/storage/catalog/changes';
import type { FileRecord, PhotoRecord } from '@/storage/catalog/records';
import { useLive } from '@/storage/catalog/live';
import { session } from '@/engine/session';
import styles from './neighbours.module.css';
import { useScope } from '@/features/parts/search/use-scope';

const AROUND_MINUTES = 30;
const AROUND_METRES = 500;

/** The scopes around a photo, by what they are called. */
export function scopesAround(
  photo: PhotoRecord,
  file: FileRecord | undefined,
  inSet: boolean,
  looked: boolean,
): { name: string; scope: string }[] {
  const written = capturedIn(photo.fields)?.written ?? '';
  const day = written.slice(0, 10);
  const position = positionIn(photo.fields);
  const number = numberAmong(wordsIn(photo.fields.identifier));
  const path = file ? pathToBe(file) : '';
  const around: { name: string; scope: string | false }[] = [
    { name: 'This day', scope: day.length === 10 && `taken:${day}` },
    { name: 'This day in other years', scope: day.length === 10 && `taken:-${day.slice(4)}` },
    { name: 'Around this time', scope: written.length >= 19 && `around:${written.slice(0, 16)}~${AROUND_MINUTES}m` },
    { name: 'Around this place', scope: position !== null && `near:${nearText(position, AROUND_METRES)}` },
    {
      name: 'Its folder',
      scope: folderIn(path) !== '' && `folder=${quoted(folderValue({ drive: null, path: folderIn(path) }))}`,
    },
    { name: 'Its set', scope: inSet && path !== '' && `set:${quoted(nameIn(path))}` },
    { name: 'Its accession', scope: number !== null && `accession:${number.slice(0, number.lastIndexOf('.'))}` },
    { name: 'Looks like it', scope: looked && path !== '' && `like:${quoted(nameIn(path))}` },
  ];
  return around.filter((one): one is { name: string; scope: string } => one.scope !== false);
}

export function Neighbours({
  photo,
  file,
  inSet,
}: {
  photo: PhotoRecord;
  file: FileRecord | undefined;
  inSet: boolean;
}) {
  const { setScope } = useScope();
  const measures = useLive(() => session.db.measures.get(photo.id), [photo.id])?.measures ?? null;
  const around = scopesAround(photo, file, inSet, measures !== null);
  return (
    <Dropdown
      trigger={['click']}
      placement="bottomRight"
      menu={{
        items: [
          ...around.map(({ name, scope }) => ({ key: scope, label: name, title: scope })),
          ...(measures?.colours ?? []).map(({ lab, share }) => {
            const hex = hexOfLab(lab);
            return {
              key: `colour:${hex}`,
              icon: <span className={styles.swatch} style={{ background: hex }} aria-hidden />,
              label: `Photos with the colour ${hex}`,
              title: `${share} % of this one`,
            };
          }),
        ],
        onClick: ({ key }) => setScope(key),
      }}
    >
      <Button size="small" type="text" className={styles.goTo}>
        Go to…
      </Button>
    </Dropdown>
  );
}
