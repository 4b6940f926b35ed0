'use client';

// Words the dictionary does not know, in keywords and in texts: put right, or learnt.

import { Button, Input } from 'antd';
import { useEffect, useState } from 'react';
import { planSet } from '@/core/fields/edits';
import { fieldOf } from '@/core/fields/registry';
import { wordsIn } from '@/core/fields/values';
import { SPELT, replaceInText } from '@/core/search/word-uses';
import { quoted } from '@/core/query/write-scope';
import type { UsedWord } from '@/core/vocabulary/alike';
import { useLive } from '@/storage/catalog/live';
import { count, plural } from '@/ui/format';
import { useScope } from '@/features/parts/search/use-scope';
import { recordsOf } from '@/engine/selected-photos';
import { session } from '@/engine/session';
import styles from './describe.module.css';
import { useSession } from '@/features/parts/session/use-session';

const SHOWN = 150;

export function UnknownWords() {
  const version = useSession((state) => state.indexVersion);
  const learnt = useLive(() => session.db.learnt.toArray(), []);
  const [unknown, setUnknown] = useState<UsedWord[] | null>(null);
  const [failure, setFailure] = useState('');
  useEffect(() => {
    let current = true;
    const look = async () => {
      const used = await session.search.textWords();
      const misspelt = new Set(await session.spelling.misspelt(used.map(({ word }) => word)));
      if (current)
        setUnknown(
          used.filter(({ word }) => misspelt.has(word)).sort((a, b) => b.count - a.count || (a.word < b.word ? -1 : 1)),
        );
    };
    const timer = setTimeout(
      () =>
        void look().catch(
          (error: unknown) => current && setFailure(error instanceof Error ? error.message : String(error)),
        ),
      300,
    );
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [version]);
  const known = new Set((learnt ?? []).filter(({ deleted }) => !deleted).map(({ id }) => id));
  const left = (unknown ?? []).filter(
    ({ word }) => !known.has(word) && !known.has(word.toLowerCase()) && !known.has(word.replace(/'s$/, '')),
  );
  if (failure !== '') return <p className="quiet">{failure}</p>;
  if (!unknown) return <p className="quiet">Reading the dictionary…</p>;
  if (left.length === 0) return <p className="quiet">Every word is known, or was learnt ({count(known.size)}).</p>;
  return (
    <div className={styles.alike}>
      <p className="quiet">
        {plural(left.length, 'word')} that neither the English dictionary nor you know yet. Names and words of other
        languages are learnt once.{' '}
        <Button size="small" onClick={() => void learn(left.map(({ word }) => word))}>
          Learn all {count(left.length)}
        </Button>
      </p>
      <ul>
        {left.slice(0, SHOWN).map((one) => (
          <UnknownWord key={one.word} {...one} />
        ))}
      </ul>
      {left.length > SHOWN && <p className="quiet">and {count(left.length - SHOWN)} more</p>}
    </div>
  );
}

function UnknownWord({ word, count: number }: UsedWord) {
  const [open, setOpen] = useState(false);
  const [offered, setOffered] = useState<string[]>([]);
  const [typed, setTyped] = useState(word);
  const { setScope } = useScope();
  const show = () => {
    setOpen(true);
    void session.spelling.corrections(word).then(
      (found) => setOffered(found.slice(0, 6)),
      () => {},
    );
  };
  return (
    <li>
      <span>{word}</span>
      <button
        type="button"
        onClick={() => setScope(quoted(word))}
        aria-label={`Show the photos with “${word}”`}
        className="mono"
      >
        {count(number)}
      </button>
      <Button size="small" type="text" onClick={() => void learn([word])} aria-label={`Learn “${word}”`}>
        Learn
      </Button>
      {open ? (
        <span className={styles.correct}>
          {offered.map((text) => (
            <Button key={text} size="small" onClick={() => void correct(word, text)}>
              {text}
            </Button>
          ))}
          <Input
            size="small"
            value={typed}
            onChange={({ target }) => setTyped(target.value)}
            onPressEnter={() => void correct(word, typed.trim())}
            aria-label={`What “${word}” should be`}
          />
        </span>
      ) : (
        <Button size="small" type="text" onClick={show} aria-label={`Put “${word}” right`}>
          Put right…
        </Button>
      )}
    </li>
  );
}

async function learn(words: readonly string[]): Promise<void> {
  const at = Date.now();
  await session.change({
    kind: 'together',
    changes: words.map((id) => ({
      kind: 'kept',
      savedKind: 'learnt',
      before: null,
      after: { id, updatedAt: at, deleted: false },
    })),
  });
}

/** The word as a whole word, in every text and keyword of the photos that have it. */
async function correct(word: string, right: string): Promise<void> {
  if (right === '' || right === word) return;
  const { order } = await session.search.search({ scope: quoted(word), closed: false, opened: [], stay: null });
  const photos = await recordsOf(order.all());
  const edits = photos.flatMap((photo) =>
    SPELT.flatMap((key) => {
      const value = photo.fields[key];
      if (value === undefined || fieldOf(key).value !== 'text') return [];
      return planSet(
        [photo],
        key,
        typeof value === 'string'
          ? replaceInText(value, word, right)
          : [...new Set(wordsIn(value).map((text) => replaceInText(text, word, right)))],
      );
    }),
  );
  await session.change({ kind: 'fields', origin: 'person', edits });
}
