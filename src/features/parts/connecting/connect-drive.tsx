'use client';

// Connecting a drive: a folder picked or dropped is recognised, looked through at once, and given a name.

import { App, Button, Input, type InputRef, Modal } from 'antd';
import { useRouter } from 'next/navigation';
import { useEffect, useRef, useState } from 'react';
import { create } from 'zustand';
import { isPhotoName, isSidecarName } from '@/core/formats/containers/formats';
import type { DriveRecord } from '@/storage/catalog/records';
import { type Folder, type Recognised, accessTo, driveOf } from '@/storage/connections/connections';
import { ListedDrive } from '@/storage/drives/listed-drive';
import { bytes, photos, plural } from '@/ui/format';
import { DRIVE_NAME_LENGTH } from '@/storage/archive/archive-files';
import { session } from '@/engine/session';
import { whichCatalog } from '@/engine/which-catalog';
import { useSession } from '@/features/parts/session/use-session';
import { askForStore } from './asked-store';
import { browseFolders } from './folder-browser';

/** Take in, with a source chosen. */
export const takeInAddress = (sourceId: string): string => `/take-in?from=${encodeURIComponent(sourceId)}`;

type Question = {
  folder: Folder;
  access: DriveRecord['access'];
  recognised: Extract<Recognised, { state: 'new' | 'clone' | 'lost-mark' | 'around' }>;
};

const useQuestion = create<{ question: Question | null }>(() => ({ question: null }));

const READ_ONLY =
  'This browser gives read-only access, so what you enter waits in the outbox until the drive is connected in one that may write.';

export interface Say {
  info: (text: string) => unknown;
  warning: (text: string) => unknown;
  error: (text: string) => unknown;
}

/**
 * Takes a folder the person offered as far as it can without asking; asks only for a name, or which of two drives it
 * is.
 */
export async function offerFolder(folder: Folder, say: Say): Promise<void> {
  try {
    const access = await accessTo(folder);
    const recognised = await session.drives.recognise(folder);
    if (
      recognised.state === 'new' ||
      recognised.state === 'clone' ||
      recognised.state === 'lost-mark' ||
      recognised.state === 'around'
    ) {
      useQuestion.setState({ question: { folder, access, recognised } });
      return;
    }
    if (recognised.state === 'inside')
      return void say.warning(
        `This folder lies in the drive “${recognised.record.name}”, at ${recognised.path}: its photos are in the catalog with that drive. It was not connected a second time.`,
      );
    if (recognised.state === 'strange-mark')
      return void say.warning(
        'The mark of this folder (_wembo/drive.json) cannot be read: it is damaged, or from a later version of Wembo. It was not connected, and nothing in it was changed.',
      );
    if (access === 'read') say.warning(READ_ONLY);
    if (recognised.state === 'returning') {
      say.info(`This is the drive “${recognised.name}”. Its photos, sidecars and checks are being read back.`);
      await session.drives.addDrive(folder, recognised, access);
    } else {
      say.info(returnedWords(recognised, folder));
      await session.drives.returnDrive(recognised.record.id, folder);
    }
  } catch (error) {
    say.error(`The folder could not be connected: ${error instanceof Error ? error.message : String(error)}`);
  }
}

function returnedWords(
  { state, record }: Extract<Recognised, { state: 'known-here' | 'known-moved' }>,
  folder: Folder,
): string {
  const isNewWay = 'served' in folder && !record.served;
  const way = isNewWay ? ' From now on it is reached through this machine.' : '';
  return state === 'known-here'
    ? `“${record.name}” is connected already; it is scanned for changes.${way}`
    : `“${record.name}” is back.${way}`;
}

/** Lets the person choose a folder: on this machine where the host knows this page, else by the browser. */
export async function pickFolder(mode: 'read' | 'readwrite' = 'readwrite'): Promise<Folder | null> {
  const { host } = session;
  const chosen = host ? await browseFolders(host, mode === 'readwrite') : 'by-browser';
  if (chosen === 'by-browser') return pickByBrowser(mode);
  if (chosen === 'store') {
    askForStore();
    return null;
  }
  return chosen && host && { served: chosen.served, host };
}

