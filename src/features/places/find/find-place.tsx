'use client';

import { Button } from 'antd';
import { memo, useCallback, useDeferredValue, useEffect, useState } from 'react';
import type { SearchAnswer } from '@/workers/search-client';
import { NO_PHOTOS, type PhotoOrder } from '@/core/search/photo-order';
import { parseScope } from '@/core/query/parse-scope';
import { count } from '@/ui/format';
import { useKeys } from '@/ui/keys';
import { useJudgingKeys } from '@/features/parts/judging/use-judging-keys';
import { MarkerHint } from '@/features/parts/judging/marker-hint';
import { toggleFullScreen } from '@/features/parts/picture/picture-bar';
import { useWholeAgain } from '@/features/parts/picture/pictures';
import { SideBySide } from '@/features/parts/picture/side-by-side';
import { useSideBySide } from '@/features/parts/picture/use-side-by-side';
import { SingleView } from '@/features/parts/picture/single-view';
import { PanelEdge } from '@/features/parts/panels/panel-edge';
import { allFolded, foldAll, folded, usePanels } from '@/features/parts/panels/panels';
import { RecordCard } from '@/features/parts/record-card/record-card';
import { Almanac } from '@/features/parts/almanac/almanac';
import { ConditionList, useExplained } from '@/features/parts/search-line/condition-list';
import { useLineOpen } from '@/features/parts/search-line/line-open';
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
  selectRange,
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
import { PhotoMenu } from './photo-menu';
import { SelectionBar } from './selection-bar';
import { useSession } from '@/features/parts/session/use-session';
import { inAddress } from '@/ui/address';

export function FindPlace() {
  const { result, of } = useResult();
  const { scope, photo: inAddress, setPhoto } = useScope();
  const order = result?.order ?? NO_PHOTOS;
  const photo = useLarge(inAddress, order);
  const onCard = useDeferredValue(photo); // the picture first, its record a moment later
  const beside = useSideBySide(photo);
  const { panels, areAway, fold } = useShownPanels(beside.ids !== null);
  const hand = useHandOrder(scope);
  const shown = of ?? scope; // of what is shown: the address comes a moment later
  useKeepFacets();
  useFocusOpens(inAddress, setPhoto);
  useWholeAgain(inAddress === null);
  const open = useCallback(
    (id: string) => {
      const { ids } = useSelection.getState();
      if (ids.has(id)) setFocus(id);
      else selectOnly(id);
      setPhoto(id);
    },
    [setPhoto],
  );
  const naming = useWalkKeys({ order, photo, active: beside.ids === null, onFold: fold });
  useKeys({ f: fold }, beside.ids !== null);
  useWallKeys({ order, active: photo === null && beside.ids === null, onOpen: open, onSideBySide: beside.open });
  return (
    <div
      className={styles.place}
      style={{
        gridTemplateColumns: `${widthOf(panels.shelves)} 8px minmax(0, 1fr) 8px ${widthOf(panels.card)}`,
      }}
    >
      {!panels.almanacFolded && <TheAlmanac />}
      {!panels.shelves.folded && <TheShelves />}
      <div className={styles.leftEdge}>{!areAway && <PanelEdge of="shelves" side="left" />}</div>
      <main className={styles.main}>
        {!photo && beside.ids === null && result && (
          <WallBar result={result} sort={parseScope(shown).sort} folded={allFolded(panels)} onFold={foldAll} />
        )}
        <div
          className={styles.body}
          onDragOver={(event) =>
            hand.collection && event.dataTransfer.types.includes(PHOTOS_DRAGGED) && event.preventDefault()
          }
          onDrop={(event) => hand.drop(event)}
        >
          {beside.ids ? (
            <SideBySide ids={beside.ids} onClose={beside.close} onPresent={setFocus} />
          ) : result ? (
            <PhotoMenu onOpen={open} onSideBySide={() => void beside.open()}>
              <Shown result={result} scope={shown} photo={photo} onOpen={open} beside={beside} />
            </PhotoMenu>
          ) : (
            <Opening />
          )}
        </div>
        {result && !beside.ids && (
          <SelectionBar result={result} large={photo !== null} onSideBySide={() => void beside.open()} hand={hand} />
        )}
        <MarkerHint naming={naming} />
      </main>
      <div className={styles.rightEdge}>{!areAway && <PanelEdge of="card" side="right" />}</div>
      {!panels.card.folded && (
        <div className={styles.card}>
          <RecordCard total={order.length} photoId={onCard} />
        </div>
      )}
    </div>
  );
}

const BACK_TO = { wall: 'Wall', list: 'List', alike: 'Look-alikes' } as const;

interface ShownProps {
  result: SearchAnswer;
  scope: string;
  photo: string | null;
  onOpen: (photoId: string) => void;
  beside: ReturnType<typeof useSideBySide>;
}

