'use client';

import { Button, Select } from 'antd';
import { SmallCard } from '@/ui/small-card';
import { NameInput } from '@/ui/name-input';
import styles from './send-out.module.css';
import type { Draft } from './use-draft';

/** The profile that is chosen, and what can be done with it. */
export function ProfileLine({ draft }: { draft: Draft }) {
  const { profile, profiles, isChanged } = draft;
  return (
    <>
      <p className={styles.profile}>
        <label htmlFor="delivery-profile">Profile</label>
        <Select
          id="delivery-profile"
          value={profile?.id ?? null}
          placeholder={profiles.length === 0 ? 'none yet' : 'choose one'}
          options={profiles.map(({ id, name }) => ({ value: id, label: name }))}
          onChange={draft.choose}
          style={{ minWidth: 150, flex: 1 }}
          showSearch={{ optionFilterProp: 'label' }}
        />
      </p>
      <p className={styles.profile}>
        <Named label="New…" ask="Name of the new profile" onName={draft.keepAs} />
        {profile && (
          <>
            <Named label="Rename…" ask="Its name" start={profile.name} onName={draft.rename} />
            <Button size="small" type="text" onClick={() => void draft.remove()}>
              Remove
            </Button>
          </>
        )}
      </p>
      {isChanged && (
        <p className={styles.changed} role="status">
          Changed for this delivery alone.{' '}
          <Button size="small" onClick={() => void draft.keep()}>
            Keep in “{profile?.name}”
          </Button>{' '}
          <Button size="small" type="text" onClick={draft.back}>
            Back to the profile
          </Button>
        </p>
      )}
    </>
  );
}

interface NamedProps {
  label: string;
  ask: string;
  start?: string;
  onName: (name: string) => Promise<void>;
}

function Named({ label, ask, start = '', onName }: NamedProps) {
  return (
    <SmallCard
      placement="bottomLeft"
      content={<NameInput label={ask} start={start} onName={(name) => void onName(name)} />}
    >
      <Button size="small">{label}</Button>
    </SmallCard>
  );
}
