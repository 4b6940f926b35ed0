'use client';

// Send out: photos by a delivery profile, contact sheets, labels. Which desk is open stands in the address.

import { Radio } from 'antd';
import { useSearchParams } from 'next/navigation';
import { useMemo, useState } from 'react';
import { count } from '@/ui/format';
import { DeskNav, useDesk } from '@/features/parts/desks/desks';
import { useResult } from '@/features/parts/search/use-result';
import { useSelection } from '@/features/parts/selection/selection';
import { DeliverDesk } from './deliver-desk';
import styles from './send-out.module.css';
import { SheetDesk } from './sheet-desk';

const DESKS = { deliver: 'Deliver', sheet: 'Contact sheet', labels: 'Labels' } as const;

export function SendOutPlace() {
  const [desk, open] = useDesk(DESKS, 'deliver');
  const { photoIds, what, setWhat, selected, inScope } = useChosen();
  return (
    <div className={styles.place}>
      <DeskNav place="Send out" desks={DESKS} desk={desk} onOpen={open}>
        <div className={styles.which}>
          <Radio.Group
            vertical
            value={what}
            onChange={({ target }) => setWhat(target.value as 'selection' | 'search')}
            aria-label="Which photos"
          >
            <Radio value="selection" disabled={selected === 0}>
              the selection ({count(selected)})
            </Radio>
            <Radio value="search">the search ({count(inScope)})</Radio>
          </Radio.Group>
        </div>
      </DeskNav>
      <main className={styles.main}>
        {desk === 'deliver' && <DeliverDesk photoIds={photoIds} />}
        {desk === 'sheet' && <SheetDesk key="sheet" kind="contact-sheet" photoIds={photoIds} />}
        {desk === 'labels' && <SheetDesk key="labels" kind="labels" photoIds={photoIds} />}
      </main>
    </div>
  );
}

function useChosen() {
  const params = useSearchParams();
  const selection = useSelection((state) => state.ids);
  const order = useResult((state) => state.result?.order);
  const inScope = useMemo(() => order?.all() ?? [], [order]);
  const [what, setWhat] = useState<'selection' | 'search'>(
    params.get('what') === 'selection' && selection.size > 0 ? 'selection' : 'search',
  );
  const isSelection = what === 'selection' && selection.size > 0;
  const photoIds = useMemo(
    // in the order of the search, whichever was clicked first
    () => (isSelection ? [...inScope.filter((id) => selection.has(id)), ...missing(selection, inScope)] : inScope),
    [isSelection, inScope, selection],
  );
  return {
    photoIds,
    what: isSelection ? ('selection' as const) : ('search' as const),
    setWhat,
    selected: selection.size,
    inScope: inScope.length,
  };
}

function missing(selection: ReadonlySet<string>, inScope: readonly string[]): string[] {
  const there = new Set(inScope);
  return [...selection].filter((id) => !there.has(id));
}
