'use client';

import { App } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { usePathname, useRouter } from 'next/navigation';
import { isPhotoName } from '@/core/formats/containers/formats';
import { isTrackName } from '@/core/locate/tracks/read-track';
import { ListedDrive } from '@/storage/drives/listed-drive';
import { isMapFile, takeOwnMap } from '@/features/parts/map/own-map';
import { addTracks } from '@/features/parts/connecting/add-tracks';
import { offerFolder, takeInAddress } from '@/features/parts/connecting/connect-drive';
import { session } from '@/engine/session';
import { whichCatalog } from '@/engine/which-catalog';
import styles from './frame.module.css';

/** By their names; on the map whatever files are dropped, since tables and plain JSON can be tracks. */
const areTracks = (files: readonly File[]) =>
  files.length > 0 && files.every(({ name }) => isTrackName(name) || location.pathname === '/locate');
const hasFolder = (event: DragEvent) =>
  [...(event.dataTransfer?.items ?? [])].some((item) => item.webkitGetAsEntry()?.isDirectory ?? false);
const carriesFiles = (event: DragEvent) => event.dataTransfer?.types.includes('Files') ?? false;

type Handles = readonly (Promise<FileSystemHandle | null> | undefined)[];

/** A folder dropped on the window is a drive to connect; photos, and in Take in a folder, are to be taken in. */
export function DropTarget() {
  const [over, setOver] = useState(false);
  const { message } = App.useApp();
  const say = useRef(message);
  const router = useRouter();
  const go = useRef(router.push);
  const path = usePathname();
  useEffect(() => {
    const enter = (event: DragEvent) => {
      if (!carriesFiles(event)) return;
      event.preventDefault();
      setOver(true);
    };
    const leave = (event: DragEvent) => event.relatedTarget === null && setOver(false);
    const drop = (event: DragEvent) => {
      event.preventDefault();
      setOver(false);
      // the handles must be asked for while the event lasts
      const handles = [...(event.dataTransfer?.items ?? [])]
        .filter(({ kind }) => kind === 'file')
        .map((item) => item.getAsFileSystemHandle?.());
      const files = [...(event.dataTransfer?.files ?? [])];
      if (files.length === 1 && files.every(({ name }) => isMapFile(name))) void lay(handles, files);
      else if (areTracks(files) && !hasFolder(event)) void addTracks(files, say.current);
      else if (whichCatalog() === 'demo')
        say.current.warning(
          'This is the demo, and it is kept apart from your own photos. Leave the demo, then drop the folder again.',
        );
      else void (location.pathname === '/take-in' ? takeIn(handles, files) : take(handles, files));
    };
    const lay = async (handles: Handles, [file]: File[]) => {
      const [handle] = await Promise.all(handles);
      const from = handle?.kind === 'file' ? (handle as FileSystemFileHandle) : file;
      if (!from) return;
      await takeOwnMap(from).then(
        () => go.current('/locate'),
        (error: unknown) => say.current.error(error instanceof Error ? error.message : String(error), 8),
      );
    };
    const takeIn = async (handles: Handles, files: File[]) => {
      const folder = (await Promise.all(handles)).find((handle) => handle?.kind === 'directory') as
        FileSystemDirectoryHandle | undefined;
      const source = await session.drives.addSource(
        folder
          ? { handle: folder }
          : { listed: new ListedDrive(files, files.length === 1 ? files[0]?.name : `${files.length} dropped files`) },
      );
      go.current(takeInAddress(source.id));
    };
    const take = async (handles: Handles, files: File[]) => {
      const folders = (await Promise.all(handles)).filter(
        (handle) => handle?.kind === 'directory',
      ) as FileSystemDirectoryHandle[];
      if (folders.length === 0 && files.some(({ name }) => isPhotoName(name))) return takeIn(handles, files);
      if (folders.length === 0)
        say.current.warning(
          'Drop a folder: a drive, or any folder with photos. In a browser that cannot take dropped folders, use “Connect a drive” in Overview.',
        );
      for (const handle of folders) await offerFolder({ handle }, say.current);
    };
    window.addEventListener('dragenter', enter);
    window.addEventListener('dragover', enter);
    window.addEventListener('dragleave', leave);
    window.addEventListener('drop', drop);
    return () => {
      window.removeEventListener('dragenter', enter);
      window.removeEventListener('dragover', enter);
      window.removeEventListener('dragleave', leave);
      window.removeEventListener('drop', drop);
    };
  }, []);
  return over ? (
    <div className={styles.drop}>
      {path === '/take-in'
        ? 'Drop a card, a folder or photos to take in from'
        : path === '/locate'
          ? 'Drop tracks here, or a folder to connect it as a drive'
          : 'Drop a folder to connect it as a drive, or photos to take in'}
    </div>
  ) : null;
}
