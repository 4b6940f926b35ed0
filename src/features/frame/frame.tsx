'use client';

// The frame: the rail of places at the left, the scope line and what runs across the top, and the drop target for
// folders over it all.

import { App, Button, ConfigProvider, Modal, Popover, Tooltip } from 'antd';
import Link from 'next/link';
import { usePathname, useRouter } from 'next/navigation';
import { type ReactNode, useEffect, useState } from 'react';
import { changeWords } from '@/messages/changes';
import { firstUndone, lastDone, toWrite } from '@/storage/catalog/changes';
import { useLive } from '@/storage/catalog/live';
import { count, plural } from '@/ui/format';
import { useDark } from '@/ui/dark';
import { useKeys } from '@/ui/keys';
import { darkTheme, lightTheme } from '@/ui/theme';
import { KitsDrawer } from '@/features/parts/describing/kit-drawer';
import { useKeepWords } from '@/features/parts/describing/words';
import { SetQuestionCard } from '@/features/parts/judging/set-question';
import { RemovalDrawer } from '@/features/parts/judging/removal-plan';
import { RenameDrawer } from '@/features/parts/naming/rename-drawer';
import { GatherCard } from '@/features/parts/collections/gather';
import { RulesDrawer } from '@/features/parts/search-line/rules';
import { SearchLine } from '@/features/parts/search-line/search-line';
import { useKeepCollections } from '@/features/parts/collections/use-collections';
import { useKeepResult } from '@/features/parts/search/use-result';
import { findAddress, useScope } from '@/features/parts/search/use-scope';
import { ConnectQuestion, takeInAddress } from '@/features/parts/connecting/connect-drive';
import { ConnectStore } from '@/features/parts/connecting/connect-store';
import { FolderBrowser } from '@/features/parts/connecting/folder-browser';
import { JobsList, useJobs } from '@/features/parts/jobs/jobs-list';
import { session } from '@/engine/session';
import { whichCatalog } from '@/engine/which-catalog';
import { DropTarget } from './drop-target';
import styles from './frame.module.css';
import {
  DescribeIcon,
  FindIcon,
  LocateIcon,
  MoonIcon,
  OverviewIcon,
  RedoIcon,
  SafekeepIcon,
  SendOutIcon,
  SiftIcon,
  SunIcon,
  TakeInIcon,
  UndoIcon,
} from './icons';
import { KeysCard } from './keys-card';
import { PracticePanel } from './practice-panel';
import { Tour } from './tour';
import { useSession } from '@/features/parts/session/use-session';

export function ApplicationFrame({ children }: { children: ReactNode }) {
  const [dark, setDark] = useTheme();
  return (
    <ConfigProvider theme={dark ? darkTheme : lightTheme}>
      <App component={false} message={{ maxCount: 3 }}>
        <Room dark={dark} onDark={setDark}>
          {children}
        </Room>
      </App>
    </ConfigProvider>
  );
}

function Room({ children, dark, onDark }: { children: ReactNode; dark: boolean; onDark: (dark: boolean) => void }) {
  const stage = useSession((state) => state.stage);
  const { scope } = useScope();
  const notice = useSession((state) => state.notice);
  const { message } = App.useApp();
  const [demo, setDemo] = useState(false);
  useEffect(() => {
    void session.open();
    setDemo(whichCatalog() === 'demo');
  }, []);
  useEffect(() => {
    if (notice) message.error(notice.text, 8);
  }, [notice, message]);
  useKeys({ 'Ctrl+a': () => undefined }); // selects photos where there are some, and never the words of the screen
  useKeepResult(scope);
  useKeepWords();
  useKeepCollections();
  useArrivals();
  if (stage.state === 'outdated') return <Outdated />;
  return (
    <div className={styles.frame}>
      <Rail scope={scope} />
      <header className={styles.top}>
        <SearchLine />
        <Running />
        <UndoButtons />
        {demo && <PracticePanel />}
        <Button
          type="text"
          onClick={() => onDark(!dark)}
          aria-label={dark ? 'Light' : 'Dark'}
          icon={dark ? <SunIcon /> : <MoonIcon />}
        />
        <Keys />
      </header>
      <div className={styles.place}>
        {stage.state === 'failed' ? (
          <p className={styles.failed}>
            The catalog in this browser could not be opened: {stage.problem}. Your files on the drives are untouched.
          </p>
        ) : (
          children
        )}
      </div>
      <DropTarget />
      <ConnectQuestion />
      <FolderBrowser />
      <ConnectStore />
      <SetQuestionCard />
      <KitsDrawer />
      <GatherCard />
      <RenameDrawer />
      <RemovalDrawer />
      <RulesDrawer />
      {demo && <Tour />}
    </div>
  );
}

/**
 * A newer version has opened the catalog in another tab: this page has stopped, so that nothing is written in the old
 * form.
 */
function Outdated() {
  return (
    <main className={styles.outdated}>
      <h1>A newer version of Wembo is open in another tab</h1>
      <p>
        This tab has stopped: it reads and writes nothing any more, neither in the catalog nor on your drives. What you
        entered here before is kept. Reload it, and it is the new version too.
      </p>
      <Button type="primary" autoFocus onClick={() => window.location.reload()}>
        Reload this tab
      </Button>
    </main>
  );
}

