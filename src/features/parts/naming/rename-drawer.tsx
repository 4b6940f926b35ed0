'use client';

// New names for the selection: the pattern, what every photo will be called, and what follows on which drives.

import { App, Button, Checkbox, Drawer, Input } from 'antd';
import { useEffect, useState } from 'react';
import { create } from 'zustand';
import type { BlankName, Pattern } from '@/core/names/pattern';
import { DATE_AND_NUMBER } from '@/core/take-in/sheet';
import { useLive } from '@/storage/catalog/live';
import { type RenamePlan, planRename } from '@/storage/catalog/renaming';
import { count, photos, plural } from '@/ui/format';
import { useSelection } from '@/features/parts/selection/selection';
import { session } from '@/engine/session';
import styles from './naming.module.css';
import { PatternEditor } from './pattern-editor';
import { SavedPatterns } from './saved-patterns';

const NO_BLANKS: Record<BlankName, string> = { kind: '', client: '', subject: '' };
const BLANK_WORDS: Record<BlankName, string> = { kind: 'Kind of work', client: 'Client', subject: 'Subject' };
/** Examples shown at first and at the end; the rest is counted. */
const SHOWN = 60;

const useRenaming = create<{ open: boolean }>(() => ({ open: false }));
const close = (): void => useRenaming.setState({ open: false });

/** For the selection as it is then. */
export const openRename = (): void => useRenaming.setState({ open: true });

export const RenameDrawer = () => (
  <Drawer open={useRenaming((state) => state.open)} onClose={close} title="Rename" size={520} destroyOnHidden>
    <Rename onDone={close} />
  </Drawer>
);

function Rename({ onDone }: { onDone: () => void }) {
  const { message } = App.useApp();
  const ids = useSelection((state) => state.ids);
  const [pattern, setPattern] = useState<Pattern>(DATE_AND_NUMBER);
  const [blanks, setBlanks] = useState(NO_BLANKS);
  const [keepOldName, setKeepOldName] = useState(true);
  const { plan, isCurrent } = useRenamePlan(ids, pattern, blanks, keepOldName);
  const asked = [...new Set(pattern.flatMap((part) => (part.kind === 'blank' ? [part.of] : [])))];
  const taken = plan?.examples.filter((example) => example.taken).length ?? 0;
  const rename = async () => {
    if (!plan) return;
    await session.change({ kind: 'names', moves: plan.moves, edits: plan.edits });
    message.success(`${photos(plan.photos)} renamed. The selection is as it was.`);
    onDone();
  };
  return (
    <div className={styles.rename}>
      <PatternEditor label="Names" of="names" pattern={pattern} onChange={setPattern} />
      <SavedPatterns pattern={pattern} onChange={setPattern} />
      {asked.length > 0 && (
        <div className={styles.blanks}>
          {asked.map((of) => [
            <label key={`${of}-label`} htmlFor={`rename-${of}`}>
              {BLANK_WORDS[of]}
            </label>,
            <Input
              key={of}
              id={`rename-${of}`}
              value={blanks[of]}
              onChange={(event) => setBlanks({ ...blanks, [of]: event.target.value })}
            />,
          ])}
        </div>
      )}
      <Checkbox checked={keepOldName} onChange={({ target }) => setKeepOldName(target.checked)}>
        Keep the name before in the metadata
      </Checkbox>
      {plan && (
        <>
          <p aria-live="polite">
            {plan.moves.length === 0 ? 'Every photo has its name already.' : <Sentence plan={plan} />}
          </p>
          {taken > 0 && (
            <p className="quiet">
              {plural(taken, 'name was', 'names were')} taken, and {taken === 1 ? 'gets' : 'get'} a number.
            </p>
          )}
          <Button type="primary" disabled={plan.moves.length === 0 || !isCurrent} onClick={() => void rename()}>
            Rename {photos(plan.photos)}
          </Button>
          <ul className={styles.examples} aria-label="New names">
            {plan.examples.slice(0, SHOWN).map(({ before, after, taken: numbered, long }, index) => (
              <li key={index}>
                <span>{before}</span>
                <span>→</span>
                <span>{after}</span>
                {numbered && <em>taken: numbered</em>}
                {long && <em>a long path: some Windows programs will not reach it</em>}
              </li>
            ))}
          </ul>
          {plan.examples.length > SHOWN && (
            <p className="quiet">
              and {count(plan.examples.length - SHOWN)} more, the last:{' '}
              <span className="mono">{plan.examples.at(-1)?.after}</span>
            </p>
          )}
        </>
      )}
    </div>
  );
}

function Sentence({ plan }: { plan: RenamePlan }) {
  const names = useLive(async () => new Map((await session.db.drives.toArray()).map(({ id, name }) => [id, name])));
  const drives = plan.drives.map((id) => {
    const away = session.drives.of(id).state !== 'connected';
    return `${names?.get(id) ?? '…'}${away ? ' (when it is back)' : ''}`;
  });
  return (
    <>
      {plural(plan.moves.length, 'file gets its new name', 'files get their new names')} on {drives.join(' and ')};
      sidecars and what lies beside them follow
      {plan.companions > 0 ? `; ${plural(plan.companions, 'companion comes', 'companions come')} along` : ''}. One undo
      brings all names back.
    </>
  );
}

/** The plan, and whether it is of what is typed now: an older one is still shown, but nothing is done by it. */
function useRenamePlan(
  ids: ReadonlySet<string>,
  pattern: Pattern,
  blanks: Record<BlankName, string>,
  keepOldName: boolean,
): { plan: RenamePlan | null; isCurrent: boolean } {
  const [made, setMade] = useState<{ of: unknown[]; plan: RenamePlan | null }>({ of: [], plan: null });
  useEffect(() => {
    let current = true;
    const of = [ids, pattern, blanks, keepOldName];
    planRename(session.db, [...ids], pattern, blanks, keepOldName).then(
      (plan) => current && setMade({ of, plan }),
      () => current && setMade({ of, plan: null }),
    );
    return () => {
      current = false;
    };
  }, [ids, pattern, blanks, keepOldName]);
  const isCurrent = [ids, pattern, blanks, keepOldName].every((one, index) => one === made.of[index]);
  return { plan: made.plan, isCurrent };
}
