'use client';

// Folders that stand on top of the tree, as long as the person wants them there, with photos or without.

import { z } from 'zod';
import { archiveChoice } from '@/engine/archive-choice';
import { boundStore } from '@/ui/bound-store';

export interface FolderPlace {
  driveId: string;
  /** Without a slash at either end; empty for the drive itself. */
  path: string;
}

const folders = z.array(z.object({ driveId: z.string().max(100), path: z.string().max(4000) })).max(200);

/** Of the archive. */
export const usePinnedFolders = boundStore(
  archiveChoice<{ folders: FolderPlace[] }>('folders', z.object({ folders }), { folders: [] }),
);

const isSame = (a: FolderPlace, b: FolderPlace): boolean => a.driveId === b.driveId && a.path === b.path;

export const isPinned = (pinned: readonly FolderPlace[], folder: FolderPlace): boolean =>
  pinned.some((one) => isSame(one, folder));

export const pinFolder = (folder: FolderPlace, on: boolean): void =>
  usePinnedFolders.setState(({ folders }) => {
    const others = folders.filter((one) => !isSame(one, folder));
    return { folders: on ? [...others, folder] : others };
  });
