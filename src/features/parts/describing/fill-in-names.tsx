'use client';

import { Button } from 'antd';
import { fillInNames } from '@/core/describe/fill-ins';
import { SmallCard } from '@/ui/small-card';
import styles from './describing.module.css';

/** All names that can stand in a text for what a photo says. */
export function FillInNames() {
  const content = (
    <dl className={styles.names}>
      {fillInNames().map(({ name, label }) => [
        <dt key={name} className="mono">
          [={name}]
        </dt>,
        <dd key={`${name} said`}>{label}</dd>,
      ])}
    </dl>
  );
  return (
    <SmallCard content={content} placement="topLeft">
      <Button size="small" type="link" className={styles.namesButton}>
        All names
      </Button>
    </SmallCard>
  );
}
