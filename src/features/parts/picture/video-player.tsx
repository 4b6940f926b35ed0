'use client';

// A video played where its poster stands: by Space, a frame forward and back, back to the poster. Its bytes come from
// the drive as they are wanted; what the browser cannot play it says.

import { Button } from 'antd';
import { useEffect, useRef, useState } from 'react';
import type { PhotoRecord } from '@/storage/catalog/records';
import type { OpenedFile } from '@/storage/drives/drive';
import { blobOf } from '@/storage/drives/safe-write';
import { HostFile } from '@/storage/host/host-drive';
import { session } from '@/engine/session';
import { useKeys } from '@/ui/keys';
import styles from './picture.module.css';

export const isVideoPhoto = (photo: Pick<PhotoRecord, 'format'> | undefined): boolean =>
  photo?.format === 'video' || photo?.format === 'avi';

/** A step where the rate is not known: videos of cameras have 25 to 30 frames a second. */
const FRAME_SECONDS = 1 / 25;

/** Where the browser fetches it part by part. */
const addressOf = async (file: OpenedFile): Promise<string> =>
  file instanceof HostFile ? file.address() : URL.createObjectURL(await blobOf(file));

type Playing = { state: 'poster' } | { state: 'opened'; url: string } | { state: 'failed'; why: string };

export function VideoPlayer({ photo }: { photo: PhotoRecord }) {
  const [playing, setPlaying] = useState<Playing>({ state: 'poster' });
  const video = useRef<HTMLVideoElement>(null);
  const url = playing.state === 'opened' ? playing.url : null;
  useEffect(() => () => void (url && URL.revokeObjectURL(url)), [url]);

  const open = async () => {
    const found = await session.original(photo.id);
    setPlaying(
      found
        ? { state: 'opened', url: await addressOf(found.file) }
        : { state: 'failed', why: 'Its drive is away: only the poster can be shown.' },
    );
  };
  const toggle = () => {
    const element = video.current;
    if (!element) return void open();
    if (element.paused) void element.play().catch(() => undefined);
    else element.pause();
  };
  const step = (by: number) => {
    const element = video.current;
    if (!element) return void open();
    element.pause();
    element.currentTime = Math.max(0, element.currentTime + by * FRAME_SECONDS);
  };
  const toPoster = () => setPlaying({ state: 'poster' });
  useKeys({ ' ': toggle, '.': () => step(1), ',': () => step(-1), Home: toPoster });

  const failed = () => setPlaying({ state: 'failed', why: unplayed(photo) });
  return (
    <>
      {url && (
        <video
          ref={video}
          className={styles.video}
          src={url}
          controls
          autoPlay
          aria-label="Video"
          onError={failed}
          // a codec it lacks beside a sound it knows: it plays, and draws nothing
          onLoadedMetadata={(event) => event.currentTarget.videoWidth === 0 && failed()}
        />
      )}
      <p className={styles.playing}>
        {playing.state === 'failed' && <span role="status">{playing.why}</span>}
        {playing.state === 'opened' ? (
          <Button size="small" onClick={toPoster}>
            To the poster <kbd>Home</kbd>
          </Button>
        ) : (
          <Button size="small" onClick={toggle}>
            Play <kbd>Space</kbd>
          </Button>
        )}
        {playing.state === 'opened' && (
          <span className="quiet">
            <kbd>,</kbd> <kbd>.</kbd> a frame back and forward
          </span>
        )}
      </p>
    </>
  );
}

const unplayed = ({ codec }: PhotoRecord): string =>
  `This browser cannot play this video${codec ? ` (${codec})` : ''}. It can be played by another program on its drive.`;
