'use client';

// Photos into a folder, a folder to another name, place or drive, a new folder: each says what it would do before it is
// done. Within a drive it is done at once, and undo takes it back; to another drive it is a job, which copies and verifies
// before anything leaves.

import { App, Button, Input, Modal, Radio, Select } from 'antd';
import { useState } from 'react';
import { folderValue } from '@/core/query/folder-value';
import { quoted, termOf, withTerm } from '@/core/query/write-scope';
import { folderPlanSentences, folderProblemSentence, overPlanSentences } from '@/messages/folders';
import { folderRefusal, photosBelow, planMoveFolder, planMoveInto } from '@/storage/catalog/folder-moves';
import { type OverOrder, drivesOf, planOver } from '@/storage/catalog/going-over';
import { useLive } from '@/storage/catalog/live';
import type { DriveRecord } from '@/storage/catalog/records';
import { session } from '@/engine/session';
import { bytes, count, photos } from '@/ui/format';
import { useScope } from '@/features/parts/search/use-scope';
import { useAsked } from '@/features/parts/session/use-asked';
import { useSession } from '@/features/parts/session/use-session';
import { useFolderAct } from './folder-acts';
import { pinFolder } from './pinned-folders';
import styles from './shelves.module.css';

/** Mounted once, beside the tree. */
export function FolderDialog() {
  const { act } = useFolderAct();
  const drives = useLive(() => session.db.drives.toArray()) ?? [];
  const drive = drives.find(({ id }) => id === act?.driveId);
  const close = () => useFolderAct.setState({ act: null });
  if (!act || !drive) return null;
  const titles = {
    into: `Move ${photos(act.photoIds.length)}`,
    folder: `Rename or move ${act.path}`,
    new: `New folder in ${act.path || drive.name}`,
  };
  const form = { drive, drives, path: act.path, onDone: close };
  return (
    <Modal open title={titles[act.kind]} footer={null} onCancel={close}>
      {act.kind === 'into' && <IntoForm {...form} photoIds={act.photoIds} />}
      {act.kind === 'folder' && <FolderForm {...form} />}
      {act.kind === 'new' && <NewForm {...form} />}
    </Modal>
  );
}

interface FormProps {
  drive: DriveRecord;
  drives: DriveRecord[];
  path: string;
  onDone: () => void;
}

const asFolder = (typed: string): string => typed.trim().replace(/^\/+|\/+$/g, '');

/** Never the answer to what was typed before. */
function useAnswer<T>(question: string | null, ask: () => Promise<T>): T | null {
  const asked = useAsked(question, ask);
  return asked?.of === question ? asked.answer : null;
}

function IntoForm({ drive, drives, path, photoIds, onDone }: FormProps & { photoIds: readonly string[] }) {
  const [typed, setTyped] = useState(path);
  const to = asFolder(typed);
  const refusal = folderRefusal(to);
  const plan = useAnswer(refusal ? null : `${drive.id}/${to}`, () => planMoveInto(session.db, photoIds, drive.id, to));
  const over = useGoingOver({ drive, drives, photoIds: plan?.absent ?? [], to: refusal ? null : { from: null, to } });
  const begin = useBegin(onDone);
  const moves = plan?.moves ?? [];
  return (
    <Form
      onDone={onDone}
      label={moves.length === 0 && over.begins ? over.verb : 'Move'}
      onSubmit={plan && (moves.length > 0 || over.begins) ? () => begin(moves, plan.photos, over) : null}
    >
      <PathInput drive={drive} typed={typed} onType={setTyped} />
      <div aria-live="polite">
        {refusal ? (
          <p className={styles.folderProblem}>{folderProblemSentence(refusal)}</p>
        ) : (
          plan && <Sentences lines={folderPlanSentences(plan, drive.id, nameIn(drives))} />
        )}
      </div>
      {over.choice}
    </Form>
  );
}

/** What happens to photos that have no file on the drive. */
type Along = 'stay' | 'copy' | 'move';

interface GoingOverChoice {
  drive: DriveRecord;
  drives: DriveRecord[];
  photoIds: readonly string[];
  /** Where to; `null` while that is not known. */
  to: OverOrder['over'] | null;
}

