'use client';

import { Button } from 'antd';
import { memo, useCallback, useDeferredValue, useEffect, useState } from 'react';
import { NO_PHOTOS } from '@/core/search/photo-order';
import { parseScope } from '@/core/query/parse-scope';
import { count } from '@/ui/format';
import { useKeys } from '@/ui/keys';
import { useJudgingKeys } from '@/features/parts/judging/use-judging-keys';
import { MarkerHint } from '@/features/parts/judging/marker-hint';
import { toggleFullScreen } from '@/features/parts/picture/look-bar';
import { useWholeAgain } from '@/features/parts/picture/pictures';
import { SideBySide } from '@/features/parts/picture/side-by-side';
import { useSideBySide } from '@/features/parts/picture/use-side-by-side';
import { SingleView } from '@/features/parts/picture/single-view';
import { RecordCard } from '@/features/parts/record-card/record-card';
import { Almanac } from '@/features/parts/almanac/almanac';
import { ConditionList, useExplained } from '@/features/parts/search-line/condition-list';
import { Shelves } from '@/features/parts/shelves/shelves';
import { useKeepFacets } from '@/features/parts/search/use-facets';
import { useResult } from '@/features/parts/search/use-result';
import { useScope } from '@/features/parts/search/use-scope';
import { PHOTOS_DRAGGED } from '@/features/parts/selection/dragged-photos';
import {
  clearSelection,
  neighbour,
  selectAll,
  selectOnly,
  selectStretch,
  setFocus,
  stepFocus,
  toggleSelected,
  useLarge,
  useSelection,
} from '@/features/parts/selection/selection';
import { ListView } from '@/features/parts/wall/list-view';
import { Wall } from '@/features/parts/wall/wall';
import { WallBar } from '@/features/parts/wall/wall-bar';
import { useWallChoices } from '@/features/parts/wall/wall-choices';
import { AlikeView } from './alike-view';
import styles from './find.module.css';
import { useHandOrder } from './hand-order';
import { SelectionBar } from './selection-bar';
import { useSession } from '@/features/parts/session/use-session';

