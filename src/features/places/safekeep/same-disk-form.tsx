'use client';

// A drive that is away and one that is here turn out to be one disk: which has the same files is said, and one stays.

import { App, Button, Radio } from 'antd';
import { useState } from 'react';
import { sameFilesOn } from '@/storage/catalog/joining';
import type { DriveRecord } from '@/storage/catalog/records';
import { session } from '@/engine/session';
import { count, plural } from '@/ui/format';
import { useAsked } from '@/features/parts/session/use-asked';
import styles from './safekeep.module.css';

interface Props {
  drive: DriveRecord;
  /** Drives that are connected. */
  here: readonly DriveRecord[];
  onJoined: () => void;
}

export function SameDiskForm({ drive, here, onJoined }: Props) {
  const { message } = App.useApp();
  const [chosen, setChosen] = useState<string | null>(null);
  const asked = useAsked(`same disk ${drive.id} ${here.map(({ id }) => id).join(' ')}`, async () => {
    const all = await Promise.all(
      here.map(async (other) => ({ other, ...(await sameFilesOn(session.db, drive.id, other.id)) })),
    );
    return all.filter(({ same }) => same > 0).sort((a, b) => b.same - a.same);
  });
  const alike = asked?.answer;
  const next = here.find(({ id }) => id === chosen);
  const join = async () => {
    if (!next) return;
    if (await session.driveActs.join(drive.id, next.id)) {
      message.success(
        `“${drive.name}” and “${next.name}” are one drive now: “${next.name}”. It is looked through again.`,
      );
      onJoined();
    } else message.warning(`A job works on one of them, or “${drive.name}” is connected. Nothing was done.`);
  };
  return (
    <div className={styles.replace} aria-label="Same disk">
      {alike === undefined && <p className="quiet">Comparing names and lengths…</p>}
      {alike?.length === 0 && (
        <p>No drive that is connected has a file of it under the same name, so none of them is the same disk.</p>
      )}
      {alike && alike.length > 0 && (
        <>
          <p>
            Only if it is one and the same piece: it lost its mark, came back and was taken for a new drive. A copy has
            the same files too, and is another disk.
          </p>
          <Radio.Group
            aria-label="The same disk as"
            value={chosen}
            onChange={({ target }) => setChosen(target.value as string)}
          >
            {alike.map(({ other, same, files }) => (
              <Radio key={other.id} value={other.id}>
                {other.name}{' '}
                <span className="quiet">
                  has {count(same)} of its {plural(files, 'file')}, by name and length
                </span>
              </Radio>
            ))}
          </Radio.Group>
          <p aria-live="polite">
            {next &&
              `“${drive.name}” goes, “${next.name}” stays, with all that is known of both. One disk is one copy: what was counted twice counts once. Nothing on it is touched. Undo does not take this back.`}
          </p>
          <Button size="small" type="primary" disabled={!next} onClick={() => void join()}>
            They are one disk
          </Button>
        </>
      )}
    </div>
  );
}
