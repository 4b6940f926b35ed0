'use client';

// What is new, and what one was at: the latest accessions, the photos that were last written about, the last searches.

import Link from 'next/link';
import { plainly } from '@/core/search/search-record';
import { useLive } from '@/storage/catalog/live';
import type { AccessionRecord } from '@/storage/catalog/records';
import { session } from '@/engine/session';
import { dayWords } from '@/ui/format';
import { ThumbStrip } from '@/features/parts/picture/thumb-strip';
import { findAddress } from '@/features/parts/search/use-scope';
import { useRecentScopes } from '@/features/parts/search-line/kept-searches';
import { useAsked } from '@/features/parts/session/use-asked';
import styles from './overview.module.css';

const ACCESSIONS = 2;
const THUMBS = 12;
const SEARCHES = 4;
/** Acts looked back through for photos. */
const ACTS = 40;

export function Lately() {
  const accessions =
    useLive(async () =>
      (await session.db.accessions.toArray()).sort((a, b) => b.startedAt - a.startedAt).slice(0, ACCESSIONS),
    ) ?? [];
  const touched = useLive(lastTouched);
  const { recent } = useRecentScopes();
  return (
    <section className={styles.panel} aria-label="Lately">
      <header>
        <h2>Lately</h2>
      </header>
      {accessions.map((accession) => (
        <NewAccession key={accession.id} accession={accession} />
      ))}
      {touched && touched.photoIds.length > 0 && (
        <>
          <h3>You were at these, {dayWords(touched.at)}</h3>
          <ThumbStrip label="Photos you were at" scope="" photoIds={touched.photoIds} />
        </>
      )}
      {recent.length > 0 && (
        <p className={styles.searches}>
          You searched for{' '}
          {recent.slice(0, SEARCHES).map((scope) => (
            <Link key={scope} className="mono" href={findAddress(scope)}>
              {scope}
            </Link>
          ))}
        </p>
      )}
      {accessions.length === 0 && !touched?.photoIds.length && recent.length === 0 && (
        <p className="quiet">What you take in, write and search for is found again here.</p>
      )}
    </section>
  );
}

function NewAccession({ accession: { number, name, source, startedAt } }: { accession: AccessionRecord }) {
  const scope = `accession:${number}`;
  const found = useAsked(`lately ${scope}`, () => session.search.search(plainly(scope)), 200)?.answer;
  const ids = Array.from({ length: Math.min(THUMBS, found?.order.length ?? 0) }, (_, at) => found?.order.at(at) ?? '');
  return (
    <>
      <h3>
        <Link href={findAddress(scope)}>
          {number}
          {name && ` ${name}`}
        </Link>{' '}
        <span className="quiet">
          from {source}, {dayWords(startedAt)}
        </span>
      </h3>
      <ThumbStrip label={`Photos of ${number}`} scope={scope} photoIds={ids} />
    </>
  );
}

/** The photos that were last written about, the latest first. */
async function lastTouched(): Promise<{ at: number; photoIds: string[] }> {
  const acts = await session.db.journal.orderBy('seq').reverse().limit(ACTS).toArray();
  const done = acts.filter(({ state, photoIds }) => state === 'done' && photoIds.length > 0);
  const ids = [...new Set(done.flatMap(({ photoIds }) => photoIds.slice(0, THUMBS)))].slice(0, THUMBS);
  return { at: done[0]?.at ?? 0, photoIds: ids };
}
