'use client';

// What is done with the folder that is searched in: the selected photos go into it or into one below it, and it gets
// another name or place. Each act says what it would do before it is done; undo takes all of it back.

import { App, Button, Input, Modal } from 'antd';
import { useState } from 'react';
import { create } from 'zustand';
import { folderValue, parseFolder } from '@/core/query/folder-value';
import { quoted, termOf, withTerm } from '@/core/query/write-scope';
import { folderProblemSentence, folderPlanSentences } from '@/messages/folders';
import { folderRefusal, planMoveFolder, planMoveInto } from '@/storage/catalog/folder-moves';
import { useLive } from '@/storage/catalog/live';
import { session } from '@/engine/session';
import { photos } from '@/ui/format';
import { useScope } from '@/features/parts/search/use-scope';
import { useAsked } from '@/features/parts/session/use-asked';
import { useSelection } from '@/features/parts/selection/selection';
import styles from './shelves.module.css';

type Act = 'into' | 'folder';

interface Moving {
  act: Act;
  /** The folder, as the search asks for it. */
  value: string;
  photoIds: readonly string[];
}

const useMoving = create<{ moving: Moving | null }>(() => ({ moving: null }));

/** Asks whether these photos go into that folder. */
export const offerMove = (value: string, photoIds: readonly string[]): void =>
  useMoving.setState({ moving: { act: 'into', value, photoIds } });

/** What can be done with a folder that is searched in. */
export function FolderActs({ value }: { value: string }) {
  const selected = useSelection((state) => state.ids);
  return (
    <div className={styles.folderActs}>
      <Button size="small" disabled={selected.size === 0} onClick={() => offerMove(value, [...selected])}>
        Move the {selected.size} selected here…
      </Button>
      {parseFolder(value)?.path !== '' && (
        <Button size="small" onClick={() => useMoving.setState({ moving: { act: 'folder', value, photoIds: [] } })}>
          Rename or move it…
        </Button>
      )}
    </div>
  );
}

/** Mounted once, beside the tree. */
export function FolderMoveDialog() {
  const { moving } = useMoving();
  const drives = useLive(() => session.db.drives.toArray()) ?? [];
  const folder = moving && parseFolder(moving.value);
  const drive = drives.find(({ name }) => name === folder?.drive);
  const close = () => useMoving.setState({ moving: null });
  if (!moving || !folder || !drive) return null;
  return (
    <Modal
      open
      title={moving.act === 'into' ? `Move ${photos(moving.photoIds.length)}` : `Rename or move ${folder.path}`}
      footer={null}
      onCancel={close}
    >
      <MoveForm act={moving.act} drive={drive} path={folder.path} photoIds={moving.photoIds} onDone={close} />
    </Modal>
  );
}

interface FormProps {
  act: Act;
  drive: { id: string; name: string };
  path: string;
  photoIds: readonly string[];
  onDone: () => void;
}

function MoveForm({ act, drive, path, photoIds, onDone }: FormProps) {
  const [typed, setTyped] = useState(path);
  const to = typed.trim().replace(/^\/+|\/+$/g, '');
  const refusal = folderRefusal(to, act === 'folder' ? path : null);
  const question = refusal ? null : `${drive.id}/${to}`;
  const asked = useAsked(question, () =>
    act === 'into' ? planMoveInto(session.db, photoIds, drive.id, to) : planMoveFolder(session.db, drive.id, path, to),
  );
  const plan = asked?.of === question ? asked.answer : null; // never that of what was typed before
  const drives = useLive(() => session.db.drives.toArray()) ?? [];
  const nameOf = (id: string) => drives.find((one) => one.id === id)?.name ?? '';
  const { setScope } = useScope();
  const { message } = App.useApp();
  const move = async () => {
    if (!plan) return;
    await session.change({ kind: 'names', moves: plan.moves, edits: [] });
    // the search goes along with its folder
    setScope((now) => {
      const asked = termOf(now, 'folder');
      return act === 'folder' && asked === folderValue({ drive: drive.name, path })
        ? withTerm(now, 'folder', quoted(folderValue({ drive: drive.name, path: to })))
        : now;
    });
    message.success(`${photos(plan.photos)} moved; Undo takes it back.`);
    onDone();
  };
  return (
    <form
      className={styles.folderForm}
      onSubmit={(event) => {
        event.preventDefault();
        if (plan && plan.moves.length > 0) void move();
      }}
    >
      <label htmlFor="folder-path">Folder on “{drive.name}”, which may be a new one</label>
      <Input
        id="folder-path"
        autoFocus
        className="mono"
        value={typed}
        onChange={({ target }) => setTyped(target.value)}
      />
      <div aria-live="polite">
        {refusal ? (
          <p className={styles.folderProblem}>{folderProblemSentence(refusal)}</p>
        ) : (
          plan && folderPlanSentences(plan, drive.id, nameOf).map((sentence) => <p key={sentence}>{sentence}</p>)
        )}
      </div>
      <div className={styles.folderFoot}>
        <Button onClick={onDone}>Cancel</Button>
        <Button type="primary" htmlType="submit" disabled={!plan || plan.moves.length === 0}>
          Move
        </Button>
      </div>
    </form>
  );
}
