'use client';

// Keywords of photos that are not in the vocabulary: they belong to it, or another word was meant.

import { Button, Checkbox } from 'antd';
import { useMemo, useState } from 'react';
import { quoted } from '@/core/query/write-scope';
import type { UsedWord } from '@/core/vocabulary/alike';
import { isInVocabulary, nearestKnown } from '@/core/vocabulary/vocabulary';
import { acceptWords, putRight } from '@/features/parts/describing/give-words';
import { useWords } from '@/features/parts/describing/words';
import { useScope } from '@/features/parts/search/use-scope';
import { count, plural } from '@/ui/format';
import styles from './describe.module.css';

const SHOWN = 200;

export function NewWords() {
  const used = useWords((state) => state.used);
  const vocabulary = useWords((state) => state.vocabulary);
  const fresh = useMemo(
    () =>
      used
        .filter(({ word }) => !isInVocabulary(vocabulary, word))
        .sort((a, b) => b.count - a.count || a.word.localeCompare(b.word)),
    [used, vocabulary],
  );
  const nearest = useMemo(() => nearestKnown(vocabulary), [vocabulary]);
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
  const chosen = fresh.map(({ word }) => word).filter((word) => ticked.has(word));
  const accept = async () => {
    await acceptWords(chosen);
    setTicked(new Set());
  };
  if (fresh.length === 0) return <p className="quiet">Every keyword of a photo is in the vocabulary.</p>;
  return (
    <div className={styles.alike}>
      <p className="quiet">
        {plural(fresh.length, 'keyword')} of photos that {fresh.length === 1 ? 'is' : 'are'} not in the vocabulary.
      </p>
      <ul aria-label="New words">
        {fresh.slice(0, SHOWN).map((one) => (
          <NewWordLine
            key={one.word}
            word={one}
            nearest={nearest}
            ticked={ticked.has(one.word)}
            onTick={(is) =>
              setTicked(is ? new Set([...ticked, one.word]) : new Set([...ticked].filter((word) => word !== one.word)))
            }
          />
        ))}
      </ul>
      {fresh.length > SHOWN && <p className="quiet">and {count(fresh.length - SHOWN)} more</p>}
      <div className={styles.row}>
        <Button size="small" onClick={() => setTicked(new Set(fresh.map(({ word }) => word)))}>
          Tick all
        </Button>
        <Button size="small" type="primary" disabled={chosen.length === 0} onClick={() => void accept()}>
          {chosen.length === 1 ? 'It belongs to the vocabulary' : `${count(chosen.length)} belong to the vocabulary`}
        </Button>
      </div>
    </div>
  );
}

interface LineProps {
  word: UsedWord;
  nearest: (word: string) => string | null;
  ticked: boolean;
  onTick: (is: boolean) => void;
}

function NewWordLine({ word: { word, count: carrying }, nearest, ticked, onTick }: LineProps) {
  const near = useMemo(() => nearest(word), [nearest, word]);
  const { setScope } = useScope();
  return (
    <li>
      <Checkbox checked={ticked} onChange={({ target }) => onTick(target.checked)}>
        {word}
      </Checkbox>
      <button
        type="button"
        className="mono"
        onClick={() => setScope(`keyword=${quoted(word)}`)}
        aria-label={`${count(carrying)}: show the photos with “${word}”`}
      >
        {count(carrying)}
      </button>
      {near !== null && (
        <Button size="small" type="text" onClick={() => void putRight([{ wrong: word, right: near }])}>
          Meant “{near}”
        </Button>
      )}
    </li>
  );
}