/** Which of the other drives they come from, whether they are copied or moved, and what that would do. */
function useGoingOver({ drive, drives, photoIds, to }: GoingOverChoice) {
  const connections = useSession((state) => state.connections);
  const [along, setAlong] = useState<Along>('stay');
  const [picked, setPicked] = useState<string | null>(null);
  const found = useAnswer(photoIds.length > 0 ? photoIds.join(' ') : null, () => drivesOf(session.db, photoIds));
  const there = drives.filter(({ id }) => id !== drive.id && found?.has(id) && connections[id]?.state === 'connected');
  const source =
    there.find(({ id }) => id === picked) ??
    [...there].sort((a, b) => (found?.get(b.id) ?? 0) - (found?.get(a.id) ?? 0))[0];
  const order = source && to && { sourceId: source.id, targetId: drive.id, photoIds, over: to };
  const plan = useAnswer(along !== 'stay' && order ? JSON.stringify([order, along]) : null, async () =>
    order ? planOver(session.db, order) : null,
  );
  const begins = along !== 'stay' && order && plan && plan.photoIds.length > 0;
  return {
    begins: begins ? { order: { ...order, photoIds: plan.photoIds }, leaves: along === 'move' } : null,
    verb: along === 'copy' ? 'Copy and verify' : 'Move',
    choice: photoIds.length > 0 && found && (
      <div className={styles.folderOver}>
        {there.length === 0 ? (
          <p>No drive that has them is connected.</p>
        ) : (
          <>
            <Radio.Group
              aria-label="Photos of other drives"
              value={along}
              onChange={({ target }) => setAlong(target.value as Along)}
            >
              <Radio value="stay">leave them there</Radio>
              <Radio value="copy">copy them here</Radio>
              <Radio value="move">move them here</Radio>
            </Radio.Group>
            {along !== 'stay' && (
              <Select
                aria-label="From the drive"
                value={source?.id ?? null}
                onChange={setPicked}
                options={there.map(({ id, name }) => ({
                  value: id,
                  label: `from “${name}” (${count(found.get(id) ?? 0)})`,
                }))}
              />
            )}
          </>
        )}
        {along !== 'stay' && plan && source && (
          <div aria-live="polite">
            <Sentences lines={overPlanSentences(plan, overWords(plan.bytes, along === 'move', source, drive))} />
          </div>
        )}
      </div>
    ),
  };
}

type GoingOverAnswer = ReturnType<typeof useGoingOver>;

/** Does what the form says. */
function useBegin(onDone: () => void) {
  const { message } = App.useApp();
  return async (
    moves: Awaited<ReturnType<typeof planMoveInto>>['moves'],
    moved: number,
    { begins }: Pick<GoingOverAnswer, 'begins'>,
  ) => {
    if (moves.length > 0) {
      await session.change({ kind: 'names', moves, edits: [] });
      message.success(`${photos(moved)} moved; Undo takes it back.`);
    }
    if (begins) {
      const { order, leaves } = begins;
      if (await session.startGoingOver(order, { ...order.over, leaves }))
        message.info(
          `${photos(order.photoIds.length)} ${order.photoIds.length === 1 ? 'is' : 'are'} on the way; Safekeep shows how far.`,
        );
    }
    onDone();
  };
}

