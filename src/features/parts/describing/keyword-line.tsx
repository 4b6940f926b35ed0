'use client';

// The keywords of the selection: those of all photos, and those of some with how many; given to all, taken from all,
// and the photos that lack one shown. While typing, words of the vocabulary are offered; words that are likely stand
// below, and wait to be asked.

import { AutoComplete, type InputRef, Input } from 'antd';
import { type ReactNode, useMemo, useRef, useState } from 'react';
import type { WordCount } from '@/core/fields/common-values';
import { fieldOf } from '@/core/fields/registry';
import { splitKeywords, wordsIn } from '@/core/fields/values';
import type { Suggestion } from '@/core/search/word-uses';
import { isUnknown } from '@/core/vocabulary/vocabulary';
import { count as digits } from '@/ui/format';
import { useKeys } from '@/ui/keys';
import { recordsOf } from '@/engine/selected-photos';
import { selectThese } from '@/features/parts/selection/selection';
import { session } from '@/engine/session';
import { useAsked } from '@/features/parts/session/use-asked';
import styles from './describing.module.css';
import { HelpedName, useFieldHelp } from './field-help';
import { giveWords, removeWords, wordsGiven } from './give-words';
import { NewMark } from './new-mark';
import { WordTicks } from './word-ticks';
import { useWords } from './words';

const OFFERED = 8;
const LIKELY = 6;

interface Props {
  words: WordCount[];
  photoIds: string[];
  origin: ReactNode;
}

export function KeywordLine({ words, photoIds, origin }: Props) {
  const count = photoIds.length;
  const [typed, setTyped] = useState('');
  const input = useRef<InputRef>(null);
  const help = useFieldHelp();
  useKeys({ k: () => input.current?.focus() });
  const last = lastFragment(typed);
  const options = useOffered(last);
  const chosen = useRef(false);
  const { shown, give: giveNow, take } = useAtOnce(words, photoIds);
  const give = (text: string) => {
    const split = splitKeywords(text);
    setTyped('');
    if (split.length > 0) giveNow(split);
  };
  return (
    <div className={styles.field} onKeyDownCapture={help.onKeyDown}>
      <div className={styles.head}>
        <HelpedName help={help} words={fieldOf('keywords').help}>
          <span className={styles.label} id="keywords-label">
            Keywords
          </span>
        </HelpedName>
        <WordTicks photoIds={photoIds} words={shown} onGive={(word) => giveNow([word])} onTake={take} />
        {origin}
      </div>
      <ul className={styles.keywords} aria-labelledby="keywords-label">
        {shown.map(({ word, count: carrying }) => (
          <KeywordItem
            key={word}
            word={word}
            carrying={carrying}
            of={count}
            onGive={() => giveNow([word])}
            onTake={() => take([word])}
            onLacking={() => void selectLacking(photoIds, word)}
          />
        ))}
      </ul>
      <AutoComplete
        value={typed}
        options={options}
        defaultActiveFirstOption={false}
        popupMatchSelectWidth={280}
        className={styles.typing}
        onChange={(text: string) => {
          if (!chosen.current) setTyped(text);
          chosen.current = false;
        }}
        onSelect={(_, option) => {
          chosen.current = true;
          give(`${typed.slice(0, typed.length - last.length)}"${(option as { word: string }).word}"`);
        }}
      >
        <Input
          ref={input}
          variant="borderless"
          aria-label="Add keywords"
          placeholder="add: comma or semicolon between words"
          onPressEnter={(event) =>
            !event.currentTarget.getAttribute('aria-activedescendant')?.match(/list_\d+$/) && give(typed)
          }
          onBlur={() => give(typed)}
          onPaste={(event) => {
            const text = event.clipboardData.getData('text');
            if (!/[\r\n]/.test(text)) return;
            event.preventDefault(); // a list of words, one a line
            setTyped(
              `${typed}${text
                .split(/[\r\n]+/)
                .filter((line) => line.trim() !== '')
                .join('; ')}`,
            );
          }}
          onKeyDown={(event) => {
            if (event.key !== 'Escape') return;
            setTyped('');
            input.current?.blur();
          }}
        />
      </AutoComplete>
      <Likely photoIds={photoIds} onGive={(word) => giveNow([word])} />
    </div>
  );
}

interface ItemProps {
  word: string;
  /** Of so many photos. */
  carrying: number;
  of: number;
  onGive: () => void;
  onTake: () => void;
  onLacking: () => void;
}

