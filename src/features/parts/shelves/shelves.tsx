'use client';

// The shelves: drives, collections, accessions, what was sent out, and the facets. A click narrows the scope, another
// widens it.

import { FACET_NAMES, type FacetName } from '@/core/search/facets';
import { quoted, termOf, withTerm } from '@/core/query/write-scope';
import { sameWord } from '@/core/vocabulary/vocabulary';
import { useLive } from '@/storage/catalog/live';
import { isOfFiles } from '@/storage/catalog/records';
import { session } from '@/engine/session';
import { CollectionShelf } from './collection-shelf';
import { ColourShelf } from './colour-shelf';
import { DeliveryShelf } from './delivery-shelf';
import { FacetShelf } from './facet-shelf';
import { FolderShelf } from './folder-shelf';
import styles from './shelves.module.css';
import { ShelfLine, Shelf } from './shelf';
import { useFacet } from '@/features/parts/search/use-facets';
import { useScope } from '@/features/parts/search/use-scope';
import { useCounts } from '@/features/parts/search/use-counts';
import { useSession } from '@/features/parts/session/use-session';

/** Drives and accessions have shelves of their own, which show more than a name. */
const FACET_SHELVES = FACET_NAMES.filter(
  (name): name is Exclude<FacetName, 'drive' | 'accession' | 'sent'> =>
    name !== 'drive' && name !== 'accession' && name !== 'sent',
);

export function Shelves() {
  return (
    <nav className={styles.shelves} aria-label="Shelves">
      <DriveShelf />
      <FolderShelf />
      <CollectionShelf />
      <AccessionShelf />
      <DeliveryShelf />
      {FACET_SHELVES.map((name) => (
        <FacetShelf key={name} name={name} />
      ))}
      <ColourShelf />
    </nav>
  );
}

function DriveShelf() {
  const drives = useLive(() => session.db.drives.toArray()) ?? [];
  const outbox = useLive(() => session.db.outbox.toArray()) ?? [];
  const connections = useSession((state) => state.connections);
  const { values, chosen, toggle } = useFacet('drive');
  return (
    <Shelf name="drives" title="Drives">
      {drives.map((drive) => {
        const state = connections[drive.id]?.state ?? 'away';
        const waiting = outbox.filter(({ driveId, task }) => driveId === drive.id && isOfFiles(task)).length;
        const remark = [
          state === 'away' && 'away',
          state === 'needs-permission' && 'asks',
          state === 'needs-link' && 'closed to this page',
          waiting > 0 && `${waiting} waiting`,
        ]
          .filter(Boolean)
          .join(' · ');
        return (
          <ShelfLine
            key={drive.id}
            name={drive.name}
            number={values.find(({ value }) => sameWord(value, drive.name))?.count ?? 0}
            remark={remark}
            chosen={chosen.any.includes(drive.name)}
            onClick={() => toggle(drive.name)}
          />
        );
      })}
      {drives.length === 0 && <p className="quiet">No drive yet.</p>}
    </Shelf>
  );
}

/** Accessions in sight: the others are found by number, or in Take in. */
const ACCESSIONS = 5;

function AccessionShelf() {
  const accessions =
    useLive(async () =>
      (await session.db.accessions.toArray()).sort((a, b) => b.startedAt - a.startedAt).slice(0, ACCESSIONS),
    ) ?? [];
  const counts = useCounts(accessions.map(({ number }) => `accession:${number}`));
  const { scope, setScope } = useScope();
  const chosen = termOf(scope, 'accession');
  if (accessions.length === 0) return null;
  return (
    <Shelf name="accessions" title="Brought in">
      {accessions.map(({ id, number, name, source }, index) => (
        <ShelfLine
          key={id}
          name={
            <>
              {name || source} <span className={styles.shelfCount}>{number}</span>
            </>
          }
          number={counts[index]}
          chosen={chosen === number}
          onClick={() => setScope((now) => withTerm(now, 'accession', chosen === number ? null : quoted(number)))}
        />
      ))}
    </Shelf>
  );
}
