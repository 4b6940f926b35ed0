// Thumbnails of what is on a card, drawn when they come into view: from the previews the files carry, a few at a time.

import { useEffect, useState } from 'react';
import type { SurveyedFrame } from '@/storage/jobs/source-survey';
import { session } from '@/engine/session';
import { useTakeIn } from './take-in-state';

/** More at the same time keep the workers from reading the rest of the card. */
const IN_WORK = 3;

const drawn = new Map<string, Promise<string | null>>();
const waiting: (() => Promise<void>)[] = [];
let inWork = 0;

function run(): void {
  while (inWork < IN_WORK) {
    const next = waiting.pop(); // what came into view last is looked at now
    if (!next) return;
    inWork += 1;
    void next().finally(() => {
      inWork -= 1;
      run();
    });
  }
}

async function draw(sourceId: string, { frame, reading }: SurveyedFrame): Promise<string | null> {
  const drive = session.drives.driveNow(sourceId);
  const path = frame.photos[0]?.path;
  if (!drive || !reading || path === undefined) return null;
  const { blob } = await session.fileTasks.preview(await drive.open(path), reading, 'small');
  return blob && URL.createObjectURL(blob);
}

function thumbOf(sourceId: string, item: SurveyedFrame): Promise<string | null> {
  const { path = '', sizeBytes, modifiedMs } = item.frame.photos[0] ?? {};
  const key = `${sourceId}/${path}/${sizeBytes}/${modifiedMs}`;
  const known = drawn.get(key);
  if (known) return known;
  const made = new Promise<string | null>((resolve) => {
    waiting.push(() =>
      draw(sourceId, item).then(resolve, () => {
        drawn.delete(key); // a failure is not kept: the card may be put in again
        resolve(null);
      }),
    );
    run();
  });
  drawn.set(key, made);
  return made;
}

/** `undefined` while it is drawn, `null` where there is none. */
export function useThumb(item: SurveyedFrame): string | null | undefined {
  const sourceId = useTakeIn((state) => state.sourceId);
  const [url, setUrl] = useState<string | null | undefined>(undefined);
  const read = item.reading !== null;
  useEffect(() => {
    let current = true;
    if (sourceId !== null && read) void thumbOf(sourceId, item).then((made) => current && setUrl(made));
    return () => {
      current = false;
    };
  }, [sourceId, item, read]);
  return url;
}
