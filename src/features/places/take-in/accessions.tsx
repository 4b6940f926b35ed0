'use client';

// What was brought in: every accession, the latest first, and what was noticed in known folders.

import { Button } from 'antd';
import Link from 'next/link';
import { quoted } from '@/core/query/write-scope';
import { useLive, useSum } from '@/storage/catalog/live';
import type { AccessionRecord, JobRecord } from '@/storage/catalog/records';
import { countAccession, countsLine } from '@/core/take-in/accession';
import { dateTime, photos, plural } from '@/ui/format';
import { findAddress } from '@/features/parts/search/use-scope';
import { useJobs } from '@/features/parts/jobs/jobs-list';
import { session } from '@/engine/session';
import styles from './take-in.module.css';

/** Accessions shown before the rest is a link to Find. */
const SHOWN = 8;

export function Accessions() {
  const accessions =
    useLive(async () => (await session.db.accessions.toArray()).sort((a, b) => b.startedAt - a.startedAt)) ?? [];
  const noticed = useJobs().filter(({ noticed: of, report }) => of && report?.kind === 'scan' && report.added > 0);
  return (
    <>
      {noticed.length > 0 && (
        <section className={styles.log} aria-labelledby="take-in-new-here">
          <h2 id="take-in-new-here">New here</h2>
          <ul className={styles.accessions}>
            {noticed.map((job) => (
              <NewHere key={job.id} job={job} />
            ))}
          </ul>
        </section>
      )}
      <section className={styles.log} aria-labelledby="take-in-accessions">
        <h2 id="take-in-accessions">Brought in</h2>
        {accessions.length === 0 && (
          <p className="quiet">Nothing was taken in yet. What you take in is listed here, with what came of it.</p>
        )}
        <ul className={styles.accessions} aria-label="Accessions">
          {accessions.slice(0, SHOWN).map((accession) => (
            <AccessionLine key={accession.id} accession={accession} />
          ))}
        </ul>
        {accessions.length > SHOWN && (
          <p className="quiet">
            and {plural(accessions.length - SHOWN, 'earlier one')}: type <span className="mono">accession:2026</span> in
            the search line
          </p>
        )}
      </section>
    </>
  );
}

function AccessionLine({ accession }: { accession: AccessionRecord }) {
  // counted when its record changes, not at each of its files: thousands of them may be on their way
  const line = useSum(
    session.db,
    'accessions',
    async () => {
      const names = new Map((await session.db.drives.toArray()).map(({ id, name }) => [id, name]));
      return countsLine(
        countAccession(accession, await session.db.accessionFiles.where('accessionId').equals(accession.id).toArray()),
        (id) => names.get(id) ?? 'a drive that is not known here',
      );
    },
    [accession.id],
  );
  return (
    <li>
      <Link href={findAddress(`accession:${accession.number}`)} className="mono">
        {accession.number}
      </Link>
      <strong>{accession.name || accession.source}</strong>
      <span className="quiet">
        from {accession.source}, {dateTime(accession.startedAt)}
        {accession.endedAt === null && ', not finished'}
      </span>
      {accession.endedAt !== null && <p>{line}</p>}
      {accession.note && <p className="quiet">{accession.note}</p>}
    </li>
  );
}

/** Files that appeared in a known folder without anybody taking them in. */
function NewHere({ job }: { job: JobRecord }) {
  const drive = useLive(() => session.db.drives.get(job.driveId), [job.driveId]);
  if (job.report?.kind !== 'scan') return null;
  const folders = [...new Set(job.report.addedPaths.map((path) => path.slice(0, Math.max(0, path.lastIndexOf('/')))))];
  return (
    <li>
      <strong>
        {photos(job.report.added)} on {drive?.name ?? '…'}
      </strong>
      <span className="quiet">{job.endedAt !== null && dateTime(job.endedAt)}</span>
      <Button size="small" type="text" onClick={() => void session.dismissJob(job.id)}>
        Seen
      </Button>
      <p>
        {folders.slice(0, 6).map((folder, index) => (
          <span key={folder}>
            {index > 0 && ' · '}
            <Link href={findAddress(`drive:${quoted(drive?.name ?? '')}${folder ? ` folder:${quoted(folder)}` : ''}`)}>
              {folder || 'the root of the drive'}
            </Link>
          </span>
        ))}
      </p>
    </li>
  );
}
