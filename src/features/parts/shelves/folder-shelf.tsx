'use client';

// The folders of all drives, away ones too, as a tree: a click searches in one, with all that is below it or by itself.

import { Checkbox, Tree } from 'antd';
import { type Key } from 'react';
import { create } from 'zustand';
import { z } from 'zod';
import { nameIn } from '@/core/names/file-names';
import { folderValue, foldersAbove } from '@/core/query/folder-value';
import { quoted, termOf, withTerm } from '@/core/query/write-scope';
import type { FolderCount } from '@/core/search/folder-tree';
import { useLive } from '@/storage/catalog/live';
import { session } from '@/engine/session';
import { count } from '@/ui/format';
import { keptChoice } from '@/ui/kept-choice';
import { useScope } from '@/features/parts/search/use-scope';
import { PHOTOS_DRAGGED, draggedPhotos } from '@/features/parts/selection/dragged-photos';
import { useAsked } from '@/features/parts/session/use-asked';
import { useSession } from '@/features/parts/session/use-session';
import { FolderActs, offerMove } from './folder-acts';
import { FolderDialog } from './folder-dialog';
import { usePinnedFolders } from './pinned-folders';
import { Shelf, useShelfOpen } from './shelf';
import styles from './shelves.module.css';

const useFolderChoice = keptChoice<{ withBelow: boolean }>('wembo-folders', z.object({ withBelow: z.boolean() }), {
  withBelow: true,
});

/** Folders that are open in the tree, as long as the page. */
const useOpenFolders = create<{ open: string[] }>(() => ({ open: [] }));

interface FolderNode {
  key: string;
  folder: FolderCount;
  isLeaf: boolean;
  children?: FolderNode[];
}

export function FolderShelf() {
  const isOpen = useShelfOpen('folders');
  return (
    <Shelf name="folders" title="Folders">
      {isOpen && <FoldersOpen />}
    </Shelf>
  );
}

/** More rows are scrolled. */
const TREE_HEIGHT = 300;
const ROW_HEIGHT = 26;
const TREE_STYLES = {
  root: { background: 'none' },
  itemTitle: { display: 'block' },
} as const;

function FoldersOpen() {
  const { open } = useOpenFolders();
  const { withBelow } = useFolderChoice();
  const pinned = usePinned();
  // of a pinned one, its row in the folder above it says how much is in it
  const wanted = [...new Set([...open, ...pinned.map(({ above }) => above)])];
  const asked = useAsked(wanted.join('\n'), () => session.search.folders(wanted));
  const { scope, setScope } = useScope();
  const chosen = termOf(scope, 'folder');
  const answer = asked?.answer ?? {};
  const nodes = nodesIn('', answer, new Set(open));
  const away = useAwayDrives();
  const counted = (folder?: FolderCount) => count((withBelow ? folder?.below : folder?.own) ?? 0);
  const choose = (value: string) =>
    setScope((now) => withTerm(now, 'folder', chosen === value ? null : `${withBelow ? '' : '='}${quoted(value)}`));
  const setBelow = (below: boolean) => {
    useFolderChoice.setState({ withBelow: below });
    if (chosen?.includes('/')) setScope((now) => withTerm(now, 'folder', `${below ? '' : '='}${quoted(chosen)}`));
  };
  if (asked && nodes.length === 0 && pinned.length === 0)
    return <p className="quiet">No photo lies in a folder yet.</p>;
  const dropOn = (value: string) => ({
    onDragOver: (event: React.DragEvent) => {
      if (event.dataTransfer.types.includes(PHOTOS_DRAGGED)) event.preventDefault();
    },
    onDrop: (event: React.DragEvent) => {
      event.preventDefault();
      const dragged = draggedPhotos(event.dataTransfer);
      if (dragged.length > 0) void offerMove(value, dragged);
    },
  });
  return (
    <>
      {pinned.length > 0 && (
        <div role="group" aria-label="Pinned folders" className={styles.pinned}>
          {pinned.map(({ value, above, name, drive }) => (
            <button
              key={value}
              type="button"
              title={value}
              className={styles.pinnedFolder}
              aria-pressed={chosen === value}
              onClick={() => choose(value)}
              {...dropOn(value)}
            >
              <span className={styles.folderName}>
                {name} {name !== drive && <span className={styles.pinnedDrive}>{drive}</span>}
              </span>
              <span className={styles.shelfCount}>{counted(answer[above]?.find((one) => one.value === value))}</span>
            </button>
          ))}
        </div>
      )}
      <Tree<FolderNode>
        aria-label="Folders"
        className={styles.folders}
        styles={TREE_STYLES}
        blockNode
        height={TREE_HEIGHT}
        itemHeight={ROW_HEIGHT}
        treeData={nodes}
        expandedKeys={open}
        selectedKeys={chosen === null ? [] : [chosen]}
        onExpand={(keys: Key[]) => useOpenFolders.setState({ open: keys.map(String) })}
        onSelect={(_, { node }) => choose(node.key)}
        titleRender={({ folder }) => (
          <span className={styles.folder} title={folder.value} {...dropOn(folder.value)}>
            <span className={styles.folderName}>{folder.name}</span>
            {away.has(folder.value) && <span className={styles.shelfRemark}>away</span>}
            <span className={styles.shelfCount}>{counted(folder)}</span>
          </span>
        )}
      />
      <div className={styles.folderChoice}>
        <Checkbox checked={withBelow} onChange={({ target }) => setBelow(target.checked)}>
          with what is below
        </Checkbox>
      </div>
      {chosen?.includes(':/') && <FolderActs value={chosen} />}
      <FolderDialog />
    </>
  );
}

function nodesIn(parent: string, answer: Record<string, FolderCount[]>, open: ReadonlySet<string>): FolderNode[] {
  return (answer[parent] ?? []).map((folder) => ({
    key: folder.value,
    folder,
    isLeaf: !folder.hasFolders,
    ...(open.has(folder.value) && answer[folder.value] && { children: nodesIn(folder.value, answer, open) }),
  }));
}

/** As the tree calls them. */
function useAwayDrives(): ReadonlySet<string> {
  const drives = useLive(() => session.db.drives.toArray()) ?? [];
  const connections = useSession((state) => state.connections);
  return new Set(drives.filter(({ id }) => connections[id]?.state !== 'connected').map(({ name }) => `${name}:/`));
}

/** As the tree calls them, each with the folder above it. */
function usePinned(): { value: string; above: string; name: string; drive: string }[] {
  const { folders } = usePinnedFolders();
  const drives = useLive(() => session.db.drives.toArray()) ?? [];
  return folders.flatMap(({ driveId, path }) => {
    const drive = drives.find(({ id }) => id === driveId)?.name;
    if (drive === undefined) return [];
    const above = foldersAbove(path)[1];
    return {
      name: path === '' ? drive : nameIn(path),
      drive,
      value: folderValue({ drive, path }),
      above: above === undefined ? '' : folderValue({ drive, path: above }),
    };
  });
}