/** One photo large, or the photos of the search as the person chose to see them; or why there are none. */
function Shown({ result, scope, photo, onOpen, beside }: ShownProps) {
  const { setScope, setPhoto } = useScope();
  const view = useWallChoices((state) => state.view);
  const { sort } = parseScope(scope);
  if (photo)
    return (
      <SingleView
        photoId={photo}
        result={result}
        onStep={(by) => walk(result.order, photo, by)}
        onOpen={setFocus}
        onClose={() => setPhoto(null)}
        onSideBySide={() => void beside.open()}
        back={BACK_TO[view]}
      />
    );
  if (result.order.length === 0) return <Nothing all={result.all} scope={scope} onScope={setScope} />;
  if (view === 'wall') return <Wall result={result} sort={sort.by} onOpen={onOpen} />;
  if (view === 'list') return <ListView result={result} sort={sort} onOpen={onOpen} />;
  return <AlikeView scope={scope} onOpen={onOpen} onSideBySide={beside.show} />;
}

function Opening() {
  const stage = useSession((state) => state.stage.state);
  const indexed = useSession((state) => state.indexed);
  return (
    <p className={styles.opening}>
      {stage === 'ready' ? 'Looking…' : `Opening the catalog: ${count(indexed)} photos so far`}
    </p>
  );
}

/** The focus moves; the selection stays. */
function roam(order: PhotoOrder, by: number): void {
  const next = neighbour(order, by);
  if (next) setFocus(next);
}

/** One selected photo goes along with the keys; several stay selected while the focus moves. */
function walk(order: PhotoOrder, photo: string | null, by: number): void {
  if (photo && useSelection.getState().ids.size > 1) roam(order, by);
  else stepFocus(order, by);
}

function selectFurther(order: PhotoOrder, by: number): void {
  const next = neighbour(order, by);
  if (next) selectRange(order, next);
}

interface WalkKeys {
  order: PhotoOrder;
  photo: string | null;
  active: boolean;
  onFold: () => void;
}

/** Keys that walk and judge, on the wall and in the single view. Whether a marker is being named. */
function useWalkKeys({ order, photo, active, onFold }: WalkKeys) {
  return useJudgingKeys(
    () => (photo ? [photo] : [...useSelection.getState().ids]),
    {
      a: () => walk(order, photo, -1),
      ArrowLeft: () => walk(order, photo, -1),
      d: () => walk(order, photo, 1),
      ArrowRight: () => walk(order, photo, 1),
      f: onFold,
      'Shift+Enter': () => void toggleFullScreen(),
    },
    active,
  );
}

interface WallKeys {
  order: PhotoOrder;
  active: boolean;
  onOpen: (photoId: string) => void;
  onSideBySide: () => unknown;
}

/** Keys of the wall alone: selecting, and opening what has the focus. */
function useWallKeys({ order, active, onOpen, onSideBySide }: WallKeys): void {
  const ofFocus = (act: (id: string) => void) => () => {
    const { focus } = useSelection.getState();
    if (focus) act(focus);
  };
  useKeys(
    {
      Enter: ofFocus(onOpen),
      Escape: clearSelection,
      b: () => void onSideBySide(),
      'Shift+a': () => selectFurther(order, -1),
      'Shift+ArrowLeft': () => selectFurther(order, -1),
      'Shift+d': () => selectFurther(order, 1),
      'Shift+ArrowRight': () => selectFurther(order, 1),
      'Ctrl+ArrowLeft': () => roam(order, -1),
      'Ctrl+ArrowRight': () => roam(order, 1),
      'Ctrl+a': () => selectAll(order),
      e: ofFocus(toggleSelected),
    },
    active,
  );
}

// Beside the wall; not drawn anew at each step.
const TheAlmanac = memo(function TheAlmanac() {
  return (
    <div className={styles.almanac}>
      <Almanac />
    </div>
  );
});
const TheShelves = memo(function TheShelves() {
  return (
    <div className={styles.shelves}>
      <Shelves />
    </div>
  );
});

/** The panels as the person left them; side by side they make room by themselves, until they are asked back. */
function useShownPanels(isBeside: boolean) {
  const kept = usePanels();
  const [asked, setAsked] = useState(false);
  const areAway = isBeside && !asked;
  return {
    panels: areAway ? folded(kept) : kept,
    areAway,
    fold: isBeside ? () => setAsked((now) => !now) : foldAll,
  };
}

const widthOf = ({ width, folded }: { width: number; folded: boolean }): string => (folded ? '0' : `${width}px`);

/** While a photo is large, the one that has the focus is it; opened by its address, it gets the focus. */
function useFocusOpens(photo: string | null, setPhoto: (id: string | null) => void): void {
  const focus = useSelection((state) => state.focus);
  useEffect(() => {
    if (photo !== null && useSelection.getState().focus === null) selectOnly(photo);
  }, [photo]);
  useEffect(() => {
    const open = inAddress('photo');
    if (open !== null && focus !== null && focus !== open) setPhoto(focus);
  }, [focus, setPhoto]);
}

/** Nothing fits: which condition excludes what, and a way to drop it. */
function Nothing({ all, scope, onScope }: { all: number; scope: string; onScope: (scope: string) => void }) {
  const isTyping = useLineOpen((state) => state.open);
  const explained = useExplained(scope, all > 0 && !isTyping); // the line explains it while one types
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
