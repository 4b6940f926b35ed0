'use client';

// A keyword that is not in the vocabulary says so where it stands, and is put right there.

import { Button, Popover } from 'antd';
import { useState } from 'react';
import { nearestKnown } from '@/core/vocabulary/vocabulary';
import { useEscape } from '@/ui/keys';
import styles from './describing.module.css';
import { acceptWords, putRight } from './give-words';
import { useWords } from './words';

export function NewMark({ word }: { word: string }) {
  const [open, setOpen] = useState(false);
  const vocabulary = useWords((state) => state.vocabulary);
  useEscape(open, () => setOpen(false));
  const near = open ? nearestKnown(vocabulary)(word) : null;
  const doing = (act: () => Promise<unknown>) => () => {
    setOpen(false);
    void act();
  };
  const choices = (
    <div className={styles.newChoices}>
      <p>“{word}” is not in the vocabulary.</p>
      <Button size="small" onClick={doing(() => acceptWords([word]))}>
        It belongs there
      </Button>
      {near !== null && (
        <Button size="small" onClick={doing(() => putRight([{ wrong: word, right: near }]))}>
          “{near}” was meant
        </Button>
      )}
    </div>
  );
  return (
    <Popover open={open} onOpenChange={setOpen} trigger="click" content={choices} destroyOnHidden>
      <button type="button" className={styles.fresh} aria-label={`new: “${word}” is not in the vocabulary`}>
        new
      </button>
    </Popover>
  );
}
