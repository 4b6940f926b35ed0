'use client';

// How a picture is looked at: scale, what lies over it, the surround, the whole screen.

import { Button, Segmented, Tooltip } from 'antd';
import { useSyncExternalStore } from 'react';
import { toggleScale } from './picture-stage';
import { SURROUNDS, type Surround, usePictureView, useRoom } from './pictures';
import styles from './picture.module.css';

/** @param still not for a video, whose Space plays it */
export function PictureBar({ still = true }: { still?: boolean }) {
  const { view, histogram, clipped } = usePictureView();
  const surround = useRoom((state) => state.surround);
  return (
    <>
      {still && (
        <Button type="text" size="small" onClick={toggleScale} aria-pressed={view.scale !== 'fit'}>
          {view.scale === 'fit' ? '100 %' : 'Whole picture'} <kbd>Space</kbd>
        </Button>
      )}
      <Button
        type="text"
        size="small"
        aria-pressed={histogram}
        onClick={() => usePictureView.setState({ histogram: !histogram })}
      >
        Histogram <kbd>H</kbd>
      </Button>
      <Button
        type="text"
        size="small"
        aria-pressed={clipped}
        onClick={() => usePictureView.setState({ clipped: !clipped })}
      >
        Clipping <kbd>L</kbd>
      </Button>
      <Segmented<Surround>
        size="small"
        value={surround}
        onChange={(next) => useRoom.setState({ surround: next })}
        options={Object.entries(SURROUNDS).map(([value, label]) => ({
          value: value as Surround,
          label: (
            <Tooltip title={`Surround: ${label}`}>
              <span className={styles.swatch} data-surround={value} role="img" aria-label={label} />
            </Tooltip>
          ),
        }))}
        aria-label="Surround"
      />
      <FullScreenButton />
    </>
  );
}

/** The button of it, which says what it will do. */
function FullScreenButton() {
  const isFull = useSyncExternalStore(
    followFullScreen,
    () => document.fullscreenElement !== null,
    () => false,
  );
  return (
    <Tooltip title="Shift+Enter">
      <Button type="text" size="small" aria-pressed={isFull} onClick={() => void toggleFullScreen()}>
        Full screen
      </Button>
    </Tooltip>
  );
}

function followFullScreen(tell: () => void): () => void {
  document.addEventListener('fullscreenchange', tell);
  return () => document.removeEventListener('fullscreenchange', tell);
}

/** The whole screen, and back. */
export async function toggleFullScreen(): Promise<void> {
  if (document.fullscreenElement) await document.exitFullscreen();
  else await document.documentElement.requestFullscreen().catch(() => undefined); // refused: the panels are folded all the same
}

/** Keys of looking. */
export const pictureKeys = (move: (x: number, y: number) => void) => {
  const by = 120;
  return {
    ' ': toggleScale,
    h: () => usePictureView.setState(({ histogram }) => ({ histogram: !histogram })),
    l: () => usePictureView.setState(({ clipped }) => ({ clipped: !clipped })),
    'Shift+a': () => move(by, 0),
    'Shift+ArrowLeft': () => move(by, 0),
    'Shift+d': () => move(-by, 0),
    'Shift+ArrowRight': () => move(-by, 0),
    'Shift+w': () => move(0, by),
    'Shift+ArrowUp': () => move(0, by),
    'Shift+s': () => move(0, -by),
    'Shift+ArrowDown': () => move(0, -by),
  };
};