/** A keyword of the selection; one that only some carry can be given to all, and the others be selected. */
function KeywordItem({ word, carrying, of, onGive, onTake, onLacking }: ItemProps) {
  const isNew = useWords(({ vocabulary }) => isUnknown(vocabulary, word));
  return (
    <li data-some={carrying < of} data-new={isNew}>
      {carrying < of ? (
        <>
          <button
            type="button"
            onClick={onGive}
            title={`On ${carrying} of ${of}; give it to all`}
            aria-label={`${word} ${carrying}/${of}: give it to all`}
          >
            {word}{' '}
            <span className={styles.some}>
              {carrying}/{of}
            </span>
          </button>
          <button
            type="button"
            className={styles.lack}
            onClick={onLacking}
            title={`Select the ${of - carrying} that lack it`}
            aria-label={`${of - carrying} lack it: select the photos without “${word}”`}
          >
            {of - carrying} lack it
          </button>
        </>
      ) : (
        <span>{word}</span>
      )}
      {isNew && <NewMark word={word} />}
      <button type="button" className={styles.takeAway} onClick={onTake} aria-label={`Take away “${word}”`}>
        ×
      </button>
    </li>
  );
}

/** Words of the vocabulary and of the photos that go on from what is typed. */
function useOffered(last: string) {
  const completions = useWords((state) => state.completions);
  return useMemo(
    () =>
      completions.of(last, OFFERED).map(({ word, path, count: photos }, index) => ({
        key: `${index} ${word}`,
        value: `${index} ${word}`,
        word,
        label: (
          <span className={styles.offered}>
            <span>{word}</span>
            {path && <em>{path}</em>}
            <span className={styles.offeredCount}>{digits(photos)}</span>
          </span>
        ),
      })),
    [completions, last],
  );
}

/**
 * Words as they will stand when what was just done is in the catalog: with thousands of photos that takes its time, and
 * is shown at once.
 */
function useAtOnce(
  words: WordCount[],
  photoIds: string[],
): { shown: WordCount[]; give: (words: string[]) => void; take: (words: string[]) => void } {
  const [doing, setDoing] = useState<{ given: readonly string[]; taken: readonly string[] }>({ given: [], taken: [] });
  const until = (promise: Promise<void>, act: Partial<typeof doing>) => {
    setDoing((now) => ({ given: [...now.given, ...(act.given ?? [])], taken: [...now.taken, ...(act.taken ?? [])] }));
    void promise.finally(() => setDoing({ given: [], taken: [] }));
  };
  const there = words.filter(({ word }) => !doing.taken.includes(word) && !doing.given.includes(word));
  const given = [...new Set(doing.given)].map((word) => ({ word, count: photoIds.length }));
  return {
    shown: [...given, ...there],
    give: (list) => until(giveWords(photoIds, list), { given: wordsGiven(list) }),
    take: (list) => until(removeWords(photoIds, list), { taken: list }),
  };
}

/** What stands behind the last separator. */
const lastFragment = (typed: string): string => /[^,;]*$/.exec(typed)?.[0].trimStart() ?? '';

async function selectLacking(photoIds: readonly string[], word: string): Promise<void> {
  const lacking = (await recordsOf(photoIds))
    .filter(({ fields }) => !wordsIn(fields.keywords).includes(word))
    .map(({ id }) => id);
  if (lacking.length > 0) selectThese(lacking);
}

/** Words that are likely for the photos; only a click gives one. */
function Likely({ photoIds, onGive }: { photoIds: string[]; onGive: (word: string) => void }) {
  const asked = photoIds.length === 0 || photoIds.length > 2000 ? null : photoIds.join(' ');
  const found = useAsked(asked, () => session.search.suggest(photoIds, LIKELY), 250)?.answer ?? [];
  if (found.length === 0) return null;
  return (
    <div className={styles.likely} role="group" aria-label="Likely keywords">
      <span>likely</span>
      {found.map(({ word, because }) => (
        <button
          key={word}
          type="button"
          title={reason(because)}
          onClick={() => onGive(word)}
          aria-label={`Give “${word}”`}
        >
          + {word}
        </button>
      ))}
    </div>
  );
}

const reason = (because: Suggestion['because']): string =>
  because.kind === 'near'
    ? 'Photos taken within the hour have it'
    : because.kind === 'accession'
      ? 'Others of the accession have it'
      : `Often together with “${because.word}”`;
