'use client';

// Words that no dictionary of the person’s languages knows, in keywords and in texts: put right, or learnt.

import { Button, Input, Select } from 'antd';
import { useEffect, useState } from 'react';
import { z } from 'zod';
import { planSet } from '@/core/fields/edits';
import { fieldOf } from '@/core/fields/registry';
import { wordsIn } from '@/core/fields/values';
import { SPELT, replaceInText } from '@/core/search/word-uses';
import { quoted } from '@/core/query/write-scope';
import type { UsedWord } from '@/core/vocabulary/alike';
import { DICTIONARIES, DICTIONARY_LANGUAGES, type DictionaryLanguage } from '@/core/text/dictionaries';
import { useLive } from '@/storage/catalog/live';
import { keptChoice } from '@/ui/kept-choice';
import { count, plural } from '@/ui/format';
import { useScope } from '@/features/parts/search/use-scope';
import { recordsOf } from '@/engine/selected-photos';
import { session } from '@/engine/session';
import styles from './describe.module.css';
import { useSession } from '@/features/parts/session/use-session';

const SHOWN = 150;

const useDictionaries = keptChoice<{ languages: DictionaryLanguage[] }>(
  'wembo-dictionaries',
  z.object({ languages: z.array(z.enum(DICTIONARY_LANGUAGES)) }),
  { languages: ['british', 'american'] },
);

export function UnknownWords() {
  const version = useSession((state) => state.indexVersion);
  const learnt = useLive(() => session.db.learnt.toArray(), []);
  const [unknown, setUnknown] = useState<UsedWord[] | null>(null);
  const [failure, setFailure] = useState('');
  const languages = useDictionaries((state) => state.languages);
  useEffect(() => {
    let current = true;
    const look = async () => {
      const used = await session.search.textWords();
      const misspelt = new Set(
        await session.spelling.misspelt(
          used.map(({ word }) => word),
          languages,
        ),
      );
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
  }, [version, languages]);
  const known = new Set((learnt ?? []).filter(({ deleted }) => !deleted).map(({ id }) => id));
  const left = (unknown ?? []).filter(
    ({ word }) => !known.has(word) && !known.has(word.toLowerCase()) && !known.has(word.replace(/'s$/, '')),
  );
  return (
    <div className={styles.alike}>
      <Languages />
      {failure !== '' ? (
        <p className="quiet">{failure}</p>
      ) : !unknown ? (
        <p className="quiet">Reading the dictionaries…</p>
      ) : (
        <Left left={left} known={known.size} />
      )}
    </div>
  );
}

function Left({ left, known }: { left: UsedWord[]; known: number }) {
  if (left.length === 0) return <p className="quiet">Every word is known, or was learnt ({count(known)}).</p>;
  return (
    <>
      <p className="quiet">
        {plural(left.length, 'word')} that neither these dictionaries nor you know yet. A name is learnt once, and for
        good.{' '}
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
    </>
  );
}

const Languages = () => (
  <Select
    mode="multiple"
    size="small"
    aria-label="Languages of the dictionaries"
    placeholder="no language"
    style={{ width: '100%' }}
    value={useDictionaries((state) => state.languages)}
    onChange={(languages) => useDictionaries.setState({ languages })}
    options={DICTIONARY_LANGUAGES.map((value) => ({ value, label: DICTIONARIES[value] }))}
    optionFilterProp="label"
  />
);

function UnknownWord({ word, count: number }: UsedWord) {
  const [open, setOpen] = useState(false);
  const [offered, setOffered] = useState<string[]>([]);
  const [typed, setTyped] = useState(word);
  const { setScope } = useScope();
  const show = () => {
    setOpen(true);
    void session.spelling.corrections(word, useDictionaries.getState().languages).then(
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
