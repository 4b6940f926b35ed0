'use client';

// Keywords that one photo alone carries: often misspelt, or too narrow to find anything by. Taken away in bulk, or
// looked at.

import { App, Button, Checkbox } from 'antd';
import { useMemo, useState } from 'react';
import { planList } from '@/core/fields/edits';
import { quoted } from '@/core/query/write-scope';
import { count, plural } from '@/ui/format';
import { useWords } from '@/features/parts/describing/words';
import { useScope } from '@/features/parts/search/use-scope';
import { recordsOf } from '@/engine/selected-photos';
import { session } from '@/engine/session';
import styles from './describe.module.css';

const SHOWN = 300;

export function OnceWords() {
  const used = useWords((state) => state.used);
  const once = useMemo(
    () =>
      used
        .filter(({ count: photos }) => photos === 1)
        .map(({ word }) => word)
        .sort((a, b) => a.localeCompare(b)),
    [used],
  );
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
  const { setScope } = useScope();
  const { message } = App.useApp();
  const chosen = once.filter((word) => ticked.has(word));
  const takeAway = async () => {
    const photos = await recordsOf(await session.search.carriers(chosen));
    await session.change({ kind: 'fields', origin: 'person', edits: planList(photos, 'keywords', [], chosen) });
    setTicked(new Set());
    void message.success(
      `${plural(chosen.length, 'word')} taken away. One undo brings ${chosen.length === 1 ? 'it' : 'them'} back.`,
    );
  };
  if (once.length === 0) return <p className="quiet">No keyword is on one photo alone.</p>;
  return (
    <div className={styles.alike}>
      <p className="quiet">{plural(once.length, 'word')} that one photo alone carries.</p>
      <ul>
        {once.slice(0, SHOWN).map((word) => (
          <li key={word}>
            <Checkbox
              checked={ticked.has(word)}
              onChange={({ target }) =>
                setTicked(
                  target.checked ? new Set([...ticked, word]) : new Set([...ticked].filter((one) => one !== word)),
                )
              }
            >
              {word}
            </Checkbox>
            <Button
              size="small"
              type="text"
              onClick={() => setScope(`keyword:${quoted(word)}`)}
              aria-label={`Show the photo with “${word}”`}
            >
              show it
            </Button>
          </li>
        ))}
      </ul>
      {once.length > SHOWN && <p className="quiet">and {count(once.length - SHOWN)} more</p>}
      <div className={styles.row}>
        <Button size="small" disabled={chosen.length === 0} onClick={() => void takeAway()}>
          Take {plural(chosen.length, 'word')} away
        </Button>
      </div>
    </div>
  );
}
