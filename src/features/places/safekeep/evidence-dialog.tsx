'use client';

// A damaged file beside a good copy: how both look, what was measured, and where the bytes differ.

import { Button, Modal } from 'antd';
import { useEffect, useState } from 'react';
import { driveProblemSentence } from '@/messages/problems';
import { differencesSentence } from '@/messages/safekeep';
import type { FileRecord } from '@/storage/catalog/records';
import { problemCode } from '@/storage/jobs/job-tools';
import type { Evidence, Side } from '@/engine/evidence';
import { session } from '@/engine/session';
import { count, dateTime } from '@/ui/format';
import styles from './safekeep.module.css';

interface Props {
  file: FileRecord;
  copy: FileRecord;
  nameOf: (driveId: string) => string;
  onBringBack: () => void;
  onClose: () => void;
}

export function EvidenceDialog({ file, copy, nameOf, onBringBack, onClose }: Props) {
  const [pair] = useState({ file, copy });
  const found = useEvidence(pair.file, pair.copy);
  return (
    <Modal open title={file.path} onCancel={onClose} footer={null} width={980}>
      {!found && <p role="status">Reading both files…</p>}
      {found && 'problem' in found && <p className={styles.bad}>{found.problem}</p>}
      {found && 'differences' in found && (
        <div className={styles.evidence}>
          <SideView side={found.damaged} title={`Damaged, on ${nameOf(file.driveId)}`} measure={file.foundSha256} />
          <SideView side={found.good} title={`Verified, on ${nameOf(copy.driveId)}`} measure={copy.sha256} />
          <Bar evidence={found} />
          <p>
            {differencesSentence(found.differences)} The measure, from when it was first read, is{' '}
            <span className="mono">{file.sha256?.slice(0, 16)}…</span>: the copy has it still.
          </p>
        </div>
      )}
      <div className={styles.acts}>
        <Button
          type="primary"
          onClick={() => {
            onBringBack();
            onClose();
          }}
        >
          Bring back from {nameOf(copy.driveId)}
        </Button>
        <Button onClick={onClose}>Leave it</Button>
      </div>
    </Modal>
  );
}

function useEvidence(file: FileRecord, copy: FileRecord): Evidence | { problem: string } | null {
  const [found, setFound] = useState<Evidence | { problem: string } | null>(null);
  useEffect(() => {
    const abort = new AbortController();
    session.evidence(file, copy, abort.signal).then(setFound, (error: unknown) => {
      if (!abort.signal.aborted) setFound({ problem: driveProblemSentence(problemCode(error)) });
    });
    return () => abort.abort();
  }, [file, copy]);
  return found;
}

function SideView({ side, title, measure }: { side: Side; title: string; measure: string | null }) {
  return (
    <figure>
      {side.picture ? (
        <Picture blob={side.picture} title={title} />
      ) : (
        <p className="quiet">No picture can be drawn of it.</p>
      )}
      <figcaption>
        <strong>{title}</strong>
        <span>
          {count(side.sizeBytes)} bytes, changed {dateTime(side.modifiedMs)}
        </span>
        <span>
          measure <span className="mono">{measure === null ? 'not read' : `${measure.slice(0, 16)}…`}</span>
        </span>
      </figcaption>
    </figure>
  );
}

function Picture({ blob, title }: { blob: Blob; title: string }) {
  const [address, setAddress] = useState('');
  useEffect(() => {
    const url = URL.createObjectURL(blob);
    setAddress(url);
    return () => URL.revokeObjectURL(url);
  }, [blob]);
  return address === '' ? null : <img src={address} alt={title} />;
}

/** The file from its first byte to its last, with what differs. */
function Bar({ evidence: { differences } }: { evidence: Evidence }) {
  const length = Math.max(...differences.sizes, 1);
  return (
    <svg
      className={styles.bar}
      viewBox="0 0 1000 16"
      preserveAspectRatio="none"
      role="img"
      aria-label="Where the bytes differ"
    >
      <rect width="1000" height="16" className={styles.barWhole} />
      {differences.runs.map(({ start, end }) => (
        <rect
          key={start}
          x={(1000 * start) / length}
          width={Math.max(2, (1000 * (end - start)) / length)}
          height="16"
          className={styles.barRun}
        />
      ))}
    </svg>
  );
}