export function FindPlace() {
  const { result, of } = useResult();
  const { scope, setScope, photo: inAddress, setPhoto } = useScope();
  const stage = useSession((state) => state.stage);
  const indexed = useSession((state) => state.indexed);
  const view = useWallChoices((state) => state.view);
  const [folded, setFolded] = useState(false);
  const order = result?.order ?? NO_PHOTOS;
  const photo = useLarge(inAddress, order);
  const onCard = useDeferredValue(photo); // the picture first, its record a moment later
  const beside = useSideBySide(photo);
  const { sort } = parseScope(of ?? scope); // of what is shown: the address comes a moment later
  const hand = useHandOrder(scope);
  useKeepFacets();
  useFocusOpens(inAddress, setPhoto);
  useWholeAgain(inAddress === null);

  // one selected photo goes along with the keys; several stay selected while the focus moves
  const go = (by: number) => {
    if (photo && useSelection.getState().ids.size > 1) roam(by);
    else stepFocus(order, by);
  };
  const stretch = (by: number) => {
    const next = neighbour(order, by);
    if (next) selectStretch(order, next);
  };
  const roam = (by: number) => {
    const next = neighbour(order, by);
    if (next) setFocus(next);
  };
  const open = useCallback(
    (id: string) => {
      const { ids } = useSelection.getState();
      if (ids.has(id)) setFocus(id);
      else selectOnly(id);
      setPhoto(id);
    },
    [setPhoto],
  );
  const openFocused = () => {
    const { focus } = useSelection.getState();
    if (focus) open(focus);
  };
  const closed = beside.ids === null;
  const naming = useJudgingKeys(
    () => (photo ? [photo] : [...useSelection.getState().ids]),
    {
      a: () => go(-1),
      ArrowLeft: () => go(-1),
      d: () => go(1),
      ArrowRight: () => go(1),
      f: () => setFolded((now) => !now),
      'Shift+Enter': () => void toggleFullScreen(),
    },
    closed,
  );
  useKeys(
    {
      Enter: openFocused,
      Escape: clearSelection,
      b: () => void beside.open(),
      'Shift+a': () => stretch(-1),
      'Shift+ArrowLeft': () => stretch(-1),
      'Shift+d': () => stretch(1),
      'Shift+ArrowRight': () => stretch(1),
      'Ctrl+ArrowLeft': () => roam(-1),
      'Ctrl+ArrowRight': () => roam(1),
      'Ctrl+a': () => selectAll(order),
      e: () => useSelection.getState().focus && toggleSelected(useSelection.getState().focus ?? ''),
    },
    photo === null && closed,
  );

  return (
    <div className={styles.place} data-folded={folded}>
      {!folded && <Around />}
      <main className={styles.main}>
        {!photo && closed && result && (
          <WallBar result={result} sort={sort} folded={folded} onFold={() => setFolded((now) => !now)} />
        )}
        <div
          className={styles.body}
          onDragOver={(event) =>
            hand.collection && event.dataTransfer.types.includes(PHOTOS_DRAGGED) && event.preventDefault()
          }
          onDrop={(event) => hand.drop(event)}
        >
          {beside.ids && <SideBySide ids={beside.ids} onClose={beside.close} onPresent={setFocus} />}
          {closed && photo && result && (
            <SingleView
              photoId={photo}
              result={result}
              onStep={go}
              onOpen={setFocus}
              onClose={() => setPhoto(null)}
              onSideBySide={() => void beside.open()}
              back={view === 'wall' ? 'Wall' : view === 'list' ? 'List' : 'Look-alikes'}
            />
          )}
          {closed &&
            !photo &&
            result &&
            order.length > 0 &&
            (view === 'wall' ? (
              <Wall result={result} sort={sort.by} onOpen={open} />
            ) : view === 'list' ? (
              <ListView result={result} sort={sort} onOpen={open} />
            ) : (
              <AlikeView scope={scope} onOpen={open} onSideBySide={beside.show} />
            ))}
          {closed && !photo && result && order.length === 0 && (
            <Nothing all={result.all} scope={of ?? scope} onScope={setScope} />
          )}
          {!result && (
            <p className={styles.opening}>
              {stage === 'ready' ? 'Looking…' : `Opening the catalog: ${count(indexed)} photos so far`}
            </p>
          )}
        </div>
        {result && <SelectionBar result={result} onSideBySide={() => void beside.open()} hand={hand} />}
        <MarkerHint naming={naming} />
      </main>
      {!folded && (
        <div className={styles.card}>
          <RecordCard total={order.length} photoId={onCard} />
        </div>
      )}
    </div>
  );
}

/** Beside the wall; not drawn anew at each step. */
const Around = memo(function Around() {
  return (
    <>
      <div className={styles.almanac}>
        <Almanac />
      </div>
      <div className={styles.shelves}>
        <Shelves />
      </div>
    </>
  );
});

/** While a photo is large, the one that has the focus is it; opened by its address, it gets the focus. */
function useFocusOpens(photo: string | null, setPhoto: (id: string | null) => void): void {
  const focus = useSelection((state) => state.focus);
  useEffect(() => {
    if (photo !== null && useSelection.getState().focus === null) selectOnly(photo);
  }, [photo]);
  useEffect(() => {
    const open = new URLSearchParams(window.location.search).get('photo');
    if (open !== null && focus !== null && focus !== open) setPhoto(focus);
  }, [focus, setPhoto]);
}

/** Nothing fits: which condition excludes what, and a way to drop it. */
function Nothing({ all, scope, onScope }: { all: number; scope: string; onScope: (scope: string) => void }) {
  const explained = useExplained(scope, all > 0);
  return (
    <div className={styles.nothing}>
      <p>
        {all === 0
          ? 'No photos yet. Connect a drive in Overview, or drop a folder on this window.'
          : `None of the ${count(all)} photos fits “${scope}”.`}
      </p>
      {explained && <ConditionList scope={scope} explained={explained} onScope={onScope} />}
      {all > 0 && <Button onClick={() => onScope('')}>Show all photos</Button>}
    </div>
  );
}
