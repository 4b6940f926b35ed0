'use client';

// The scope as a table, out and back in. What a table that comes back would change is shown before it does.

import { App, Button, Checkbox, Segmented, Select, Upload } from 'antd';
import { useMemo, useState } from 'react';
import { previewEdits } from '@/core/fields/edits-summary';
import type { FieldKey } from '@/core/fields/registry';
import { NO_PHOTOS } from '@/core/search/photo-order';
import { type Separator, decodeTable, readTable, writeTable } from '@/core/text/delimited';
import { TABLE_FIELDS, type TableReading, photoRows, readPhotoRows } from '@/core/describe/photo-table';
import { rowProblemSentence } from '@/messages/table';
import { pathsOf } from '@/storage/catalog/describing';
import { count, photos as photosWords } from '@/ui/format';
import { saveText } from '@/ui/save-file';
import { EditsTable } from '@/features/parts/describing/edits-preview';
import { useResult } from '@/features/parts/search/use-result';
import { recordsOf } from '@/engine/selected-photos';
import { useSelection } from '@/features/parts/selection/selection';
import { session } from '@/engine/session';
import styles from './describe.module.css';

const USUAL: FieldKey[] = [
  'headline',
  'caption',
  'keywords',
  'personShown',
  'sublocation',
  'city',
  'country',
  'captured',
];
const SEPARATORS: { value: Separator; label: string }[] = [
  { value: ',', label: 'comma' },
  { value: ';', label: 'semicolon' },
  { value: '\t', label: 'tab' },
];

export function TableDesk() {
  const order = useResult((state) => state.result)?.order ?? NO_PHOTOS;
  const selected = useSelection((state) => state.ids);
  const [keys, setKeys] = useState<FieldKey[]>(USUAL);
  const [separator, setSeparator] = useState<Separator>(',');
  const ids = selected.size > 1 ? [...selected] : order.slice(0, order.length);
  const [busy, setBusy] = useState(false);
  const giveOut = async () => {
    setBusy(true);
    const paths = await pathsOf(session.db, ids);
    const rows = photoRows(
      (await recordsOf(ids)).map((photo) => ({ ...photo, path: paths.get(photo.id) ?? '' })),
      keys,
    );
    // with the mark, spreadsheets take it for what it is
    saveText(`photos.${separator === '\t' ? 'tsv' : 'csv'}`, `\uFEFF${writeTable(rows, separator)}`, 'text/csv');
    setBusy(false);
  };
  return (
    <section className={styles.page} aria-label="Table">
      <h2>Out</h2>
      <div className={styles.bar}>
        <Select<FieldKey[]>
          mode="multiple"
          value={keys}
          onChange={setKeys}
          options={TABLE_FIELDS.map(({ key, label }) => ({ value: key, label }))}
          showSearch={{ optionFilterProp: 'label' }}
          className={styles.grow}
          aria-label="Fields of the table"
        />
        <Segmented<Separator>
          size="small"
          value={separator}
          onChange={setSeparator}
          options={SEPARATORS}
          aria-label="What parts the cells"
        />
        <Button
          type="primary"
          loading={busy}
          disabled={ids.length === 0 || keys.length === 0}
          onClick={() => void giveOut()}
        >
          Save {photosWords(ids.length)} as file…
        </Button>
      </div>
      <p className="quiet">
        A row is a photo, found again by its first column, whatever a spreadsheet does to the others. It is your own
        table, to be changed and taken back in: private words are in it. For others there is the table of captions in
        Send out.
      </p>
      <h2>Back in</h2>
      <BackIn />
    </section>
  );
}

interface Read {
  name: string;
  rows: string[][];
}

function BackIn() {
  const [read, setRead] = useState<Read | null>(null);
  const [emptying, setEmptying] = useState(false);
  const [reading, setReading] = useState<TableReading | null>(null);
  const { message } = App.useApp();
  const preview = useMemo(() => (reading ? previewEdits(reading.edits) : null), [reading]);
  const look = async ({ name, rows }: Read, takesAway: boolean) => {
    const head = (rows[0] ?? []).map((cell) => cell.trim().toLowerCase());
    const idAt = head.indexOf('photo');
    const known = await recordsOf([...new Set(rows.slice(1).map((cells) => (cells[idAt] ?? '').trim()))]);
    const found = readPhotoRows(rows, new Map(known.map((photo) => [photo.id, photo])), takesAway);
    if ('refused' in found) {
      setReading(null);
      return void message.error(
        `${name} was not read. ${found.refused === 'no-head' ? 'Its first line has no column “photo”, which says which photo a row is.' : 'None of its columns is a field.'}`,
        8,
      );
    }
    setRead({ name, rows });
    setReading(found);
  };
  const takeIn = async (file: File) =>
    look({ name: file.name, rows: readTable(decodeTable(new Uint8Array(await file.arrayBuffer()))) }, emptying);
  const apply = async () => {
    if (!reading) return;
    await session.change({ kind: 'fields', origin: 'person', edits: reading.edits });
    void message.success(`${photosWords(preview?.photos ?? 0)} changed. One undo takes it back.`);
    setReading(null);
  };
  return (
    <>
      <div className={styles.bar}>
        <Upload
          accept=".csv,.tsv,.txt"
          showUploadList={false}
          beforeUpload={(file) => {
            void takeIn(file);
            return false;
          }}
        >
          <Button>Take in a table…</Button>
        </Upload>
        <Checkbox
          checked={emptying}
          onChange={({ target }) => {
            setEmptying(target.checked);
            if (read && reading) void look(read, target.checked);
          }}
        >
          an empty cell takes away what stands there
        </Checkbox>
      </div>
      {reading && preview && read && (
        <div className={styles.reading}>
          <p>
            {read.name}: {photosWords(reading.rows)}, of which {photosWords(preview.photos)} would change.
            {reading.unknownColumns.length > 0 &&
              ` Columns that are no field, left out: ${reading.unknownColumns.join(', ')}.`}
          </p>
          {reading.problems.length > 0 && (
            <details open className={styles.problems}>
              <summary>{count(reading.problems.length)} cells or rows left out</summary>
              <ul>
                {reading.problems.slice(0, 50).map((problem) => (
                  <li key={`${problem.row} ${problem.what}`}>{rowProblemSentence(problem)}</li>
                ))}
              </ul>
            </details>
          )}
          <EditsTable preview={preview} label={`What ${read.name} changes`} />
          <div className={styles.row}>
            <Button type="primary" disabled={reading.edits.length === 0} onClick={() => void apply()}>
              Change {photosWords(preview.photos)}
            </Button>
            <Button onClick={() => setReading(null)}>Leave it</Button>
          </div>
        </div>
      )}
    </>
  );
}
