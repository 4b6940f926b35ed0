'use client';

// Words that are most likely one, and words used once: put right in bulk, each with how many photos follow.

import { App, Button, Checkbox } from 'antd';
import { useMemo, useState } from 'react';
import { type AlikePair, findAlike } from '@/core/vocabulary/alike';
import { likenessWords } from '@/messages/vocabulary';
import { count, photos, plural } from '@/ui/format';
import { putRight } from '@/features/parts/describing/give-words';
import { useWords } from '@/features/parts/describing/words';
import styles from './describe.module.css';

/** Pairs shown at once. */
const SHOWN = 200;

const keyOf = ({ usual, other }: AlikePair): string => `${usual.word}\n${other.word}`;

export function AlikeWords() {
  const used = useWords((state) => state.used);
  const pairs = useMemo(() => findAlike(used), [used]);
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
  const [turned, setTurned] = useState<ReadonlySet<string>>(new Set());
  const { modal } = App.useApp();
  const flip = (set: ReadonlySet<string>, key: string) =>
    set.has(key) ? new Set([...set].filter((one) => one !== key)) : new Set([...set, key]);
  const chosen = pairs
    .filter((pair) => ticked.has(keyOf(pair)))
    .map((pair) =>
      turned.has(keyOf(pair)) ? { right: pair.other, wrong: pair.usual } : { right: pair.usual, wrong: pair.other },
    );
  const put = () =>
    modal.confirm({
      title: `Put ${plural(chosen.length, 'word')} right?`,
      icon: null,
      okText: 'Do it',
      cancelText: 'Leave it',
      content: `${chosen
        .map(({ right, wrong }) => `“${wrong.word}” becomes “${right.word}” on ${photos(wrong.count)}`)
        .slice(0, 12)
        .join('; ')}. One undo takes it back.`,
      onOk: async () => {
        await putRight(chosen.map(({ right, wrong }) => ({ wrong: wrong.word, right: right.word })));
        setTicked(new Set());
      },
    });
  if (pairs.length === 0) return <p className="quiet">No two words are nearly the same.</p>;
  return (
    <div className={styles.alike}>
      <p className="quiet">
        {plural(pairs.length, 'pair')}. Tick what is to be one word; the arrow points to the word that stays.
      </p>
      <ul>
        {pairs.slice(0, SHOWN).map((pair) => {
          const key = keyOf(pair);
          const [stays, goes] = turned.has(key) ? [pair.other, pair.usual] : [pair.usual, pair.other];
          return (
            <li key={key}>
              <Checkbox checked={ticked.has(key)} onChange={() => setTicked(flip(ticked, key))}>
                {goes.word} <span className="mono">{count(goes.count)}</span>
              </Checkbox>
              <button
                type="button"
                onClick={() => setTurned(flip(turned, key))}
                aria-label={`Turn round: keep “${goes.word}” instead of “${stays.word}”`}
              >
                →
              </button>
              <span>
                {stays.word} <span className="mono">{count(stays.count)}</span>
              </span>
              <span className="quiet">{likenessWords(pair.likeness)}</span>
            </li>
          );
        })}
      </ul>
      <div className={styles.row}>
        <Button size="small" onClick={() => setTicked(new Set(pairs.map(keyOf)))}>
          Tick all
        </Button>
        <Button size="small" type="primary" disabled={chosen.length === 0} onClick={put}>
          Put {plural(chosen.length, 'word')} right
        </Button>
      </div>
    </div>
  );
}
