'use client';

// Choosing a folder of this machine, as the host sees it: its volumes, folders chosen before, or a path that is typed.
// Only folders are listed here; what lies in one is read when it is chosen.

import { Alert, Button, Input, Modal, Tree } from 'antd';
import { type Key, useEffect, useState } from 'react';
import { create } from 'zustand';
import { DriveError, isInFolder } from '@/storage/drives/drive';
import type { HostClient } from '@/storage/host/host-client';
import type { BrowsedFolder, HostAnswers, ServedFolder, Volume } from '@/storage/host/protocol';
import { bytes, photos, plural } from '@/ui/format';
import styles from './connecting.module.css';

/** A folder that was chosen; the browser's own picker; a store in its place; or none. */
export type ChosenFolder = { served: ServedFolder } | 'by-browser' | 'store' | null;

interface Asking {
  host: HostClient;
  /** Whether it is asked for a drive, which may be a store, too. */
  isDrive: boolean;
  answer: (chosen: ChosenFolder) => void;
}

const useAsking = create<{ asking: Asking | null }>(() => ({ asking: null }));

export const browseFolders = (host: HostClient, isDrive: boolean): Promise<ChosenFolder> =>
  new Promise((answer) => useAsking.setState({ asking: { host, isDrive, answer } }));

/** Mounted once, in the frame. */
export function FolderBrowser() {
  const { asking } = useAsking();
  const close = (chosen: ChosenFolder) => {
    asking?.answer(chosen);
    useAsking.setState({ asking: null });
  };
  return (
    <Modal
      open={asking !== null}
      onCancel={() => close(null)}
      footer={null}
      width={680}
      title="A folder of this machine"
      destroyOnHidden
    >
      {asking && <Browse host={asking.host} isDrive={asking.isDrive} onDone={close} />}
    </Modal>
  );
}

interface FolderNode {
  key: string;
  title: string;
  isLeaf?: boolean;
  children?: FolderNode[];
}

type Start = HostAnswers['browse'] & { served: ServedFolder[] };

async function beginning(host: HostClient): Promise<Start> {
  const [first, served] = await Promise.all([host.ask('browse', { path: null }), host.ask('folders', {})]);
  return { ...first, served: served.filter(({ kind }) => kind === 'folder') };
}

/** The tree as far as it was opened, and the folder that is looked at. */
function useBrowsing(host: HostClient) {
  const [start, setStart] = useState<Start | null>(null);
  const [roots, setRoots] = useState<FolderNode[]>([]);
  const [open, setOpen] = useState<Key[]>([]);
  const [at, setAt] = useState<BrowsedFolder | null>(null);
  const [typed, setTyped] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => {
    beginning(host)
      .then((found) => {
        setStart(found);
        setRoots(rootsOf(found, found.served));
      })
      .catch((error: unknown) => setProblem(problemWords(error)));
  }, [host]);

  const look = async (path: string): Promise<BrowsedFolder | null> => {
    try {
      const found = (await host.ask('browse', { path })).at;
      setProblem(null);
      return found;
    } catch (error) {
      setProblem(problemWords(error));
      return null;
    }
  };
  const choose = async (path: string) => {
    const found = await look(path);
    if (!found) return;
    setAt(found);
    setTyped(found.path);
  };
  const load = async ({ key }: FolderNode) => {
    const found = await look(key);
    if (found) setRoots((now) => withChildren(now, key, found));
  };
  /** A path that was typed becomes a beginning of its own where none of the beginnings leads to it. */
  const go = async () => {
    const found = await look(typed.trim());
    if (!found) return;
    setAt(found);
    if (!start || roots.some(({ key }) => key === found.path)) return;
    setRoots((now) => withChildren([{ key: found.path, title: found.path }, ...now], found.path, found));
    setOpen((now) => [...now, found.path]);
  };
  const makeFolder = async (name: string) => {
    if (!at) return;
    try {
      const { path } = await host.ask('makeFolderAt', { path: at.path, name });
      const above = await look(at.path);
      if (above) setRoots((now) => withChildren(now, above.path, above));
      await choose(path);
    } catch (error) {
      setProblem(problemWords(error));
    }
  };
  /** The server may not read or write there any more; a drive that lies there is away then. */
  const forget = async (folder: string) => {
    await host.ask('forget', { folder });
    const found = await beginning(host);
    setStart(found);
    setRoots(rootsOf(found, found.served));
  };
  return {
    forget,
    start,
    roots,
    open,
    setOpen,
    at,
    typed,
    setTyped,
    problem,
    setProblem,
    choose,
    load,
    go,
    makeFolder,
  };
}

interface BrowseProps extends Pick<Asking, 'host' | 'isDrive'> {
  onDone: (chosen: ChosenFolder) => void;
}

