'use client';

// The first page of each day: what is in danger, what is unfinished, what is new, and what one was at.

import { useLive } from '@/storage/catalog/live';
import { session } from '@/engine/session';
import { whichCatalog } from '@/engine/which-catalog';
import { count } from '@/ui/format';
import { ConnectButton } from '@/features/parts/connecting/connect-drive';
import { useSession } from '@/features/parts/session/use-session';
import { Begin, DemoLoading, DemoProgress } from './begin';
import { DrivesPanel } from './drives-panel';
import { HabitsPanel } from './habits-panel';
import { InDanger } from './in-danger';
import { Lately } from './lately';
import { LookBack } from './look-back';
import styles from './overview.module.css';
import { Unfinished } from './unfinished';
import { WhatRan } from './what-ran';
import { YearsPanel } from './years-panel';

export function OverviewPlace() {
  const stage = useSession((state) => state.stage.state);
  const indexed = useSession((state) => state.indexed);
  const drives = useLive(() => session.db.drives.toArray());
  if (stage === 'opening' || !drives)
    return <main className={styles.opening}>Opening the catalog: {count(indexed)} photos so far</main>;
  const inDemo = whichCatalog() === 'demo';
  if (drives.length === 0) return inDemo ? <DemoLoading /> : <Begin />;
  return (
    <main className={styles.place}>
      <h1 className="visually-hidden">Overview</h1>
      <InDanger drives={drives} />
      <Unfinished />
      <YearsPanel />
      <Lately />
      <DrivesPanel drives={drives} acts={inDemo ? <DemoProgress /> : <ConnectButton />} />
      <WhatRan />
      <HabitsPanel />
      <LookBack />
    </main>
  );
}
