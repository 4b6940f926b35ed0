'use client';

import { App, Button, Popconfirm } from 'antd';
import { useLive } from '@/storage/catalog/live';
import type { ArchiveProblemRecord, DriveRecord } from '@/storage/catalog/records';
import { plural } from '@/ui/format';
import { session } from '@/engine/session';
import styles from './overview.module.css';
import { useSession } from '@/features/parts/session/use-session';

/**
 * Files of ours on the drives that could not be read, wholly or in parts: which, why, what was done, and what can be.
 */
export function ArchiveProblems({ drives }: { drives: readonly DriveRecord[] }) {
  const problems = useLive(() => session.db.archiveProblems.toArray()) ?? [];
  if (problems.length === 0) return null;
  const names = new Map(drives.map(({ id, name }) => [id, name]));
  return (
    <section className={styles.problems} aria-label="Files of ours that could not be read">
      <h3>Files of ours that could not be read</h3>
      <ul>
        {problems.map((problem) => (
          <ArchiveProblem key={problem.id} problem={problem} drive={names.get(problem.driveId) ?? 'unknown drive'} />
        ))}
      </ul>
    </section>
  );
}

function ArchiveProblem({ problem, drive }: { problem: ArchiveProblemRecord; drive: string }) {
  const { message } = App.useApp();
  const isThere = useSession((state) => state.connections[problem.driveId]?.state === 'connected');
  const { kind, path, keptAs, items, reason } = problem;
  const aside = () =>
    void session.keepAside(problem).then(
      () => message.success('It is kept aside, and written anew.'),
      (error: unknown) =>
        message.error(`It was left as it is: ${error instanceof Error ? error.message : String(error)}`),
    );
  return (
    <li>
      <strong>{drive}</strong> <span className="mono">{path}</span>{' '}
      {kind === 'items' && (
        <>
          {plural(items, 'entry', 'entries')} in it cannot be understood. {items === 1 ? 'It stays' : 'They stay'} in
          the file as {items === 1 ? 'it is' : 'they are'}; all others are in use.
        </>
      )}
      {kind === 'broken' && keptAs !== null && (
        <>
          could not be read ({reason.slice(0, 120)}). It is kept aside as <span className="mono">{keptAs}</span>, and
          was written anew with what this catalog knows.
        </>
      )}
      {kind === 'broken' && keptAs === null && (
        <>cannot be read ({reason.slice(0, 120)}). It is kept aside and written anew when the drive can be written.</>
      )}
      {kind === 'newer' && keptAs === null && (
        <>
          {reason}. It is left as it is, and what you enter does not reach it. Use the newer version of Wembo, or go on
          without what only that file holds.
        </>
      )}
      {kind === 'newer' && keptAs !== null && (
        <>
          is from a later version. It is kept aside as <span className="mono">{keptAs}</span>.
        </>
      )}{' '}
      {kind === 'newer' && keptAs === null && (
        <Popconfirm
          title="Keep it aside and write it anew?"
          description="The file stays under another name. What only the later version wrote in it is not used here."
          okText="Keep aside and write anew"
          cancelText="No"
          onConfirm={aside}
        >
          <Button size="small" disabled={!isThere}>
            Keep aside and write anew
          </Button>
        </Popconfirm>
      )}
      {keptAs !== null && (
        <Button size="small" onClick={() => void session.db.archiveProblems.delete(problem.id)}>
          Understood
        </Button>
      )}
    </li>
  );
}
