'use client';

import { Checkbox, InputNumber, Radio, Select } from 'antd';
import { PatternEditor } from '@/features/parts/naming/pattern-editor';
import { setSheet, useTakeIn } from './take-in-state';
import styles from './take-in.module.css';
import { useDriveOptions } from './where-section';
import { useSession } from '@/features/parts/session/use-session';

const NONE = '';

/** The second copy, made at the same time, and the rule for emptying the card. */
export function SecondSection() {
  const { sheet } = useTakeIn();
  const { second } = sheet;
  const options = useDriveOptions(sheet.driveId);
  const every = useDriveOptions(null);
  const away = useSession(
    (state) => second.driveId !== null && state.connections[second.driveId]?.state !== 'connected',
  );
  const change = (patch: Partial<typeof second>) => setSheet({ second: { ...second, ...patch } });
  return (
    <section className={styles.section} aria-labelledby="take-in-second">
      <h2 id="take-in-second">Second copy</h2>
      <div className={styles.fields}>
        <label htmlFor="take-in-second-drive">Drive</label>
        <div className={styles.line}>
          <Select
            id="take-in-second-drive"
            value={second.driveId ?? NONE}
            options={[{ value: NONE, label: 'no second copy now' }, ...options]}
            onChange={(id: string) => change({ driveId: id === NONE ? null : id })}
            style={{ minWidth: 220 }}
          />
          {second.driveId !== null && !away && <span className="quiet">at the same time, from the same reading</span>}
          {away && <span className={styles.caution}>It is away: its copies wait in the outbox until it is back.</span>}
        </div>
        {second.driveId !== null && (
          <>
            <span>Folders</span>
            <Radio.Group
              value={second.layout}
              onChange={({ target }) => change({ layout: target.value as typeof second.layout })}
              aria-label="Folders of the second copy"
            >
              <Radio value="same">as on the first drive</Radio>
              <Radio value="card">as on the card, with the card’s names, in one folder</Radio>
            </Radio.Group>
            {second.layout === 'card' && (
              <>
                <span />
                <PatternEditor
                  label="Folder of the second copy"
                  of="folders"
                  pattern={second.folder}
                  onChange={(folder) => change({ folder })}
                />
              </>
            )}
          </>
        )}
        <label htmlFor="take-in-as-it-is">The card as it is</label>
        <div className={styles.line}>
          <Select
            id="take-in-as-it-is"
            value={sheet.asItIs ?? NONE}
            options={[{ value: NONE, label: 'is not kept' }, ...every]}
            onChange={(id: string) => setSheet({ asItIs: id === NONE ? null : id })}
            style={{ minWidth: 220 }}
          />
          {sheet.asItIs && (
            <span className="quiet">
              every file in its own folders, also what is no photo, in <code>_wembo/cards</code>; it is not cataloged,
              and counts as no copy
            </span>
          )}
        </div>
        <label htmlFor="take-in-copies">Empty it after</label>
        <div className={styles.line}>
          <InputNumber
            id="take-in-copies"
            min={1}
            max={9}
            value={sheet.copiesToEmpty}
            onChange={(copies) => setSheet({ copiesToEmpty: copies ?? 2 })}
            style={{ width: 64 }}
          />
          <span>verified copies on different drives; the card keeps what has fewer</span>
          <Checkbox
            checked={sheet.awayCounts ?? false}
            onChange={({ target }) => setSheet({ awayCounts: target.checked })}
          >
            copies on drives that are away count, too
          </Checkbox>
        </div>
      </div>
    </section>
  );
}
