'use client';

// A new drive takes the place of another: all of it is copied and verified first.

import { Button, Select } from 'antd';
import { useState } from 'react';
import { notYetOn } from '@/storage/catalog/drive-life';
import { useLive } from '@/storage/catalog/live';
import type { DriveRecord } from '@/storage/catalog/records';
import { session } from '@/engine/session';
import { photos } from '@/ui/format';
import { useSession } from '@/features/parts/session/use-session';
import styles from './safekeep.module.css';

interface Props {
  drive: DriveRecord;
  drives: readonly DriveRecord[];
  onBegun: () => void;
}

export function ReplaceForm({ drive, drives, onBegun }: Props) {
  const [to, setTo] = useState<string | null>(null);
  const connections = useSession((state) => state.connections);
  const reachable = drives.filter(({ id }) => connections[id]?.state === 'connected');
  const isHere = reachable.some(({ id }) => id === drive.id);
  const waiting = useLive(() => (to ? notYetOn(session.db, drive.id, to) : null), [drive.id, to]);
  const next = drives.find(({ id }) => id === to)?.name ?? '';
  const begin = async () => {
    if (!to) return;
    if (waiting?.length === 0) await session.driveActs.replace(drive.id, to);
    else await session.startReplacing(drive.id, to);
    onBegun();
  };
  return (
    <div className={styles.replace} aria-label="Replace">
      <Select
        aria-label="The drive that takes its place"
        size="small"
        placeholder="by which drive"
        value={to}
        onChange={setTo}
        options={reachable
          .filter(({ id, access }) => id !== drive.id && access === 'write')
          .map(({ id, name }) => ({ value: id, label: name }))}
      />
      <p aria-live="polite">
        {to &&
          waiting &&
          waiting.length > 0 &&
          !isHere &&
          `${photos(waiting.length)} of it ${waiting.length === 1 ? 'is' : 'are'} not verified on “${next}” yet. Connect “${drive.name}” to copy ${waiting.length === 1 ? 'it' : 'them'}.`}
        {to &&
          waiting &&
          waiting.length > 0 &&
          isHere &&
          `${photos(waiting.length)} and all files that are no photos are copied to “${next}”, read back and compared. Then “${next}” gets the name “${drive.name}”, and this drive is retired. Undo takes that back.`}
        {to &&
          waiting?.length === 0 &&
          `All of it is verified on “${next}”, which gets the name “${drive.name}”; this drive is retired. Undo takes that back.`}
      </p>
      <Button
        size="small"
        type="primary"
        disabled={!to || !waiting || (waiting.length > 0 && !isHere)}
        onClick={() => void begin()}
      >
        {waiting?.length === 0 ? 'Replace it' : 'Copy, verify, replace'}
      </Button>
    </div>
  );
}