/** A card that appears opens the sheet. */
function useArrivals(): void {
  const arrived = useSession((state) => state.arrived);
  const router = useRouter();
  useEffect(() => {
    if (arrived) router.push(takeInAddress(arrived.sourceId));
  }, [arrived, router]);
}

const PLACES = [
  { name: 'Overview', path: '/', icon: <OverviewIcon /> },
  { name: 'Take in', path: '/take-in', icon: <TakeInIcon /> },
  { name: 'Sift', path: '/sift', icon: <SiftIcon /> },
  { name: 'Describe', path: '/describe', icon: <DescribeIcon /> },
  { name: 'Locate', path: '/locate', icon: <LocateIcon /> },
  { name: 'Find', path: '/find', icon: <FindIcon /> },
  { name: 'Safekeep', path: '/safekeep', icon: <SafekeepIcon /> },
  { name: 'Send out', path: '/send-out', icon: <SendOutIcon /> },
];

function Rail({ scope }: { scope: string }) {
  const path = usePathname();
  return (
    <nav className={styles.rail} aria-label="Places">
      <span className={styles.sign} aria-hidden>
        W
      </span>
      {PLACES.map((place) => (
        <Link
          key={place.path}
          href={
            place.path === '/find'
              ? findAddress(scope)
              : `${place.path}${scope ? `?q=${encodeURIComponent(scope)}` : ''}`
          }
          className={styles.railPlace}
          aria-current={path === place.path ? 'page' : undefined}
        >
          {place.icon}
          <span>{place.name}</span>
        </Link>
      ))}
    </nav>
  );
}

function Running() {
  const jobs = useJobs();
  const connections = useSession((state) => state.connections);
  const outbox =
    useLive(() => toWrite(session.db, (driveId) => connections[driveId]?.state === 'connected'), [connections]) ?? 0;
  const open = jobs.filter(({ state }) => state === 'running' || state === 'paused');
  const waiting = jobs.filter(({ state }) => state === 'interrupted' || state === 'failed');
  const drawing = useSession((state) => state.drawing?.state === 'drawing');
  const text =
    open.length > 0
      ? `${open.length} running`
      : waiting.length > 0
        ? `${waiting.length} to resume`
        : drawing
          ? 'drawing previews'
          : 'nothing running';
  return (
    <Popover
      trigger="click"
      placement="bottomRight"
      content={
        <div className={styles.jobs}>
          <DrawingLine />
          <JobsList jobs={jobs.slice(0, 8)} none="Nothing has run yet." />
        </div>
      }
    >
      <Button type="text" className={styles.running} data-busy={open.length > 0 || drawing}>
        <span className={styles.pulse} aria-hidden />
        {text}
        {outbox > 0 && (
          <span className={styles.outbox} title="Changes not yet written on their drives">
            {count(outbox)} to write
          </span>
        )}
      </Button>
    </Popover>
  );
}

/** Previews that are drawn behind the screens, and their pause. */
function DrawingLine() {
  const drawing = useSession((state) => state.drawing);
  if (!drawing) return null;
  const { left, state } = drawing;
  return (
    <p className={styles.drawing} role="status">
      <span>
        {plural(left, 'preview')} to draw
        {state === 'paused' ? ': paused' : state === 'waits-for-job' ? ': waits for the job that is running' : ''}
      </span>
      {state === 'paused' ? (
        <Button size="small" onClick={() => session.previewDrawing.goOn()}>
          Go on
        </Button>
      ) : (
        <Button size="small" onClick={() => session.previewDrawing.pause()}>
          Pause
        </Button>
      )}
    </p>
  );
}

function UndoButtons() {
  const { message } = App.useApp();
  const last = useLive(() => lastDone(session.db));
  const next = useLive(() => firstUndone(session.db));
  const undo = async () => {
    const change = await session.undo();
    if (change) message.info(`Undone: ${changeWords(change)}`);
  };
  const redo = async () => {
    const change = await session.redo();
    if (change) message.info(`Done again: ${changeWords(change)}`);
  };
  useKeys({ 'Ctrl+z': () => void undo(), 'Ctrl+Shift+z': () => void redo() });
  return (
    <>
      <Tooltip title={last ? `Undo: ${changeWords(last.change)}` : 'Nothing to undo'}>
        <Button type="text" disabled={!last} onClick={() => void undo()} aria-label="Undo" icon={<UndoIcon />} />
      </Tooltip>
      <Tooltip title={next ? `Redo: ${changeWords(next.change)}` : 'Nothing to redo'}>
        <Button type="text" disabled={!next} onClick={() => void redo()} aria-label="Redo" icon={<RedoIcon />} />
      </Tooltip>
    </>
  );
}

function Keys() {
  const [open, setOpen] = useState(false);
  useKeys({ '?': () => setOpen(true) });
  return (
    <>
      <Button type="text" onClick={() => setOpen(true)} aria-label="All keys">
        ?
      </Button>
      <Modal open={open} onCancel={() => setOpen(false)} footer={null} title="All keys">
        <KeysCard />
      </Modal>
    </>
  );
}

function useTheme(): [boolean, (dark: boolean) => void] {
  const { dark } = useDark();
  useEffect(() => {
    document.documentElement.dataset.theme = dark ? 'dark' : 'light';
  }, [dark]);
  return [dark, (next) => useDark.setState({ dark: next })];
}
