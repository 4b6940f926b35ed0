'use client';

// Whether what one has is safe, by the person's own rule; if not, why, how many, and where to go from there.

import { Button, InputNumber, Popover } from 'antd';
import Link from 'next/link';
import { useState } from 'react';
import type { Keeping } from '@/core/fixity/keeping';
import type { SafeRule } from '@/core/fixity/safe';
import { quoted } from '@/core/query/write-scope';
import { ruleSentence } from '@/messages/safekeep';
import type { DriveRecord } from '@/storage/catalog/records';
import { session } from '@/engine/session';
import { count, photos } from '@/ui/format';
import { useCounts } from '@/features/parts/search/use-counts';
import { findAddress } from '@/features/parts/search/use-scope';
import { useKeeping, useSession } from '@/features/parts/session/use-session';
import { DriveDrawer } from './drive-drawer';
import { YearsPicture, useDriveYears } from './years-picture';
import styles from './safekeep.module.css';

interface Reason {
  scope: string;
  words: string;
  level: 'attention' | 'caution';
  /** Where it is put right. */
  act: { to: string; words: string } | null;
}

const CHECK = { to: '#check', words: 'Check' };
const SETTLE = { to: '#to-settle', words: 'Settle' };

/** Live lists: each a search, with the place on this page where it is put right. */
function reasonsOf({ elsewhere }: SafeRule, connected: readonly string[]): Reason[] {
  const copy = (scope: string) => ({
    to: `/safekeep?q=${encodeURIComponent(scope)}&what=search#second-copy`,
    words: 'Copy',
  });
  return [
    { scope: 'copies:0', words: 'no verified copy', level: 'attention', act: CHECK },
    { scope: 'copies:1', words: 'one verified copy only', level: 'attention', act: copy('copies:1') },
    { scope: 'unsafe:copies', words: 'too few copies by your rule', level: 'attention', act: copy('unsafe:copies') },
    ...(elsewhere > 0
      ? [
          {
            scope: 'unsafe:elsewhere',
            words: 'too few elsewhere',
            level: 'attention' as const,
            act: copy('unsafe:elsewhere'),
          },
        ]
      : []),
    { scope: 'unsafe:check', words: 'check overdue', level: 'caution', act: CHECK },
    { scope: 'state:unread', words: 'never read in full on some drive', level: 'caution', act: CHECK },
    { scope: 'state:damaged', words: 'damaged on some drive', level: 'attention', act: SETTLE },
    { scope: 'state:doubt', words: 'in doubt', level: 'attention', act: SETTLE },
    { scope: 'state:missing', words: 'missing on some drive', level: 'attention', act: SETTLE },
    { scope: 'state:twice', words: 'twice on one drive', level: 'caution', act: { to: '#doubles', words: 'See' } },
    {
      scope: connected.map((name) => `-drive=${quoted(name)}`).join(' '),
      words: 'on no connected drive',
      level: 'caution',
      act: null,
    },
  ];
}

export function SafetyPanel({ drives }: { drives: readonly DriveRecord[] }) {
  const keeping = useKeeping();
  const years = useDriveYears(keeping);
  const [shown, setShown] = useState<string | null>(null);
  const drive = drives.find(({ id }) => id === shown);
  const connections = useSession((state) => state.connections);
  const connected = drives.filter(({ id }) => connections[id]?.state === 'connected').map(({ name }) => name);
  const reasons = reasonsOf(keeping.rule, connected);
  const [all = 0, safe = 0, ...counts] = useCounts(['', 'safe:yes', ...reasons.map(({ scope }) => scope)]);
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
      <ul className={styles.reasons}>
        {reasons.map(
          ({ scope, words, level, act }, at) =>
            (counts[at] ?? 0) > 0 && (
              <li key={words} data-level={level}>
                <Link href={findAddress(scope)}>
                  <b>{count(counts[at] ?? 0)}</b> {words}
                </Link>
                {act && (
                  <Link href={act.to} aria-label={`${act.words}: ${words}`}>
                    {act.words}
                  </Link>
                )}
              </li>
            ),
        )}
      </ul>
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