function FolderForm({ drive, drives, path, onDone }: FormProps) {
  const [typed, setTyped] = useState(path);
  const [targetId, setTargetId] = useState(drive.id);
  const connections = useSession((state) => state.connections);
  const to = asFolder(typed);
  const isHere = targetId === drive.id;
  const target = drives.find(({ id }) => id === targetId) ?? drive;
  const refusal = folderRefusal(to, isHere ? path : null);
  const plan = useAnswer(isHere && !refusal ? `${drive.id}/${to}` : null, () =>
    planMoveFolder(session.db, drive.id, path, to),
  );
  const [leaves, setLeaves] = useState(true);
  const over = useAnswer(!isHere && !refusal ? JSON.stringify([drive.id, path, targetId, to]) : null, async () => {
    const photoIds = await photosBelow(session.db, drive.id, path);
    const order = { sourceId: drive.id, targetId, photoIds, over: { from: path, to } };
    return { order, plan: await planOver(session.db, order) };
  });
  const { setScope } = useScope();
  const begin = useBegin(() => {
    // the search goes along with its folder
    setScope((now) =>
      isHere && termOf(now, 'folder') === folderValue({ drive: drive.name, path })
        ? withTerm(now, 'folder', quoted(folderValue({ drive: drive.name, path: to })))
        : now,
    );
    onDone();
  });
  const begins =
    over && over.plan.photoIds.length > 0 ? { order: { ...over.order, photoIds: over.plan.photoIds }, leaves } : null;
  const areHere = (...ids: string[]) => ids.every((id) => connections[id]?.state === 'connected');
  const canBegin = isHere ? (plan?.moves.length ?? 0) > 0 : begins !== null;
  return (
    <Form
      onDone={onDone}
      label={isHere || leaves ? 'Move' : 'Copy and verify'}
      onSubmit={canBegin ? () => begin(plan?.moves ?? [], plan?.photos ?? 0, { begins }) : null}
    >
      <label htmlFor="folder-drive">Drive</label>
      <Select
        id="folder-drive"
        value={targetId}
        onChange={setTargetId}
        options={drives
          .filter(({ id, access }) => id === drive.id || (access === 'write' && areHere(id, drive.id)))
          .map(({ id, name }) => ({ value: id, label: name }))}
      />
      <PathInput drive={target} typed={typed} onType={setTyped} />
      {!isHere && (
        <Radio.Group
          aria-label="How it goes"
          value={leaves}
          onChange={({ target: { value } }) => setLeaves(value as boolean)}
        >
          <Radio value={true}>move it there</Radio>
          <Radio value={false}>copy it there</Radio>
        </Radio.Group>
      )}
      <div aria-live="polite">
        {refusal && <p className={styles.folderProblem}>{folderProblemSentence(refusal)}</p>}
        {!refusal && isHere && plan && <Sentences lines={folderPlanSentences(plan, drive.id, nameIn(drives))} />}
        {!refusal && !isHere && over && (
          <Sentences lines={overPlanSentences(over.plan, overWords(over.plan.bytes, leaves, drive, target))} />
        )}
      </div>
    </Form>
  );
}

/** An empty folder has no photo to be seen by: it is pinned, until the person has it otherwise. */
function NewForm({ drive, path, onDone }: FormProps) {
  const [typed, setTyped] = useState(path === '' ? '' : `${path}/`);
  const { message } = App.useApp();
  const to = asFolder(typed);
  const refusal = to === path ? 'no-name' : folderRefusal(to, '');
  const make = async () => {
    try {
      await session.drives.driveNow(drive.id)?.makeFolder(to);
      pinFolder({ driveId: drive.id, path: to }, true);
      message.success(`The folder “${to}” is there, and pinned on top of the tree.`);
      onDone();
    } catch (error) {
      message.error(`The folder was not made: ${error instanceof Error ? error.message : String(error)}`);
    }
  };
  return (
    <Form onDone={onDone} label="Make the folder" onSubmit={refusal ? null : make}>
      <PathInput drive={drive} typed={typed} onType={setTyped} />
      {refusal && refusal !== 'no-name' && (
        <p aria-live="polite" className={styles.folderProblem}>
          {folderProblemSentence(refusal)}
        </p>
      )}
    </Form>
  );
}

interface FormFrameProps {
  label: string;
  /** `null` while there is nothing to do. */
  onSubmit: (() => Promise<void>) | null;
  onDone: () => void;
  children: React.ReactNode;
}

function Form({ label, onSubmit, onDone, children }: FormFrameProps) {
  return (
    <form
      className={styles.folderForm}
      onSubmit={(event) => {
        event.preventDefault();
        void onSubmit?.();
      }}
    >
      {children}
      <div className={styles.folderFoot}>
        <Button onClick={onDone}>Cancel</Button>
        <Button type="primary" htmlType="submit" disabled={!onSubmit}>
          {label}
        </Button>
      </div>
    </form>
  );
}

function PathInput({ drive, typed, onType }: { drive: DriveRecord; typed: string; onType: (typed: string) => void }) {
  return (
    <>
      <label htmlFor="folder-path">Folder on “{drive.name}”, which may be a new one</label>
      <Input
        id="folder-path"
        autoFocus
        className="mono"
        value={typed}
        onChange={({ target }) => onType(target.value)}
      />
    </>
  );
}

const Sentences = ({ lines }: { lines: readonly string[] }) => lines.map((line) => <p key={line}>{line}</p>);

const overWords = (size: number, leaves: boolean, from: DriveRecord, to: DriveRecord) => ({
  leaves,
  from: from.name,
  to: to.name,
  size: bytes(size),
});

const nameIn = (drives: readonly DriveRecord[]) => (id: string) => drives.find((one) => one.id === id)?.name ?? '';
