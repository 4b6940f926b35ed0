'use client';

// One photo large, its neighbours in a strip below. Three ahead and two behind are decoded before they are asked for;
// at 100 % the next one's real pixels too, so that sharpness can be compared from frame to frame.

import { Button } from 'antd';
import { type ReactNode, memo, useDeferredValue, useRef } from 'react';
import { setWords } from '@/messages/sets';
import { useLive } from '@/storage/catalog/live';
import type { PhotoRecord } from '@/storage/catalog/records';
import { isLarge } from '@/storage/file-tasks/file-tasks';
import { count } from '@/ui/format';
import { type KeyMap, useKeys } from '@/ui/keys';
import { RatingBars } from '@/ui/rating-bars';
import { useSize } from '@/ui/use-size';
import { useStable } from '@/ui/use-stable';
import type { OrderedPhotos } from '@/workers/search-client';
import { session } from '@/engine/session';
import { CorrectPanel } from './correct-panel';
import { toggleBefore, toggleCorrecting, useCorrecting, useDeveloping } from './correcting';
import { HistogramView } from './histogram';
import { PictureBar, pictureKeys } from './picture-bar';
import styles from './picture.module.css';
import type { PictureSize } from './picture-store';
import { PictureStage, moveView } from './picture-stage';
import {
  pictureInSight,
  screenPixels,
  setPage,
  useAtHand,
  useFirstPage,
  usePictureView,
  useRoom,
  useShown,
} from './pictures';
import { altOf, captureLine, shownWords } from './picture-words';
import { useSharpness } from './sharpness';
import { Strip } from './strip';
import { VideoPlayer, isVideoPhoto } from './video-player';

interface Props {
  photoId: string;
  result: OrderedPhotos;
  onStep: (step: 1 | -1) => void;
  onOpen: (id: string) => void;
  onClose: () => void;
  onSideBySide: () => void;
  decided?: (id: string) => string | undefined;
  /** Beside the position: what this place has to say. */
  remark?: ReactNode;
  /** Where Escape leads. */
  back: string;
}

const AHEAD = [1, 2, 3, -1, -2];
const SCREEN: readonly PictureSize[] = ['preview', 'screen'];
const REAL: readonly PictureSize[] = ['preview', 'screen', 'full'];

export function SingleView({ photoId, result, onStep, onOpen, onClose, onSideBySide, decided, remark, back }: Props) {
  const { order } = result;
  const photo = useLive(() => session.db.photos.get(photoId), [photoId]);
  const same = photo?.id === photoId ? photo : undefined; // never what is known of another one
  const zoomed = usePictureView((state) => state.view.scale !== 'fit');
  const histogram = usePictureView((state) => state.histogram);
  const surround = useRoom((state) => state.surround);
  const place = order.indexOf(photoId);
  const neighbours = AHEAD.flatMap((step) => order.at(place + step) ?? []).filter((id) => place >= 0 && id !== photoId);
  const room = useRef<HTMLDivElement>(null);
  const stage = useSize(room);
  const view = usePictureView((state) => state.view);
  const page = usePictureView((state) => state.page);
  useFirstPage(photoId);
  const next = useLive(() => (neighbours[0] ? session.db.photos.get(neighbours[0]) : undefined), [neighbours[0]]);
  const part = pictureInSight(same, view, stage);
  useAtHand([
    { id: photoId, sizes: zoomed && same && (part || !isLarge(same)) ? REAL : SCREEN, page, part },
    ...neighbours.map((id, index) => ({
      id,
      // the next one's real pixels too, but for one that is only ever seen in parts
      sizes: zoomed && index === 0 && next?.id === id && !isLarge(next) ? REAL : SCREEN,
    })),
  ]);
  const shown = useShown(photoId, page);
  const pages = shown.picture?.pages ?? 1;
  const turnPage = (by: 1 | -1) => setPage(Math.max(0, Math.min(pages - 1, page + by)));
  const correcting = useCorrectingHere(same);
  useKeys({
    ...pictureKeys(moveView),
    ...(isVideoPhoto(same) && { ' ': () => undefined }), // its own: play
    PageDown: () => turnPage(1),
    PageUp: () => turnPage(-1),
    b: onSideBySide,
    ...correcting.keys,
    Enter: onClose,
    Escape: onClose,
  });
  const said = shownWords(shown, zoomed);
  const rating = place >= 0 ? (result.ratings[place] ?? 0) : 0;
  const later = useDeferredValue(photoId); // the picture first, what stands below it a moment later
  const step = useStable(onStep);
  const open = useStable(onOpen);
  const close = useStable(onClose);
  const beside = useStable(onSideBySide);
  return (
    <section className={styles.view} aria-label="Single view" data-surround={surround}>
      <div className={styles.room} ref={room} data-correcting={correcting.panel !== null}>
        <PictureStage photoId={photoId} photo={same} words={altOf(same)} onClose={close} onSwipe={step} />
        {same && isVideoPhoto(same) && <VideoPlayer key={photoId} photo={same} />}
        {histogram && <HistogramView photoId={photoId} />}
        {correcting.panel}
        {said && (
          <p className={styles.said} role="status">
            {said}
          </p>
        )}
      </div>
      <Capture photoId={later} result={result} />
      <Strip result={result} photoId={later} onOpen={open} {...(decided && { decided })} />
      <footer className={styles.foot}>
        <StepButton way="back" disabled={place <= 0} onStep={step} />
        <span className="mono">
          {count(place + 1)} of {count(order.length)}
        </span>
        <StepButton way="on" disabled={place < 0 || place >= order.length - 1} onStep={step} />
        {correcting.button}
        <RatingBars rating={rating} size="large" />
        {pages > 1 && <Pages page={page} pages={pages} onTurn={turnPage} />}
        {remark}
        <PictureHead still={!isVideoPhoto(same)} back={back} onSideBySide={beside} onClose={close} />
      </footer>
    </section>
  );
}