/** By the browser's picker or, where it has none, by a folder input. */
async function pickByBrowser(mode: 'read' | 'readwrite'): Promise<Folder | null> {
  if ('showDirectoryPicker' in window) {
    try {
      return { handle: await window.showDirectoryPicker({ mode }) };
    } catch (error) {
      if (error instanceof DOMException && error.name === 'AbortError') return null;
      throw error;
    }
  }
  return new Promise((resolve) => {
    const input = document.createElement('input');
    input.type = 'file';
    input.webkitdirectory = true;
    input.setAttribute('aria-label', 'Folder');
    input.style.display = 'none';
    document.body.append(input);
    input.onchange = () => {
      input.remove();
      resolve(input.files && input.files.length > 0 ? { listed: new ListedDrive(input.files) } : null);
    };
    input.oncancel = () => {
      input.remove();
      resolve(null);
    };
    input.click();
  });
}

export function ConnectButton({ primary = false }: { primary?: boolean }) {
  const { message } = App.useApp();
  const connect = async () => {
    const folder = await pickFolder();
    if (folder) await offerFolder(folder, message);
  };
  return (
    <Button type={primary ? 'primary' : 'default'} onClick={() => void connect()}>
      Connect a drive…
    </Button>
  );
}

/** What was named when the server was started is offered by itself, one after the other. */
function useFoldersAtStart(): void {
  const { message } = App.useApp();
  const isAsking = useQuestion(({ question }) => question !== null);
  const offered = useRef(new Set<string>());
  const isOpen = useSession(({ stage }) => stage.state === 'ready');
  useEffect(() => {
    if (!isOpen || isAsking || whichCatalog() === 'demo') return;
    const offer = async () => {
      for (const folder of await session.drives.foldersAtStart()) {
        const id = 'served' in folder ? folder.served.id : '';
        if (offered.current.has(id)) continue;
        offered.current.add(id);
        return offerFolder(folder, message);
      }
    };
    void offer();
  }, [isOpen, isAsking, message]);
}

/** The one question of connecting: what the drive is called. Mounted once, in the frame. */
export function ConnectQuestion() {
  useFoldersAtStart();
  const { question } = useQuestion();
  const close = () => useQuestion.setState({ question: null });
  return (
    <Modal open={question !== null} onCancel={close} footer={null} title="Connect a drive" destroyOnHidden>
      {question && <Ask question={question} onDone={close} />}
    </Modal>
  );
}

