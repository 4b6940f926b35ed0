'use client';

// The vocabulary as a tree, and the word that is chosen in it; beside it what is most likely wrong.

import { App, Button, Checkbox, Dropdown, Input, Tabs, Tree, Upload } from 'antd';
import { type Key, useMemo, useRef, useState } from 'react';
import { splitKeywords } from '@/core/fields/values';
import { countListed, listedOf, planTaken } from '@/core/vocabulary/listed';
import { type Vocabulary, withoutPrivate } from '@/core/vocabulary/vocabulary';
import { count, plural } from '@/ui/format';
import { saveText } from '@/ui/save-file';
import { useSize } from '@/ui/use-size';
import { acceptWords } from '@/features/parts/describing/give-words';
import { wordNodes } from '@/features/parts/describing/word-nodes';
import { useGiving, useWords } from '@/features/parts/describing/words';
import { session } from '@/engine/session';
import { AlikeWords } from './alike-words';
import styles from './describe.module.css';
import { NewWords } from './new-words';
import { OnceWords } from './once-words';
import { UnknownWords } from './unknown-words';
import { WORD_FILES, readWordFile } from './word-files';
import { WordCard } from './word-card';
import { plain } from '@/core/text/fold';

export function WordsDesk() {
  const vocabulary = useWords((state) => state.vocabulary);
  const counts = useWords((state) => state.counts);
  const implied = useGiving((state) => state.implied);
  const [chosen, setChosen] = useState<string | null>(null);
  const [sought, setSought] = useState('');
  const word = chosen === null ? undefined : vocabulary.byId.get(chosen);
  return (
    <section className={styles.page} aria-label="Keywords">
      <header className={styles.bar}>
        <Input
          allowClear
          value={sought}
          onChange={({ target }) => setSought(target.value)}
          size="small"
          placeholder="find a word"
          aria-label="Find a word"
          style={{ width: 200 }}
        />
        <span className="quiet">{plural(vocabulary.byId.size, 'word')} in the vocabulary</span>
        <Checkbox checked={implied} onChange={({ target }) => useGiving.setState({ implied: target.checked })}>
          also give the words above it
        </Checkbox>
        <span className={styles.push} />
        <Exchange vocabulary={vocabulary} />
      </header>
      <div className={styles.wordsPage}>
        <div className={styles.tree}>
          <NewWord
            parentId={chosen}
            above={word?.word}
            // what was chosen while it was made stays chosen
            onMade={(id) => setChosen((now) => (now === chosen ? id : now))}
          />
          {vocabulary.byId.size === 0 ? (
            <p className="quiet">
              No words yet. Keywords that photos have are listed under New, to be taken in; or load a list from a file.
            </p>
          ) : (
            <WordTree
              vocabulary={vocabulary}
              counts={counts}
              sought={plain(sought)}
              chosen={chosen}
              onChoose={setChosen}
            />
          )}
        </div>
        <div className={styles.beside}>
          <Tabs
            size="small"
            destroyOnHidden
            items={[
              {
                key: 'word',
                label: 'Word',
                children: word ? (
                  <WordCard key={word.id} word={word} vocabulary={vocabulary} onChoose={setChosen} />
                ) : (
                  <p className="quiet">Choose a word in the tree.</p>
                ),
              },
              { key: 'new', label: 'New', children: <NewWords /> },
              { key: 'alike', label: 'Nearly the same', children: <AlikeWords /> },
              { key: 'once', label: 'Used once', children: <OnceWords /> },
              { key: 'unknown', label: 'Spelling', children: <UnknownWords /> },
            ]}
          />
        </div>
      </div>
    </section>
  );
}

interface TreeProps {
  vocabulary: Vocabulary;
  counts: ReadonlyMap<string, number>;
  sought: string;
  chosen: string | null;
  onChoose: (id: string) => void;
}

