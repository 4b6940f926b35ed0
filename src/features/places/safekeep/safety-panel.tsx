'use client';

// Whether what one has is safe, by the person's own rule; if not, why, how many, and where to go from there.

import { Button, InputNumber, Popover } from 'antd';
import { useState } from 'react';
import type { Keeping } from '@/core/fixity/keeping';
import type { SafeRule } from '@/core/fixity/safe';
import { ruleSentence } from '@/messages/safekeep';
import type { DriveRecord } from '@/storage/catalog/records';
import { session } from '@/engine/session';
import { count, photos } from '@/ui/format';
import { NeedList } from '@/features/parts/needs/need-list';
import { useUnsafe } from '@/features/parts/needs/use-unsafe';
import { useKeeping } from '@/features/parts/session/use-session';
import { DriveDrawer } from './drive-drawer';
import { YearsPicture, useDriveYears } from './years-picture';
import styles from './safekeep.module.css';

export function SafetyPanel({ drives }: { drives: readonly DriveRecord[] }) {
  const keeping = useKeeping();
  const years = useDriveYears(keeping);
  const [shown, setShown] = useState<string | null>(null);
  const drive = drives.find(({ id }) => id === shown);
  const { all, safe, needs } = useUnsafe(drives);
  return (
    <section className={styles.panel} aria-label="Safe">
      <header className={styles.safeHead}>
        <h2 data-level={safe === all ? 'safe' : 'attention'}>
          {all === 0
            ? 'No photos yet'
            : safe === all
              ? `All ${photos(all)} are safe`
              : `${count(safe)} of ${photos(all)} are safe`}
        </h2>
        <p className="quiet">{ruleSentence(keeping.rule)}</p>
        <RuleButton keeping={keeping} />
      </header>
      <NeedList label="Why not safe" needs={needs} />
      {years && <YearsPicture drives={drives} keeping={keeping} years={years} onDrive={setShown} />}
      {drive && (
        <DriveDrawer key={drive.id} drive={drive} drives={drives} keeping={keeping} onClose={() => setShown(null)} />
      )}
    </section>
  );
}

function RuleButton({ keeping: { rule } }: { keeping: Keeping }) {
  const [open, setOpen] = useState(false);
  return (
    <Popover
      trigger="click"
      placement="bottomRight"
      open={open}
      onOpenChange={setOpen}
      destroyOnHidden
      content={<RuleForm rule={rule} onDone={() => setOpen(false)} />}
    >
      <Button size="small">Your rule…</Button>
    </Popover>
  );
}

function RuleForm({ rule, onDone }: { rule: SafeRule; onDone: () => void }) {
  const [typed, setTyped] = useState(rule);
  const next = { ...typed, elsewhere: Math.min(typed.elsewhere, typed.copies) };
  const number = (key: keyof SafeRule, label: string, min: number, max: number) => (
    <label>
      <span>{label}</span>
      <InputNumber
        size="small"
        min={min}
        max={max}
        precision={0}
        value={typed[key]}
        onChange={(value) => typeof value === 'number' && setTyped({ ...typed, [key]: value })}
      />
    </label>
  );
  const save = async () => {
    await session.driveActs.setRule(next);
    onDone();
  };
  return (
    <form
      className={styles.ruleForm}
      aria-label="Your rule"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      {number('copies', 'Verified copies, on different drives', 1, 9)}
      {number('elsewhere', 'of these elsewhere', 0, 9)}
      {number('verifiedWithinDays', 'read in full within, in days', 1, 36_500)}
      <p className="quiet">{ruleSentence(next)}</p>
      <p className="quiet">Common practice: two copies here, one elsewhere.</p>
      <Button type="primary" size="small" htmlType="submit">
        Keep the rule
      </Button>
    </form>
  );
}
