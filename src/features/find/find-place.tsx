'use client';

import { Button, Empty, Slider } from 'antd';
import { useState } from 'react';
import { count } from '@/ui/format';
import { useKeys } from '@/ui/keys';
import { RecordCard } from '../record-card/record-card';
import { Almanac } from '../scope/almanac';
import { Shelves } from '../scope/shelves';
import { useResult } from '../scope/use-result';
import { useScope } from '../scope/use-scope';
import { climb, setRung, toggleRejected } from '../session/rate';
import { clearSelection, selectAll, selectOnly, stepFocus, useSelection } from '../session/selection';
import { useSession } from '../session/session';
import { SingleView } from '../wall/single-view';
import { Wall } from '../wall/wall';
import styles from './find.module.css';
import { SelectionBar } from './selection-bar';

const SIZES = { min: 70, max: 420, start: 150 };

export function FindPlace() {
  const { result } = useResult();
  const { scope, setScope, photo, setPhoto } = useScope();
  const stage = useSession((state) => state.stage);
  const indexed = useSession((state) => state.indexed);
  const [rowHeight, setRowHeight] = useState(SIZES.start);
  const [folded, setFolded] = useState(false);
  const order = result?.ids ?? [];

  const step = (by: 1 | -1) => {
    const next = stepFocus(order, by);
    if (next && photo) setPhoto(next);
  };
  const open = (id: string) => {
    selectOnly(id);
    setPhoto(id);
  };
  useKeys({
    a: () => step(-1), ArrowLeft: () => step(-1), d: () => step(1), ArrowRight: () => step(1),
    w: () => void climb(1), ArrowUp: () => void climb(1), s: () => void climb(-1), ArrowDown: () => void climb(-1),
    q: () => void toggleRejected(), f: () => setFolded((now) => !now), 'Ctrl+a': () => selectAll(order),
    ...Object.fromEntries([0, 1, 2, 3, 4, 5].map((rung) => [String(rung), () => void setRung(rung)])),
  });
  useKeys({ Enter: () => useSelection.getState().focus && open(useSelection.getState().focus ?? ''), Escape: clearSelection }, photo === null);

  return (
    <div className={styles.place} data-folded={folded}>
      {!folded && <div className={styles.almanac}><Almanac /></div>}
      {!folded && <div className={styles.shelves}><Shelves /></div>}
      <main className={styles.main}>
        {!photo && (
          <div className={styles.bar}>
            <span>
              <strong>{count(order.length)}</strong> shown{result && result.all !== order.length && <span className="quiet"> · {count(result.all - order.length)} hidden · {count(result.all)} in all</span>}
            </span>
            <Slider className={styles.size} min={SIZES.min} max={SIZES.max} value={rowHeight} onChange={setRowHeight} tooltip={{ open: false }} ariaLabelForHandle="Size of the photos" />
            <Button size="small" type="text" onClick={() => setFolded((now) => !now)} aria-pressed={folded}>{folded ? 'Unfold' : 'Fold'} panels</Button>
          </div>
        )}
        <div className={styles.body}>
          {photo && <SingleView photoId={photo} order={order} onStep={step} onClose={() => setPhoto(null)} />}
          {!photo && result && order.length > 0 && <Wall result={result} rowHeight={rowHeight} onOpen={open} />}
          {!photo && result && order.length === 0 && <Nothing all={result.all} scope={scope} onClear={() => setScope('')} />}
          {!photo && !result && <p className={styles.opening}>{stage === 'ready' ? 'Looking…' : `Opening the catalog: ${count(indexed)} photos so far`}</p>}
        </div>
        <SelectionBar />
      </main>
      {!folded && <div className={styles.card}><RecordCard total={order.length} /></div>}
    </div>
  );
}

function Nothing({ all, scope, onClear }: { all: number; scope: string; onClear: () => void }) {
  return (
    <Empty image={null} className={styles.nothing} description={all === 0 ? 'No photos yet. Connect a drive in Overview, or drop a folder on this window.' : `None of the ${count(all)} photos fits “${scope}”.`}>
      {all > 0 && <Button onClick={onClear}>Show all photos</Button>}
    </Empty>
  );
}
