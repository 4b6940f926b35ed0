'use client';

import { Button, Checkbox } from 'antd';
import { SmallCard } from '@/ui/small-card';
import { CHOOSABLE, GROUP_TITLES, useChosenGroups } from './chosen-groups';
import styles from './record-card.module.css';

/** The choice of groups that the card shows. */
export function GroupsChoice() {
  const { groups, choose } = useChosenGroups();
  const content = <Checkbox.Group className={styles.choices} options={CHOOSABLE.map((group) => ({ value: group, label: GROUP_TITLES[group] }))} value={groups} onChange={choose} aria-label="Groups of fields on the card" />;
  return (
    <SmallCard content={content} placement="topLeft">
      <Button size="small" type="text">Choose groups ({groups.length} of {CHOOSABLE.length})</Button>
    </SmallCard>
  );
}
