'use client';

// The drives in aligned rows, with the cards that are taken in from.

import type { ReactNode } from 'react';
import type { DriveRecord } from '@/storage/catalog/records';
import { session } from '@/engine/session';
import { bytes } from '@/ui/format';
import { useAsked } from '@/features/parts/session/use-asked';
import { useKeeping, useSession } from '@/features/parts/session/use-session';
import { ArchiveProblems } from './archive-problems';
import { CardRows } from './card-rows';
import { DriveRow } from './drive-row';
import styles from './overview.module.css';

export function DrivesPanel({ drives, acts }: { drives: readonly DriveRecord[]; acts: ReactNode }) {
  const { verifiedWithinDays } = useKeeping().rule;
  const years = useAsked(`driveYears ${verifiedWithinDays}`, () => session.search.driveYears(verifiedWithinDays), 1000);
  const thisYear = new Date().getFullYear();
  const growthFor = (driveId: string) => {
    const of = years?.answer.drives.get(driveId);
    return of ? { photosByYear: new Map([...of].map(([year, { photos }]) => [year, photos])), thisYear } : null;
  };
  return (
    <section className={styles.panel} id="drives" aria-label="Drives">
      <header>
        <h2>Drives</h2>
        {acts}
      </header>
      <ul className={styles.drives}>
        {drives.map((drive) => (
          <DriveRow key={drive.id} drive={drive} growth={growthFor(drive.id)} />
        ))}
      </ul>
      <ArchiveProblems drives={drives} />
      <CardRows />
      <Storage />
    </section>
  );
}

function Storage() {
  const storage = useSession((state) => state.storage);
  if (!storage) return null;
  return (
    <p className={styles.storage}>
      {storage.persisted
        ? 'This browser has promised to keep the catalog.'
        : 'This browser has not promised to keep the catalog: short of space, it may drop it. Nothing would be lost: everything you entered is in the files on your drives, and connecting them brings it back.'}{' '}
      <span className="mono">
        {bytes(storage.usedBytes)} of {bytes(storage.quotaBytes)} used
      </span>
    </p>
  );
}