function Ask({ question: { folder, access, recognised }, onDone }: { question: Question; onDone: () => void }) {
  const [name, setName] = useState(suggestedName(recognised));
  const found = useFound(folder);
  const { message } = App.useApp();
  const input = useRef<InputRef>(null);
  // the dialog puts the focus on its closing button; the name is what is asked for
  useEffect(() => {
    const timer = setTimeout(() => input.current?.focus({ cursor: 'all' }), 100);
    return () => clearTimeout(timer);
  }, []);
  const add = () => {
    const added =
      recognised.state === 'around'
        ? session.drives.joinDrives(folder, name.trim(), access, recognised.inner)
        : session.drives.addDrive(
            folder,
            { name: name.trim(), over: recognised.state === 'clone' ? recognised.record.id : null },
            access,
          );
    added.catch((error: unknown) => message.error(`The drive could not be marked as yours: ${String(error)}`));
    onDone();
  };
  const router = useRouter();
  const takeIn = async () => {
    const source = await session.drives.addSource(folder);
    onDone();
    router.push(takeInAddress(source.id));
  };
  return (
    <div style={{ display: 'grid', gap: 12 }}>
      <p aria-live="polite">
        {found.done ? 'Found' : 'Looking…'} {photos(found.photos)}, {plural(found.sidecars, 'sidecar')},{' '}
        {plural(found.others, 'other file')} in {plural(found.folders, 'folder')}, {bytes(found.bytes)}
        {found.done ? '.' : ' so far'}
      </p>
      {access === 'read' && <p>{READ_ONLY}</p>}
      {recognised.state === 'clone' && (
        <p>
          This folder bears the mark of “{recognised.record.name}”, which is connected too. One is a clone of the other.
          As another drive it gets a mark of its own, and everything on it is read before it counts.
        </p>
      )}
      {recognised.state === 'lost-mark' && (
        <p>
          “{recognised.record.name}” lay here, and this folder bears no mark: an empty mount point, another disk, or its
          folder <code>_wembo</code> was deleted. Nothing is done with it until you say which.
        </p>
      )}
      {recognised.state === 'around' && (
        <p>
          {recognised.inner.map(({ record, path }) => `“${record.name}” (${path})`).join(', ')}{' '}
          {recognised.inner.length === 1 ? 'lies' : 'lie'} in this folder. No file can lie on two drives: connected,
          this folder takes {recognised.inner.length === 1 ? 'its' : 'their'} place, with all that is known of the
          photos and all that waits to be written.
        </p>
      )}
      <label htmlFor="drive-name">What do you call this drive?</label>
      <Input
        id="drive-name"
        ref={input}
        value={name}
        maxLength={DRIVE_NAME_LENGTH}
        onChange={(event) => setName(event.target.value)}
        onPressEnter={() => name.trim() && add()}
      />
      <div style={{ display: 'flex', gap: 8, justifyContent: 'flex-end' }}>
        {recognised.state !== 'around' && (
          <Button type="text" style={{ marginRight: 'auto' }} onClick={() => void takeIn()}>
            It is a card: take in from it
          </Button>
        )}
        {recognised.state === 'lost-mark' && !('listed' in folder) && (
          <Button
            onClick={() => {
              session.drives
                .markAgain(recognised.record.id, folder)
                .catch((error: unknown) => message.error(`It could not be marked: ${String(error)}`));
              onDone();
            }}
          >
            It is “{recognised.record.name}”: mark it again
          </Button>
        )}
        {recognised.state === 'clone' && (
          <Button
            onClick={() => {
              void session.drives.returnDrive(recognised.record.id, folder);
              onDone();
            }}
          >
            It is “{recognised.record.name}”, in a new place
          </Button>
        )}
        <Button type="primary" disabled={name.trim() === ''} onClick={add}>
          {ADD[recognised.state]}
        </Button>
      </div>
    </div>
  );
}

const ADD = {
  new: 'Connect and catalog',
  clone: 'It is another drive',
  'lost-mark': 'It is another drive',
  around: 'Join and catalog',
};

function suggestedName(recognised: Question['recognised']): string {
  return recognised.state === 'new' || recognised.state === 'around'
    ? recognised.suggestedName
    : `${recognised.record.name} ${recognised.state === 'clone' ? 'copy' : '2'}`;
}

interface Found {
  photos: number;
  sidecars: number;
  others: number;
  folders: number;
  bytes: number;
  done: boolean;
}

/** What lies in the folder, counted while the person reads. */
function useFound(folder: Folder): Found {
  const [found, setFound] = useState<Found>({ photos: 0, sidecars: 0, others: 0, folders: 0, bytes: 0, done: false });
  useEffect(() => {
    const stop = new AbortController();
    const look = async () => {
      const sum: Found = { photos: 0, sidecars: 0, others: 0, folders: 0, bytes: 0, done: false };
      const folders = new Set<string>();
      const drive = driveOf(folder, 'offered');
      for await (const { path, sizeBytes } of drive.list({ signal: stop.signal })) {
        if (isPhotoName(path)) sum.photos += 1;
        else if (isSidecarName(path)) sum.sidecars += 1;
        else sum.others += 1;
        sum.bytes += sizeBytes;
        folders.add(path.slice(0, path.lastIndexOf('/') + 1));
        sum.folders = folders.size;
        if ((sum.photos + sum.others) % 100 === 0) setFound({ ...sum });
      }
      setFound({ ...sum, done: true });
    };
    look().catch(() => undefined);
    return () => stop.abort();
  }, [folder]);
  return found;
}
