'use client';

// One word of the vocabulary: its name, synonyms and note, and what can be done to it. How many photos follow is said
// first.

import { App, AutoComplete, Button, Checkbox, Input, Progress, Select } from 'antd';
import Link from 'next/link';
import { useState } from 'react';
import { splitKeywords } from '@/core/fields/values';
import { quoted } from '@/core/query/write-scope';
import { type ActPlan, type VocabularyAct, planAct } from '@/core/vocabulary/plan';
import { WORD_LIMITS, type Vocabulary, type VocabularyWord } from '@/core/vocabulary/vocabulary';
import { refusalSentence } from '@/messages/vocabulary';
import { type ActOnCatalog, planActOnCatalog } from '@/storage/catalog/vocabulary';
import { count, photos } from '@/ui/format';
import { useWords } from '@/features/parts/describing/words';
import { findAddress } from '@/features/parts/search/use-scope';
import { session } from '@/engine/session';
import styles from './describe.module.css';
import { plain } from '@/core/text/fold';

interface Props {
  word: VocabularyWord;
  vocabulary: Vocabulary;
  onChoose: (id: string | null) => void;
}

export function WordCard({ word, vocabulary, onChoose }: Props) {
  const carried = useWords((state) => state.counts.get(plain(word.word)) ?? 0);
  const { act, reading } = useAct(vocabulary, onChoose);
  const above = vocabulary.path(word.id).slice(0, -1);
  return (
    <div className={styles.wordCard} role="group" aria-label={`Word ${word.word}`}>
      {above.length > 0 && <p className="quiet">{above.map((one) => one.word).join(' › ')}</p>}
      <p>
        <strong>{word.word}</strong> <Link href={findAddress(`keyword:${quoted(word.word)}`)}>{photos(carried)}</Link>
      </p>
      <Rename word={word} act={act} />
      <SynonymsAndNote word={word} />
      <Private word={word} vocabulary={vocabulary} />
      <Place word={word} vocabulary={vocabulary} act={act} />
      <Split word={word} act={act} />
      <Button size="small" danger onClick={() => void act({ kind: 'delete', id: word.id })}>
        Delete the word…
      </Button>
      {reading && (
        <div className={styles.reading} role="status">
          <Progress percent={Math.floor((100 * reading.read) / reading.of)} size="small" aria-label="photos read" />
          <p className="quiet">
            {count(reading.read)} of {photos(reading.of)} read, to say what would change
          </p>
          <Button size="small" onClick={reading.cancel}>
            Cancel
          </Button>
        </div>
      )}
    </div>
  );
}

interface ActProps {
  word: VocabularyWord;
  act: ReturnType<typeof useAct>['act'];
}

function Rename({ word, act }: ActProps) {
  const [name, setName] = useState(word.word);
  const rename = () => void act({ kind: 'rename', id: word.id, word: name });
  return (
    <>
      <label htmlFor="word-name">Name</label>
      <div className={styles.row}>
        <Input
          id="word-name"
          maxLength={WORD_LIMITS.word}
          value={name}
          onChange={({ target }) => setName(target.value)}
          onPressEnter={rename}
        />
        <Button size="small" disabled={name.trim() === word.word || name.trim() === ''} onClick={rename}>
          Rename
        </Button>
      </div>
    </>
  );
}

/** Kept when the cursor leaves them. */
function SynonymsAndNote({ word }: { word: VocabularyWord }) {
  const [synonyms, setSynonyms] = useState(word.synonyms.join('; '));
  const [note, setNote] = useState(word.note);
  const keep = (patch: Partial<VocabularyWord>) =>
    session.change({ kind: 'words', changes: [{ before: word, after: { ...word, ...patch, updatedAt: Date.now() } }] });
  const keepSynonyms = () => {
    if (synonyms === word.synonyms.join('; ')) return;
    const split = splitKeywords(synonyms).map((text) => text.slice(0, WORD_LIMITS.word));
    void keep({ synonyms: split.slice(0, WORD_LIMITS.synonyms) });
  };
  return (
    <>
      <label htmlFor="word-synonyms">Synonyms: typing one gives this word</label>
      <Input
        id="word-synonyms"
        value={synonyms}
        placeholder="semicolon between them"
        onChange={({ target }) => setSynonyms(target.value)}
        onBlur={keepSynonyms}
      />
      <label htmlFor="word-note">Note: when to use it</label>
      <Input.TextArea
        id="word-note"
        maxLength={WORD_LIMITS.note}
        value={note}
        autoSize={{ minRows: 1, maxRows: 5 }}
        onChange={({ target }) => setNote(target.value)}
        onBlur={() => note !== word.note && void keep({ note: note.trim() })}
      />
    </>
  );
}

/** What is private stays behind when photos are sent out, whatever a delivery profile says. */
function Private({ word, vocabulary }: { word: VocabularyWord; vocabulary: Vocabulary }) {
  const above = vocabulary
    .path(word.id)
    .slice(0, -1)
    .find(({ isPrivate }) => isPrivate);
  const set = (isPrivate: boolean) =>
    session.change({
      kind: 'words',
      changes: [{ before: word, after: { ...word, isPrivate, updatedAt: Date.now() } }],
    });
  return (
    <Checkbox
      checked={word.isPrivate === true || above !== undefined}
      disabled={above !== undefined}
      onChange={({ target }) => void set(target.checked)}
    >
      Private: never sent out, nor what stands under it{above ? ` (as “${above.word}” is)` : ''}
    </Checkbox>
  );
}

