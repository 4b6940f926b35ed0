'use client';

// What is done with the folder that is searched in: the selected photos go into it, it gets another name, place or drive,
// a new one is made in it, it is pinned on top of the tree.

import { Button } from 'antd';
import { create } from 'zustand';
import { type AskedFolder, parseFolder } from '@/core/query/folder-value';
import { useLive } from '@/storage/catalog/live';
import { session } from '@/engine/session';
import { useSelection } from '@/features/parts/selection/selection';
import { useSession } from '@/features/parts/session/use-session';
import { isPinned, pinFolder, usePinnedFolders } from './pinned-folders';
import styles from './shelves.module.css';

interface FolderAct {
  kind: 'into' | 'folder' | 'new';
  driveId: string;
  path: string;
  photoIds: readonly string[];
}

export const useFolderAct = create<{ act: FolderAct | null }>(() => ({ act: null }));

/** The drive of that name, and the folder on it. Two drives of one name are one here: the first is meant. */
async function placeOf({ drive, path }: AskedFolder) {
  const record = await session.db.drives.filter(({ name }) => name === drive).first();
  return record ? { driveId: record.id, path } : null;
}

/** Asks whether these photos go into that folder. */
export async function offerMove(value: string, photoIds: readonly string[]): Promise<void> {
  const folder = parseFolder(value);
  const place = folder && (await placeOf(folder));
  if (place) useFolderAct.setState({ act: { kind: 'into', ...place, photoIds } });
}

/** What can be done with a folder that is searched in. */
export function FolderActs({ value }: { value: string }) {
  const selected = useSelection((state) => state.ids);
  const { folders: pinned } = usePinnedFolders();
  const folder = parseFolder(value);
  const place = useLive(() => (folder ? placeOf(folder) : null), [value]);
  const isThere = useSession(({ connections }) => connections[place?.driveId ?? '']?.state === 'connected');
  if (!place) return null;
  const begin = (kind: FolderAct['kind']) =>
    useFolderAct.setState({ act: { kind, ...place, photoIds: kind === 'into' ? [...selected] : [] } });
  const isOnTop = isPinned(pinned, place);
  return (
    <div className={styles.folderActs}>
      <Button size="small" disabled={selected.size === 0} onClick={() => begin('into')}>
        Move the {selected.size} selected here…
      </Button>
      {place.path !== '' && (
        <Button size="small" onClick={() => begin('folder')}>
          Rename or move it…
        </Button>
      )}
      <Button size="small" disabled={!isThere} onClick={() => begin('new')}>
        New folder in it…
      </Button>
      <Button size="small" aria-pressed={isOnTop} onClick={() => pinFolder(place, !isOnTop)}>
        {isOnTop ? 'Unpin' : 'Pin'}
      </Button>
    </div>
  );
}
