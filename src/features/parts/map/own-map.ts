'use client';

// The map file of the person's own: remembered by its handle until it is removed. A browser may ask once a visit whether
// it may be read; until then it waits by its name.

import { create } from 'zustand';
import { session } from '@/engine/session';
import { checkTiles } from './own-tiles';

interface OwnMap {
  file: File | null;
  /** Remembered, and to be allowed again. */
  waiting: FileSystemFileHandle | null;
}

export const useOwnMap = create<OwnMap>(() => ({ file: null, waiting: null }));

export const isMapFile = (name: string): boolean => /\.pmtiles$/i.test(name);

/** Rejects with what is wrong, in words; the map before then stays. A file without a handle is not remembered. */
export async function takeOwnMap(from: File | FileSystemFileHandle): Promise<void> {
  const file = from instanceof File ? from : await from.getFile();
  await checkTiles(file);
  useOwnMap.setState({ file, waiting: null });
  if (from instanceof File) await session.db.mapFiles.delete(OWN);
  else await session.db.mapFiles.put({ id: OWN, handle: from });
}

const OWN = 'own';

/** What was chosen on an earlier visit. One that cannot be read any more waits. */
export async function recallOwnMap(): Promise<void> {
  if (useOwnMap.getState().file) return;
  const handle = (await session.db.mapFiles.get(OWN))?.handle;
  if (!handle) return;
  useOwnMap.setState({ waiting: handle });
  if ((await handle.queryPermission({ mode: 'read' })) === 'granted') await takeOwnMap(handle);
}

/** For a click: the browser asks, where it must. */
export async function allowOwnMap(handle: FileSystemFileHandle): Promise<void> {
  if ((await handle.requestPermission({ mode: 'read' })) === 'granted') await takeOwnMap(handle);
}

export async function forgetOwnMap(): Promise<void> {
  useOwnMap.setState({ file: null, waiting: null });
  await session.db.mapFiles.delete(OWN);
}