/** Under another word, or into it. */
function Place({ word, vocabulary, act }: ActProps & { vocabulary: Vocabulary }) {
  const [into, setInto] = useState('');
  const others = [...vocabulary.byId.values()].filter(({ id }) => id !== word.id);
  const pathOf = (id: string) =>
    vocabulary
      .path(id)
      .map((one) => one.word)
      .join(' › ');
  const target = others.find(({ id }) => pathOf(id) === into);
  return (
    <>
      <label htmlFor="word-under">Stands under</label>
      <Select
        id="word-under"
        value={word.parentId ?? ''}
        showSearch={{ optionFilterProp: 'label' }}
        options={[{ value: '', label: '(the top)' }, ...others.map(({ id }) => ({ value: id, label: pathOf(id) }))]}
        onChange={(under: string) => void act({ kind: 'move', id: word.id, under: under === '' ? null : under })}
      />
      <label htmlFor="word-into">Merge into another word</label>
      <div className={styles.row}>
        <AutoComplete
          id="word-into"
          value={into}
          onChange={setInto}
          options={others
            .filter(({ word: text }) => into !== '' && plain(text).includes(plain(into)))
            .slice(0, 20)
            .map(({ id }) => ({ value: pathOf(id), id }))}
          className={styles.grow}
        />
        <Button
          size="small"
          disabled={target === undefined}
          onClick={() => void act({ kind: 'merge', id: word.id, into: target?.id ?? '' })}
        >
          Merge
        </Button>
      </div>
    </>
  );
}

function Split({ word, act }: ActProps) {
  const [split, setSplit] = useState('');
  return (
    <>
      <label htmlFor="word-split">Split into several</label>
      <div className={styles.row}>
        <Input
          id="word-split"
          value={split}
          placeholder="semicolon between them"
          onChange={({ target }) => setSplit(target.value)}
        />
        <Button
          size="small"
          disabled={splitKeywords(split).length < 2}
          onClick={() => void act({ kind: 'split', id: word.id, into: splitKeywords(split) })}
        >
          Split
        </Button>
      </div>
    </>
  );
}

/** Reading more photos than this takes a moment, and shows how far it is. */
const LONG = 2000;

interface Reading {
  read: number;
  of: number;
  cancel: () => void;
}

/** Plans an act, says what it will do where photos follow, and does it. */
function useAct(
  vocabulary: Vocabulary,
  onChoose: Props['onChoose'],
): { act: (act: VocabularyAct) => Promise<void>; reading: Reading | null } {
  const { message, modal } = App.useApp();
  const [reading, setReading] = useState<Reading | null>(null);
  const plannedOn = async (
    plan: Exclude<ActPlan, { refused: unknown }>,
    carriers: readonly string[],
  ): Promise<ActOnCatalog | null> => {
    const breaking = new AbortController();
    const show = (read: number) =>
      carriers.length > LONG && setReading({ read, of: carriers.length, cancel: () => breaking.abort() });
    try {
      return await planActOnCatalog(session.db, vocabulary, plan, carriers, { signal: breaking.signal, onRead: show });
    } catch (error) {
      if (!breaking.signal.aborted) throw error;
      return null;
    } finally {
      setReading(null);
    }
  };
  const act = async (wanted: VocabularyAct) => {
    const plan = planAct(vocabulary, wanted, Date.now(), () => crypto.randomUUID());
    if ('refused' in plan) return void message.warning(refusalSentence(plan.refused));
    const found = await plannedOn(plan, plan.onPhotos ? await session.search.carriers([plan.onPhotos.word]) : []);
    if (!found) return;
    const { change, photos: changed, untold } = found;
    const carryOut = async () => {
      await session.change(change);
      if (wanted.kind === 'merge') onChoose(wanted.into);
      if (wanted.kind === 'delete' || wanted.kind === 'split') onChoose(null);
    };
    if (changed === 0 && untold === 0 && wanted.kind !== 'delete' && wanted.kind !== 'merge') return carryOut();
    const name = vocabulary.byId.get(wanted.id)?.word ?? '';
    modal.confirm({
      title: TITLES[wanted.kind](name),
      icon: null,
      okText: 'Do it',
      cancelText: 'Leave it',
      onOk: carryOut,
      content: `${changed === 0 ? 'No photo changes' : `${photos(changed)} follow${changed === 1 ? 's' : ''}, with ${changed === 1 ? 'its' : 'their'} sidecars`}.${untold > 0 ? ` ${photos(untold)} ${untold === 1 ? 'has' : 'have'} the word without saying which of several it is, and keep${untold === 1 ? 's' : ''} it.` : ''} One undo takes it back.`,
    });
  };
  return { act, reading };
}

const TITLES: Record<VocabularyAct['kind'], (name: string) => string> = {
  rename: (name) => `Rename “${name}” on every photo?`,
  merge: (name) => `Merge “${name}” into the other word?`,
  split: (name) => `Split “${name}”?`,
  delete: (name) => `Delete “${name}” and take it from every photo?`,
  move: (name) => `Move “${name}”?`,
};
