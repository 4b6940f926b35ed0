'use client';

// Keywords by ticking: the vocabulary as a tree with boxes, full, half or empty as all, some or none of the photos have
// the word; above it the words that were given last and those of the shoot. A tick is given or taken at once.

import { Button, Checkbox, Input, Popover, Tree } from 'antd';
import { type Key, useMemo, useState } from 'react';
import type { WordCount } from '@/core/fields/common-values';
import { plain } from '@/core/text/fold';
import { session } from '@/engine/session';
import { useEscape } from '@/ui/keys';
import { useAsked } from '@/features/parts/session/use-asked';
import styles from './describing.module.css';
import { wordNodes } from './word-nodes';
import { useGiving, useWords } from './words';

const HEIGHT_PX = 300;
const ROW_PX = 26;
/** Of the shoot; and photos up to which it is asked. */
const LIKELY = 8;
const ASKED_MOST = 2000;

interface Props {
  photoIds: readonly string[];
  /** The words of the photos, each with how many have it. */
  words: readonly WordCount[];
  onGive: (word: string) => void;
  /** Takes away every spelling of a word that stands there. */
  onTake: (words: string[]) => void;
}

export function WordTicks(props: Props) {
  const [open, setOpen] = useState(false);
  useEscape(open, () => setOpen(false));
  return (
    <Popover
      open={open}
      onOpenChange={setOpen}
      trigger="click"
      placement="left"
      destroyOnHidden
      content={<Ticks {...props} />}
      title="Keywords by ticking"
    >
      <Button size="small" type="text">
        Tick…
      </Button>
    </Popover>
  );
}

/** How many of the photos have it. */
type Standing = 'all' | 'some' | 'none';

function Ticks({ photoIds, words, onGive, onTake }: Props) {
  const vocabulary = useWords((state) => state.vocabulary);
  const [sought, setSought] = useState('');
  const nodes = useMemo(() => wordNodes(vocabulary, plain(sought)), [vocabulary, sought]);
  const ids = useMemo(() => [...vocabulary.byId.keys()], [vocabulary]);
  const byForm = useMemo(() => {
    const forms = new Map<string, WordCount[]>();
    for (const one of words) forms.set(plain(one.word), [...(forms.get(plain(one.word)) ?? []), one]);
    return forms;
  }, [words]);
  const carried = (word: string) => byForm.get(plain(word)) ?? [];
  const standingOf = (word: string): Standing => {
    const most = Math.max(0, ...carried(word).map(({ count }) => count));
    return most === 0 ? 'none' : most < photoIds.length ? 'some' : 'all';
  };
  const tick = (word: string) =>
    standingOf(word) === 'all' ? onTake(carried(word).map((one) => one.word)) : onGive(word);
  const wordOf = (key: Key) => vocabulary.byId.get(String(key))?.word ?? '';
  const standing = ids.map((id) => [id, standingOf(wordOf(id))] as const);
  return (
    <div className={styles.ticks}>
      <Near photoIds={photoIds} words={words} sought={plain(sought)} standingOf={standingOf} onTick={tick} />
      <Input
        size="small"
        autoFocus
        allowClear
        value={sought}
        onChange={({ target }) => setSought(target.value)}
        placeholder="find a word"
        aria-label="Find a word to tick"
      />
      {nodes.length === 0 && (
        <p className="quiet">
          {ids.length === 0 ? 'The vocabulary is empty: Describe, Keywords.' : 'No word of the vocabulary fits.'}
        </p>
      )}
      <Tree
        aria-label="Words to tick"
        blockNode
        checkable
        checkStrictly
        selectable={false}
        height={HEIGHT_PX}
        itemHeight={ROW_PX}
        motion={false}
        treeData={nodes}
        defaultExpandAll
        key={sought}
        checkedKeys={{
          checked: standing.flatMap(([id, of]) => (of === 'all' ? [id] : [])),
          halfChecked: standing.flatMap(([id, of]) => (of === 'some' ? [id] : [])),
        }}
        onCheck={(_, { node }) => tick(wordOf(node.key))}
      />
    </div>
  );
}

interface NearProps extends Pick<Props, 'photoIds' | 'words'> {
  sought: string;
  standingOf: (word: string) => Standing;
  onTick: (word: string) => void;
}

/** What is likely to be wanted: the words of these photos, of the shoot, and those that were given last. */
function Near({ photoIds, words, sought, standingOf, onTick }: NearProps) {
  const recent = useGiving((state) => state.recent);
  // what stood there when it was opened stays in its place while it is ticked
  const [first] = useState(() => words.map(({ word }) => word));
  const [asked] = useState(() => (photoIds.length <= ASKED_MOST ? photoIds.join(' ') : null));
  const likely = useAsked(asked, () => session.search.suggest([...photoIds], LIKELY))?.answer ?? [];
  const groups = [
    ['here', first],
    ['in this shoot', likely.map(({ word }) => word)],
    ['given last', recent],
  ] as const;
  const shown = new Set<string>();
  return groups.map(([label, list]) => {
    const own = list.filter((word) => plain(word).includes(sought) && !shown.has(plain(word)));
    for (const word of own) shown.add(plain(word));
    if (own.length === 0) return null;
    return (
      <div key={label} className={styles.near} role="group" aria-label={`Words ${label}`}>
        <span>{label}</span>
        {own.map((word) => (
          <Checkbox
            key={word}
            checked={standingOf(word) === 'all'}
            indeterminate={standingOf(word) === 'some'}
            onChange={() => onTick(word)}
          >
            {word}
          </Checkbox>
        ))}
      </div>
    );
  });
}
