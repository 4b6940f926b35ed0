'use client';

// Files that lie twice on one drive, byte for byte: which stays is proposed, and chosen by the person.

import { App, Button, Radio } from 'antd';
import { useState } from 'react';
import { driveName } from '@/messages/drive-name';
import { plainly } from '@/core/search/search-record';
import { type Doubles, listDoubles, planDoubles } from '@/storage/catalog/doubles';
import type { DriveRecord } from '@/storage/catalog/records';
import { session } from '@/engine/session';
import { bytes, count, plural, today } from '@/ui/format';
import { useAsked } from '@/features/parts/session/use-asked';
import styles from './safekeep.module.css';

/** Groups shown at once. */
const SHOWN = 50;

async function readDoubles(): Promise<Doubles[]> {
  const { order } = await session.search.search(plainly('state:twice'));
  return listDoubles(session.db, order.all());
}

export function DoublesPanel({ drives }: { drives: readonly DriveRecord[] }) {
  const { message } = App.useApp();
  const groups = useAsked('doubles', readDoubles, 300)?.answer ?? [];
  const [chosen, setChosen] = useState<ReadonlyMap<string, string>>(new Map());
  if (groups.length === 0) return null;
  const keyOf = ({ driveId, sha256 }: Doubles) => `${driveId} ${sha256}`;
  const staysOf = (group: Doubles) => chosen.get(keyOf(group)) ?? group.files[0]?.id ?? '';
  const name = (id: string) => driveName(drives, id);
  const setAside = async (some: readonly Doubles[]) => {
    const change = await planDoubles(
      session.db,
      some.map((group) => ({ files: group.files, staysId: staysOf(group) })),
      today(),
    );
    if (change.moves.length === 0)
      message.warning('The files that are to stay were not read in full yet. Check the drive first.');
    else if (await session.change(change))
      message.success(
        `${plural(change.moves.length, 'file')} set aside. Undo brings ${change.moves.length === 1 ? 'it' : 'them'} back.`,
      );
  };
  const spare = groups.flatMap(({ files }) => files.slice(1));
  return (
    <section className={styles.panel} id="doubles" aria-label="Twice on one drive">
      <header>
        <h2>Twice on one drive: {count(groups.length)}</h2>
      </header>
      <p className="quiet">
        The same bytes under several names, {bytes(spare.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0))} in all.
        One stays, with all that was said of any of them; the others are set aside.
      </p>
      <div className={styles.acts}>
        <Button size="small" onClick={() => void setAside(groups)}>
          Set aside {plural(spare.length, 'file')}
        </Button>
      </div>
      <ul>
        {groups.slice(0, SHOWN).map((group) => (
          <li key={keyOf(group)} className={styles.double}>
            <Radio.Group
              aria-label={`Which stays on ${name(group.driveId)}`}
              value={staysOf(group)}
              onChange={(event) => setChosen(new Map(chosen).set(keyOf(group), event.target.value as string))}
            >
              {group.files.map(({ id, path }) => (
                <Radio key={id} value={id}>
                  {name(group.driveId)} <span className="mono">{path}</span>
                </Radio>
              ))}
            </Radio.Group>
            <Button
              size="small"
              onClick={() => void setAside([group])}
              aria-label={`Set aside the others of ${group.files[0]?.path ?? ''}`}
            >
              Set aside the others
            </Button>
          </li>
        ))}
      </ul>
      {groups.length > SHOWN && <p className="quiet">and {count(groups.length - SHOWN)} more</p>}
    </section>
  );
}
