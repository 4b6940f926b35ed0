'use client';

// What runs, what did not end well, and what ended last; all that ended well before it folds into one line.

import { Button } from 'antd';
import type { JobRecord } from '@/storage/catalog/records';
import { session } from '@/engine/session';
import { plural } from '@/ui/format';
import { JobsList, useJobs } from '@/features/parts/jobs/jobs-list';
import styles from './overview.module.css';

/** What still asks for something: it runs, was stopped, or found something wrong. */
const isOpen = ({ state, report }: JobRecord): boolean =>
  state !== 'done' || (report !== null && report.problems.length > 0);

export function WhatRan() {
  const jobs = useJobs();
  const [last, ...ended] = jobs.filter((job) => !isOpen(job));
  const shown = [...jobs.filter(isOpen), ...(last ? [last] : [])];
  return (
    <section className={styles.panel} aria-label="What ran">
      <header>
        <h2>What ran</h2>
      </header>
      <JobsList jobs={shown} none="Nothing has run yet." />
      {ended.length > 0 && (
        <details className={styles.ended}>
          <summary>{plural(ended.length, 'job')} finished before</summary>
          <JobsList jobs={ended} none="" />
          <Button
            size="small"
            type="text"
            onClick={() => void Promise.all(ended.map(({ id }) => session.dismissJob(id)))}
          >
            Dismiss all of them
          </Button>
        </details>
      )}
    </section>
  );
}