function Browse({ host, isDrive, onDone }: BrowseProps) {
  const browsing = useBrowsing(host);
  const { start, roots, open, setOpen, at, typed, setTyped, problem, setProblem, choose, load, go } = browsing;
  const done = async () => {
    if (!at) return;
    try {
      onDone({ served: await host.ask('serve', { path: at.path }) });
    } catch (error) {
      setProblem(problemWords(error));
    }
  };
  return (
    <div className={styles.browser}>
      <Input.Search
        aria-label="Path of a folder"
        placeholder="Type a path, or choose below"
        enterButton="Go"
        value={typed}
        onChange={({ target }) => setTyped(target.value)}
        onSearch={() => void go()}
      />
      {problem && <Alert type="warning" title={problem} showIcon={false} />}
      <div className={styles.tree}>
        {!start && !problem && <p className="quiet">Looking at the disks…</p>}
        {roots.length > 0 && (
          <Tree<FolderNode>
            aria-label="Folders"
            blockNode
            height={320}
            treeData={roots}
            expandedKeys={open}
            selectedKeys={at ? [at.path] : []}
            onExpand={setOpen}
            loadData={load}
            onSelect={(_, { node }) => void choose(node.key)}
            onDoubleClick={(_, { key }) =>
              setOpen((now) => (now.includes(key) ? now.filter((one) => one !== key) : [...now, key]))
            }
          />
        )}
      </div>
      <FolderFacts
        at={at}
        volumes={start?.volumes ?? []}
        served={start?.served.find(({ path }) => path === at?.path)?.id ?? null}
        onMake={browsing.makeFolder}
        onForget={browsing.forget}
      />
      <div className={styles.foot}>
        <Button type="text" onClick={() => onDone('by-browser')}>
          By the browser’s own picker…
        </Button>
        {isDrive && (
          <Button type="text" onClick={() => onDone('store')}>
            A store elsewhere…
          </Button>
        )}
        <span className={styles.push} />
        <Button onClick={() => onDone(null)}>Cancel</Button>
        <Button type="primary" disabled={!at} onClick={() => void done()}>
          Choose this folder
        </Button>
      </div>
    </div>
  );
}

/** What is known of the folder before it is chosen. */
function FolderFacts({
  at,
  volumes,
  served,
  onMake,
  onForget,
}: {
  at: BrowsedFolder | null;
  volumes: readonly Volume[];
  /** The server’s id of it, where it was chosen before. */
  served: string | null;
  onMake: (name: string) => Promise<void>;
  onForget: (folder: string) => Promise<void>;
}) {
  const [name, setName] = useState<string | null>(null);
  if (!at)
    return (
      <p className="quiet">
        The server of this application reads and writes in the folder you choose, and in no other.
      </p>
    );
  const volume = volumeFor(at.path, volumes);
  const make = async () => {
    if (name?.trim()) await onMake(name.trim());
    setName(null);
  };
  return (
    <div className={styles.facts} aria-live="polite">
      <p>
        <span className="mono">{at.path}</span>
        {at.drive !== null && <> is the drive “{at.drive}”</>}
      </p>
      <p className="quiet">
        {[
          at.photos > 0 && `${photos(at.photos)} right in it`,
          at.folders.length + at.more > 0 && plural(at.folders.length + at.more, 'folder'),
          volume && `${bytes(volume.freeBytes)} of ${bytes(volume.sizeBytes)} free`,
          volume?.fileSystem,
          !at.isWritable && 'can be read only',
        ]
          .filter(Boolean)
          .join(' · ')}
      </p>
      {served !== null && (
        <Button size="small" type="text" onClick={() => void onForget(served)}>
          Serve it no longer
        </Button>
      )}
      {at.isWritable &&
        (name === null ? (
          <Button size="small" onClick={() => setName('')}>
            New folder in it…
          </Button>
        ) : (
          <Input
            size="small"
            autoFocus
            aria-label="Name of the new folder"
            value={name}
            maxLength={200}
            onChange={({ target }) => setName(target.value)}
            onPressEnter={() => void make()}
            onBlur={() => void make()}
          />
        ))}
    </div>
  );
}

function rootsOf({ volumes, home }: HostAnswers['browse'], served: readonly ServedFolder[]): FolderNode[] {
  const chosen = served
    .filter(({ isThere }) => isThere)
    .map(({ path }) => ({ key: path, title: `${path} · chosen before` }));
  const disks = volumes.map(({ path, label, sizeBytes, freeBytes, isRemovable }) => ({
    key: path,
    title: `${label ?? path}${label ? ` · ${path}` : ''} · ${bytes(freeBytes)} of ${bytes(sizeBytes)} free${isRemovable ? ' · removable' : ''}`,
  }));
  const found = new Map([{ key: home, title: `Home · ${home}` }, ...disks, ...chosen].map((node) => [node.key, node]));
  return [...found.values()];
}

function withChildren(nodes: readonly FolderNode[], key: string, found: BrowsedFolder): FolderNode[] {
  const separator = found.path.includes('\\') ? '\\' : '/';
  const base = found.path.endsWith(separator) ? found.path : found.path + separator;
  const children = found.folders.map((name) => ({ key: base + name, title: name }));
  return nodes.map((node) =>
    node.key === key
      ? { ...node, children, isLeaf: children.length === 0 }
      : { ...node, ...(node.children && { children: withChildren(node.children, key, found) }) },
  );
}

const volumeFor = (path: string, volumes: readonly Volume[]): Volume | undefined =>
  volumes.filter((volume) => isInFolder(path, [volume.path])).sort((a, b) => b.path.length - a.path.length)[0];

function problemWords(error: unknown): string {
  const problem = error instanceof DriveError ? error.problem : 'failed';
  if (problem === 'not-found') return 'There is no such folder.';
  if (problem === 'exists') return 'There is something of that name already.';
  if (problem === 'bad-name') return 'Type the whole path, from its beginning; a name has no / in it.';
  if (problem === 'no-permission') return 'The server may not look there.';
  if (problem === 'host-closed')
    return 'The server does not know this page any more: open Wembo by the link that it printed at its start.';
  return 'The server does not answer. Is it still running?';
}
