'use client';

import { Input, type InputRef } from 'antd';
import { type ReactNode, useRef, useState } from 'react';
import { planList } from '@/core/changes/change';
import type { WordCount } from '@/core/changes/selection';
import { splitKeywords } from '@/core/fields/values';
import { useKeys } from '@/ui/keys';
import { selectedPhotos } from '../session/rate';
import { session } from '../session/session';
import styles from './record-card.module.css';

async function changeKeywords(add: string[], takeAway: string[]): Promise<void> {
  await session.change({ kind: 'fields', origin: 'person', edits: planList(await selectedPhotos(), 'keywords', add, takeAway) });
}

/** The keywords of the selection: those of all photos, and those of some with how many; added and taken away for all. */
export function KeywordLine({ words, count, origin }: { words: WordCount[]; count: number; origin: ReactNode }) {
  const [typed, setTyped] = useState('');
  const input = useRef<InputRef>(null);
  useKeys({ k: () => input.current?.focus() });
  const add = () => {
    const split = splitKeywords(typed);
    setTyped('');
    if (split.length > 0) void changeKeywords(split, []);
  };
  return (
    <div className={styles.field}>
      <div className={styles.structureHead}><span className={styles.label} id="keywords-label">Keywords</span>{origin}</div>
      <ul className={styles.keywords} aria-labelledby="keywords-label">
        {words.map(({ word, count: carrying }) => (
          <li key={word} data-some={carrying < count}>
            {carrying < count ? (
              <button type="button" onClick={() => void changeKeywords([word], [])} title={`On ${carrying} of ${count}; give it to all`} aria-label={`${word} ${carrying}/${count}: give it to all`}>{word} <span className={styles.some}>{carrying}/{count}</span></button>
            ) : (
              <span>{word}</span>
            )}
            <button type="button" className={styles.takeAway} onClick={() => void changeKeywords([], [word])} aria-label={`Take away “${word}”`}>×</button>
          </li>
        ))}
      </ul>
      <Input
        ref={input} value={typed} variant="borderless" aria-label="Add keywords" placeholder="add: comma or semicolon between words"
        onChange={(event) => setTyped(event.target.value)} onPressEnter={add} onBlur={add}
        onKeyDown={(event) => {
          if (event.key !== 'Escape') return;
          setTyped('');
          input.current?.blur();
        }}
      />
    </div>
  );
}