/** The sliders beside the picture, where they are asked for, and their keys; none for a video. */
function useCorrectingHere(photo: PhotoRecord | undefined): { keys: KeyMap; button: ReactNode; panel: ReactNode } {
  const isOpen = useCorrecting((state) => state.isOpen);
  const still = isVideoPhoto(photo) ? undefined : photo;
  const shown = isOpen ? still : undefined;
  const { problem } = useDeveloping(shown, screenPixels());
  return {
    keys: { ...(!isVideoPhoto(photo) && { c: toggleCorrecting }), ...(isOpen && { x: toggleBefore }) },
    button: isVideoPhoto(photo) ? null : (
      <Button type="text" size="small" onClick={toggleCorrecting}>
        Correct <kbd>C</kbd>
      </Button>
    ),
    panel: shown ? <CorrectPanel photo={shown} problem={problem} /> : null,
  };
}

/** What the camera wrote, and what the photo is in its set. */
const Capture = memo(function Capture({ photoId, result }: Pick<Props, 'photoId' | 'result'>) {
  const photo = useLive(() => session.db.photos.get(photoId), [photoId]);
  const place = result.order.indexOf(photoId);
  const frames = useSetFrames(photoId, result);
  const sharpness = useSharpness(frames).get(photoId);
  return (
    <p className={styles.capture}>
      <span className="mono">{captureLine(photo?.id === photoId ? photo : undefined)}</span>
      {frames.length > 1 && (
        <span>
          {setWords(result.setKinds[place] ?? 0, result.setSizes[place] ?? 0)}
          {sharpness &&
            sharpness.percent !== null &&
            ` · ${sharpness.percent === 100 ? 'the sharpest of them' : `sharpness ${sharpness.percent} % of the sharpest`}${sharpness.ofPreview ? ', by the preview' : ''}`}
        </span>
      )}
    </p>
  );
});

const StepButton = memo(function StepButton({
  way,
  disabled,
  onStep,
}: {
  way: 'back' | 'on';
  disabled: boolean;
  onStep: Props['onStep'];
}) {
  return way === 'back' ? (
    <Button type="text" size="small" onClick={() => onStep(-1)} disabled={disabled} aria-label="← A: previous photo">
      ← <kbd>A</kbd>
    </Button>
  ) : (
    <Button type="text" size="small" onClick={() => onStep(1)} disabled={disabled} aria-label="D →: next photo">
      <kbd>D</kbd> →
    </Button>
  );
});

/** The pages of a file that holds more pictures than one. */
function Pages({ page, pages, onTurn }: { page: number; pages: number; onTurn: (by: 1 | -1) => void }) {
  return (
    <span className={styles.pages} role="group" aria-label="Pages of the file">
      <Button type="text" size="small" disabled={page === 0} onClick={() => onTurn(-1)} aria-label="Previous page">
        ‹
      </Button>
      <span className="mono">
        page {page + 1} of {pages}
      </span>
      <Button type="text" size="small" disabled={page === pages - 1} onClick={() => onTurn(1)} aria-label="Next page">
        ›
      </Button>
    </span>
  );
}

const PictureHead = memo(function PictureHead({
  still,
  back,
  onSideBySide,
  onClose,
}: Pick<Props, 'back' | 'onSideBySide' | 'onClose'> & { still: boolean }) {
  return (
    <>
      <span className={styles.controls}>
        <PictureBar still={still} />
      </span>
      <Button type="text" size="small" onClick={onSideBySide}>
        Side by side <kbd>B</kbd>
      </Button>
      <Button type="text" size="small" onClick={onClose}>
        {back} <kbd>Esc</kbd>
      </Button>
    </>
  );
});

/** The frames of the photo's set that are in this order, neighbours of it. */
function useSetFrames(photoId: string, { order, sets }: OrderedPhotos): string[] {
  const at = order.indexOf(photoId);
  const set = at < 0 ? -1 : (sets[at] ?? -1);
  if (set < 0) return [];
  let first = at;
  while (first > 0 && sets[first - 1] === set) first -= 1;
  let end = at + 1;
  while (end < order.length && sets[end] === set) end += 1;
  return order.slice(first, end);
}