function WordTree({ vocabulary, counts, sought, chosen, onChoose }: TreeProps) {
  const [closed, setClosed] = useState<readonly Key[]>([]);
  const box = useRef<HTMLDivElement>(null);
  const { height } = useSize(box);
  const nodes = useMemo(() => wordNodes(vocabulary, sought), [vocabulary, sought]);
  const open = useMemo(() => {
    const shut = new Set(sought === '' ? closed : []);
    return [...vocabulary.byId.keys()].filter((id) => !shut.has(id));
  }, [vocabulary, sought, closed]);
  return (
    <div ref={box} className={styles.treeRows}>
      <Tree
        aria-label="Vocabulary"
        blockNode
        height={height || FIRST_HEIGHT_PX}
        itemHeight={ROW_PX}
        motion={false}
        treeData={nodes}
        expandedKeys={open}
        onExpand={(_, { node, expanded }) =>
          setClosed((now) => (expanded ? now.filter((id) => id !== node.key) : [...now, node.key]))
        }
        selectedKeys={chosen === null ? [] : [chosen]}
        onSelect={(_, { node }) => onChoose(String(node.key))}
        titleRender={({ title: word, synonyms }) => (
          <span className={styles.treeWord}>
            {word}
            {synonyms.length > 0 && <em> {synonyms.join(', ')}</em>}
            <span className="mono">{count(counts.get(plain(word)) ?? 0)}</span>
          </span>
        )}
      />
    </div>
  );
}

const ROW_PX = 28;
/** Until the room is known; without a height all words would be drawn. */
const FIRST_HEIGHT_PX = 400;

function NewWord({
  parentId,
  above,
  onMade,
}: {
  parentId: string | null;
  above: string | undefined;
  onMade: (id: string) => void;
}) {
  const [typed, setTyped] = useState('');
  const make = async (under: string | null) => {
    const words = splitKeywords(typed);
    if (words.length === 0) return;
    setTyped('');
    const last = await acceptWords(words, under);
    if (last !== null && under === null) onMade(last);
  };
  return (
    <div className={styles.newWord}>
      <Input
        size="small"
        value={typed}
        onChange={({ target }) => setTyped(target.value)}
        onPressEnter={() => void make(parentId)}
        placeholder={above ? `new word below “${above}”` : 'new word at the top'}
        aria-label="New word"
      />
      {above && (
        <Button size="small" type="text" disabled={typed.trim() === ''} onClick={() => void make(null)}>
          at the top
        </Button>
      )}
    </div>
  );
}

/** Files in and out. What would come in is counted first. */
function Exchange({ vocabulary }: { vocabulary: Vocabulary }) {
  const { message, modal } = App.useApp();
  const takeIn = async (file: File) => {
    try {
      const words = await readWordFile(file);
      const changes = planTaken(useWords.getState().vocabulary, words, Date.now(), () => crypto.randomUUID());
      const made = changes.filter(({ before }) => before === null).length;
      if (changes.length === 0)
        return void message.info(
          `${file.name} has ${plural(countListed(words), 'word')}, and all of them are here already.`,
        );
      modal.confirm({
        title: `Take in ${file.name}?`,
        content: `${plural(countListed(words), 'word')} in it: ${count(made)} new, ${plural(changes.length - made, 'word')} that get synonyms or a note. Nothing is taken away; one undo takes all of it back.`,
        okText: 'Take in',
        cancelText: 'Leave it',
        icon: null,
        onOk: () => session.change({ kind: 'words', changes }),
      });
    } catch (error) {
      void message.error(`${file.name} was not taken in. ${error instanceof Error ? error.message : String(error)}`, 8);
    }
  };
  const giveOut = async (key: string) => {
    const form = WORD_FILES.find(({ ending }) => ending === key);
    if (!form) return;
    const leaving = withoutPrivate(vocabulary);
    const stayed = vocabulary.byId.size - leaving.byId.size;
    saveText(`vocabulary.${form.ending}`, await form.write(listedOf(leaving)), form.type);
    if (stayed > 0) message.info(`${plural(stayed, 'private word')} stayed here.`);
  };
  return (
    <>
      <Upload
        accept=".txt,.csv,.tsv,.ttl,.jsonld,.json"
        showUploadList={false}
        beforeUpload={(file) => {
          void takeIn(file);
          return false;
        }}
      >
        <Button size="small">Load a file…</Button>
      </Upload>
      <Dropdown
        trigger={['click']}
        menu={{
          items: WORD_FILES.map(({ ending, label }) => ({ key: ending, label })),
          onClick: ({ key }) => void giveOut(key),
        }}
      >
        <Button size="small" disabled={vocabulary.byId.size === 0}>
          Save as file…
        </Button>
      </Dropdown>
    </>
  );
}
