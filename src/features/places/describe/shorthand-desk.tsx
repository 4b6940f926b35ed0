'use client';

// Shorthand lists: taken in from a table, or typed here; several may be offered at once.

import { App, Button, Checkbox, Input, Upload } from 'antd';
import { useState } from 'react';
import {
  type ShorthandEntry,
  type ShorthandList,
  readShorthand,
  shorthandConflicts,
  whyNoCode,
} from '@/core/describe/shorthand';
import { decodeTable, readTable, writeTable } from '@/core/text/delimited';
import { useLive } from '@/storage/catalog/live';
import { plural } from '@/ui/format';
import { saveText } from '@/ui/save-file';
import { session } from '@/engine/session';
import styles from './describe.module.css';

const WHY = {
  'no-code': 'no code in the first column',
  'no-expansion': 'nothing to expand to',
  'not-one-word': 'the code is not one word',
  'too-long': 'the code is longer than 24 letters',
};

export function ShorthandDesk() {
  const lists = (useLive(() => session.db.shorthand.toArray(), []) ?? [])
    .filter(({ deleted }) => !deleted)
    .sort((a, b) => a.name.localeCompare(b.name));
  const [chosenId, setChosenId] = useState<string | null>(null);
  const { message } = App.useApp();
  const chosen = lists.find(({ id }) => id === chosenId) ?? lists[0];
  const conflicts = shorthandConflicts(lists);
  const takeIn = async (file: File) => {
    const { entries, refused } = readShorthand(readTable(decodeTable(new Uint8Array(await file.arrayBuffer()))));
    if (entries.length === 0)
      return void message.error(`${file.name} was not taken in: no line has a code and what it stands for.`, 8);
    setChosenId(await session.keep('shorthand', { name: file.name.replace(/\.[^.]*$/, ''), entries, active: true }));
    void message.info(
      `${file.name}: ${plural(entries.length, 'code')} taken in.${
        refused.length > 0
          ? ` Left out: ${refused
              .slice(0, 5)
              .map(({ row, code, why }) => `line ${row}${code ? ` (${code})` : ''}, ${WHY[why]}`)
              .join('; ')}${refused.length > 5 ? `, and ${refused.length - 5} more` : ''}.`
          : ''
      }`,
      10,
    );
  };
  return (
    <section className={styles.page} aria-label="Shorthand">
      <header className={styles.bar}>
        <span className="quiet">
          A code typed as a word of its own is offered below the field; <kbd>Tab</kbd> lets it grow, <kbd>Tab</kbd>{' '}
          again says it the next way.
        </span>
        <span className={styles.push} />
        <Upload
          accept=".txt,.tsv,.csv"
          showUploadList={false}
          beforeUpload={(file) => {
            void takeIn(file);
            return false;
          }}
        >
          <Button size="small">Take in a table…</Button>
        </Upload>
        <Button
          size="small"
          onClick={() =>
            void session.keep('shorthand', { name: 'New list', entries: [], active: true }).then(setChosenId)
          }
        >
          New list
        </Button>
      </header>
      {lists.length === 0 && (
        <p className={styles.note}>
          No lists yet. A table has a code in its first column and what it grows into in the next ones: name, full name,
          name with role.
        </p>
      )}
      <div className={styles.wordsPage}>
        <ul className={styles.lists} aria-label="Lists">
          {lists.map((list) => (
            <li key={list.id}>
              <Checkbox
                checked={list.active}
                onChange={({ target }) => void session.changeKept('shorthand', list, { active: target.checked })}
                aria-label={`Offer the codes of ${list.name}`}
              />
              <button type="button" data-chosen={list.id === chosen?.id} onClick={() => setChosenId(list.id)}>
                {list.name} <span className="mono">{list.entries.length}</span>
              </button>
            </li>
          ))}
          {conflicts.length > 0 && (
            <li className={styles.conflicts}>
              {plural(conflicts.length, 'code')} mean{conflicts.length === 1 ? 's' : ''} different things in different
              lists, and all are offered:{' '}
              {conflicts
                .slice(0, 8)
                .map(({ code }) => code)
                .join(', ')}
            </li>
          )}
        </ul>
        {chosen && <ListForm key={chosen.id} list={chosen} />}
      </div>
    </section>
  );
}

function ListForm({ list }: { list: ShorthandList }) {
  const [name, setName] = useState(list.name);
  const [code, setCode] = useState('');
  const [words, setWords] = useState('');
  const wrong = code === '' ? null : whyNoCode(code.trim());
  const put = (entries: ShorthandEntry[]) => session.changeKept('shorthand', list, { entries });
  const add = async () => {
    const { entries } = readShorthand([[code, ...words.split(';')]]);
    if (entries.length === 0) return;
    await put([...list.entries.filter((entry) => entry.code !== code.trim()), ...entries]);
    setCode('');
    setWords('');
  };
  return (
    <div className={styles.listForm}>
      <div className={styles.row}>
        <Input
          size="small"
          value={name}
          aria-label="Name of the list"
          onChange={({ target }) => setName(target.value)}
          onBlur={() =>
            name.trim() !== '' &&
            name !== list.name &&
            void session.changeKept('shorthand', list, { name: name.trim() })
          }
        />
        <Button
          size="small"
          type="text"
          onClick={() =>
            saveText(
              `${list.name}.tsv`,
              writeTable(
                list.entries.map(({ code: own, expansions }) => [own, ...expansions]),
                '\t',
              ),
              'text/tab-separated-values',
            )
          }
        >
          Save as file…
        </Button>
        <Button
          size="small"
          type="text"
          danger
          onClick={() => void session.changeKept('shorthand', list, { deleted: true })}
        >
          Remove the list
        </Button>
      </div>
      <div className={styles.row}>
        <Input
          size="small"
          value={code}
          placeholder="code"
          aria-label="Code"
          style={{ width: 110 }}
          status={wrong ? 'error' : ''}
          onChange={({ target }) => setCode(target.value)}
        />
        <Input
          size="small"
          value={words}
          placeholder="what it grows into; semicolon between several ways"
          aria-label="What it grows into"
          onChange={({ target }) => setWords(target.value)}
          onPressEnter={() => void add()}
        />
        <Button size="small" onClick={() => void add()} disabled={wrong !== null || code === '' || words.trim() === ''}>
          Add
        </Button>
      </div>
      {wrong && <p className={styles.problem}>{WHY[wrong]}</p>}
      <table className={styles.codes}>
        <tbody>
          {list.entries.map((entry) => (
            <tr key={entry.code}>
              <th scope="row" className="mono">
                {entry.code}
              </th>
              <td>{entry.expansions.join(' · ')}</td>
              <td>
                <Button
                  size="small"
                  type="text"
                  onClick={() => void put(list.entries.filter((one) => one !== entry))}
                  aria-label={`Take out ${entry.code}`}
                >
                  ×
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
