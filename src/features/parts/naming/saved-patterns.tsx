'use client';

import { Button, Select } from 'antd';
import type { Pattern } from '@/core/names/pattern';
import { useLive } from '@/storage/catalog/live';
import { SmallCard } from '@/ui/small-card';
import { NameInput } from '@/ui/name-input';
import { session } from '@/engine/session';
import styles from './naming.module.css';

/** Name patterns kept for one kind of work or another: taken up, kept, removed. */
export function SavedPatterns({ pattern, onChange }: { pattern: Pattern; onChange: (pattern: Pattern) => void }) {
  const saved =
    useLive(async () =>
      (await session.db.patterns.toArray())
        .filter(({ deleted }) => !deleted)
        .sort((a, b) => a.name.localeCompare(b.name)),
    ) ?? [];
  const text = JSON.stringify(pattern);
  const current = saved.find(({ parts }) => JSON.stringify(parts) === text);
  const keep = (name: string) => void session.keep('patterns', { name, parts: pattern });
  return (
    <span className={styles.saved}>
      {saved.length > 0 && (
        <Select
          size="small"
          value={current?.id ?? null}
          placeholder="saved patterns"
          aria-label="Saved patterns"
          style={{ minWidth: 150 }}
          options={saved.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={(id) => onChange(saved.find((one) => one.id === id)?.parts ?? pattern)}
        />
      )}
      {current ? (
        <Button
          size="small"
          type="text"
          onClick={() => void session.changeKept('patterns', current, { deleted: true })}
        >
          Remove “{current.name}”
        </Button>
      ) : (
        <SmallCard placement="bottomLeft" content={<NameInput label="Name of the pattern" onName={keep} />}>
          <Button size="small" type="text">
            Keep this pattern
          </Button>
        </SmallCard>
      )}
    </span>
  );
}
