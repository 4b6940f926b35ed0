'use client';

// Where it goes and what it is called.

import { Checkbox, Input, Radio, Select } from 'antd';
import { isInUse } from '@/core/fixity/keeping';
import type { BlankName, Pattern } from '@/core/names/pattern';
import { DATE_AND_NUMBER } from '@/core/take-in/sheet';
import { useLive } from '@/storage/catalog/live';
import { PatternEditor } from '@/features/parts/naming/pattern-editor';
import { SavedPatterns } from '@/features/parts/naming/saved-patterns';
import { session } from '@/engine/session';
import { PreparedShoots, PrepareShoot } from './prepare-shoot';
import { setSheet, useTakeIn } from './take-in-state';
import styles from './take-in.module.css';
import { useKeeping, useSession } from '@/features/parts/session/use-session';

const BLANKS: { of: BlankName; label: string; example: string }[] = [
  { of: 'subject', label: 'Subject', example: 'Gjógv' },
  { of: 'client', label: 'Client', example: '' },
  { of: 'kind', label: 'Kind of work', example: 'personal' },
];

const OLD_NAMES: Pattern = [{ kind: 'old-name' }];

export function useDriveOptions(except: string | null = null): { value: string; label: string; disabled: boolean }[] {
  const drives = useLive(() => session.db.drives.toArray()) ?? [];
  const connections = useSession((state) => state.connections);
  const keeping = useKeeping();
  return drives
    .filter(({ id, access }) => id !== except && access === 'write' && isInUse(keeping, id))
    .map(({ id, name }) => ({
      value: id,
      label: `${name}${connections[id]?.state === 'connected' ? '' : ' · away'}`,
      disabled: false,
    }));
}

export function WhereSection({ number }: { number: string }) {
  const { sheet } = useTakeIn();
  const options = useDriveOptions();
  const connected = useSession(
    (state) => sheet.driveId !== null && state.connections[sheet.driveId]?.state === 'connected',
  );
  return (
    <section className={styles.section} aria-labelledby="take-in-where">
      <h2 id="take-in-where">Where it goes</h2>
      <div className={styles.fields}>
        <label htmlFor="take-in-drive">Drive</label>
        <div className={styles.line}>
          <Select
            id="take-in-drive"
            value={sheet.driveId}
            options={options}
            placeholder="which drive"
            onChange={(driveId: string) => setSheet({ driveId })}
            style={{ minWidth: 220 }}
          />
          {sheet.driveId !== null && !connected && (
            <span className={styles.problem}>It is away: connect it to begin.</span>
          )}
        </div>
        <PreparedShoots />
        {BLANKS.map(({ of, label, example }) => (
          <Blank key={of} of={of} label={label} example={example} />
        ))}
        <span>Folders</span>
        <PatternEditor
          label="Folders"
          of="folders"
          pattern={sheet.folder}
          onChange={(folder) => setSheet({ folder })}
        />
        <span />
        <div className={styles.line}>
          <Radio.Group
            value={sheet.folderPer}
            onChange={({ target }) => setSheet({ folderPer: target.value as 'photo' | 'accession' })}
            aria-label="Which folder"
          >
            <Radio value="photo">each photo by its own date</Radio>
            <Radio value="accession">all into one folder</Radio>
          </Radio.Group>
          <span className={styles.push} />
          <PrepareShoot number={number} />
        </div>
      </div>
      <h2>What it is called</h2>
      <div className={styles.fields}>
        <span>Names</span>
        <div className={styles.line}>
          <Radio.Group
            value={sheet.names === null ? 'kept' : 'new'}
            onChange={({ target }) => setSheet({ names: target.value === 'kept' ? null : DATE_AND_NUMBER })}
            aria-label="Names"
          >
            <Radio value="kept">as the camera gave them</Radio>
            <Radio value="new">new names</Radio>
          </Radio.Group>
          <span className={styles.push} />
          {sheet.names && <SavedPatterns pattern={sheet.names} onChange={(names) => setSheet({ names })} />}
        </div>
        {sheet.names && (
          <>
            <span />
            <PatternEditor
              label="Names"
              of="names"
              pattern={sheet.names}
              onChange={(names) => setSheet({ names: names.length > 0 ? names : OLD_NAMES })}
            />
            <span />
            <Checkbox checked={sheet.keepOldName} onChange={({ target }) => setSheet({ keepOldName: target.checked })}>
              keep the camera’s name in the metadata
            </Checkbox>
          </>
        )}
      </div>
    </section>
  );
}

/** A blank is asked for only where a pattern uses it; the subject always, for it is the accession’s title too. */
function Blank({ of, label, example }: { of: BlankName; label: string; example: string }) {
  const { sheet } = useTakeIn();
  const used =
    of === 'subject' ||
    [...sheet.folder, ...(sheet.names ?? [])].some((part) => part.kind === 'blank' && part.of === of);
  if (!used) return null;
  return (
    <>
      <label htmlFor={`take-in-${of}`}>{label}</label>
      <Input
        id={`take-in-${of}`}
        value={sheet.blanks[of]}
        placeholder={example}
        onChange={({ target }) => setSheet({ blanks: { ...sheet.blanks, [of]: target.value } })}
      />
    </>
  );
}
