'use client';

// What is written on arrival: kits, keywords, marker, for all and for marked runs; and what the camera's clock was off
// by.

import { Button, Input, InputNumber, Radio, Select } from 'antd';
import { useState } from 'react';
import { splitKeywords } from '@/core/fields/values';
import { nameIn } from '@/core/names/file-names';
import { useLive } from '@/storage/catalog/live';
import type { SurveyedFrame } from '@/storage/jobs/source-survey';
import { plural } from '@/ui/format';
import { session } from '@/engine/session';
import { KitForm } from '@/features/parts/describing/kit-form';
import { runOf } from './run-of';
import { setSheet, useTakeIn } from './take-in-state';
import styles from './take-in.module.css';

export function ArrivalSection({ all }: { all: SurveyedFrame[] }) {
  const { sheet, mark, runs } = useTakeIn();
  const kits =
    useLive(async () =>
      (await session.db.kits.toArray()).filter(({ deleted }) => !deleted).sort((a, b) => a.name.localeCompare(b.name)),
    ) ?? [];
  const [form, setForm] = useState<'new' | string | null>(null);
  const options = kits.map(({ id, name }) => ({ value: id, label: name }));
  const edited = kits.find(({ id }) => id === form);
  const addRun = () => mark && useTakeIn.setState({ runs: [...runs, { ...mark, keywords: [], kitIds: [] }] });
  return (
    <section className={styles.section} aria-labelledby="take-in-arrival">
      <h2 id="take-in-arrival">What is written on arrival</h2>
      <div className={styles.fields}>
        <label htmlFor="take-in-kits">
          Kits <small className="quiet">prepared metadata</small>
        </label>
        <div className={styles.line}>
          <Select
            id="take-in-kits"
            mode="multiple"
            value={sheet.kitIds.filter((id) => kits.some((kit) => kit.id === id))}
            options={options}
            placeholder="none"
            onChange={(kitIds: string[]) => setSheet({ kitIds })}
            style={{ minWidth: 240, flex: 1 }}
          />
          {sheet.kitIds.length === 1 && form === null && (
            <Button size="small" type="text" onClick={() => setForm(sheet.kitIds[0] ?? null)}>
              Look into it
            </Button>
          )}
          {form === null && (
            <Button size="small" type="text" onClick={() => setForm('new')}>
              New kit
            </Button>
          )}
        </div>
        {form !== null && (
          <KitForm
            key={form}
            kit={edited ?? null}
            onDone={(id) => {
              setForm(null);
              if (id && !sheet.kitIds.includes(id)) setSheet({ kitIds: [...sheet.kitIds, id] });
            }}
          />
        )}
        <label htmlFor="take-in-keywords">Keywords</label>
        <Words id="take-in-keywords" words={sheet.keywords} onChange={(keywords) => setSheet({ keywords })} />
        <label htmlFor="take-in-marker">Marker</label>
        <Input
          id="take-in-marker"
          value={sheet.marker}
          placeholder="none"
          onChange={({ target }) => setSheet({ marker: target.value })}
        />
        {runs.map((run, index) => (
          <RunLine key={index} number={index} all={all} kits={options} />
        ))}
        <span />
        <div className={styles.line}>
          <Button size="small" disabled={!mark} onClick={addRun}>
            Words for the marked run{mark && ` (${plural(runOf(all, mark).length, 'frame')})`}
          </Button>
          <span className="quiet">The date taken stays as the camera wrote it.</span>
        </div>
        <label htmlFor="take-in-clock">Camera’s clock</label>
        <div className={styles.line}>
          <Clock />
        </div>
        <span>Previews</span>
        <Radio.Group
          value={sheet.previews}
          onChange={({ target }) => setSheet({ previews: target.value as typeof sheet.previews })}
          aria-label="Previews"
        >
          <Radio value="small">small ones</Radio>
          <Radio value="large">large ones too, behind the taking in</Radio>
          <Radio value="by-night">large ones by night</Radio>
        </Radio.Group>
      </div>
    </section>
  );
}

/** Words with commas or semicolons between; a blank does not part them. */
function Words({ id, words, onChange }: { id: string; words: string[]; onChange: (words: string[]) => void }) {
  return (
    <Select
      id={id}
      mode="tags"
      open={false}
      suffixIcon={null}
      value={words}
      tokenSeparators={[',', ';']}
      placeholder="comma or semicolon between words"
      onChange={(typed: string[]) => onChange([...new Set(typed.flatMap(splitKeywords))])}
    />
  );
}

function RunLine({
  number,
  all,
  kits,
}: {
  number: number;
  all: SurveyedFrame[];
  kits: { value: string; label: string }[];
}) {
  const runs = useTakeIn((state) => state.runs);
  const run = runs[number];
  if (!run) return null;
  const frames = runOf(all, run);
  const change = (patch: Partial<typeof run>) =>
    useTakeIn.setState({ runs: runs.map((one, index) => (index === number ? { ...one, ...patch } : one)) });
  const [first, last] = [frames[0], frames.at(-1)].map((item) => nameIn(item?.frame.key ?? ''));
  return (
    <>
      <span className={styles.run}>
        <span className="mono">
          {first}
          {last !== first && ` to ${last}`}
        </span>{' '}
        <span className="quiet">{plural(frames.length, 'frame')}</span>
      </span>
      <div className={styles.line}>
        <div style={{ flex: 2, display: 'grid' }}>
          <Words id={`take-in-run-${number}`} words={run.keywords} onChange={(keywords) => change({ keywords })} />
        </div>
        <Select
          mode="multiple"
          value={run.kitIds}
          options={kits}
          placeholder="kits"
          aria-label={`Kits of the run from ${first}`}
          onChange={(kitIds: string[]) => change({ kitIds })}
          style={{ flex: 1, minWidth: 90 }}
        />
        <Button
          size="small"
          type="text"
          aria-label={`Take the run from ${first} out`}
          onClick={() => useTakeIn.setState({ runs: runs.filter((_, index) => index !== number) })}
        >
          ×
        </Button>
      </div>
    </>
  );
}

/** What must be added to the camera's clock: counts for folders and names, and is kept in the accession's record. */
function Clock() {
  const seconds = useTakeIn((state) => state.sheet.clockSeconds);
  const [hours, minutes, rest] = [Math.trunc(seconds / 3600), Math.trunc((seconds % 3600) / 60), seconds % 60];
  const change = (h: number, m: number, s: number) => setSheet({ clockSeconds: h * 3600 + m * 60 + s });
  return (
    <>
      <InputNumber
        id="take-in-clock"
        aria-label="Hours to add"
        value={hours}
        min={-99}
        max={99}
        onChange={(value) => change(value ?? 0, minutes, rest)}
        style={{ width: 64 }}
      />{' '}
      h
      <InputNumber
        aria-label="Minutes to add"
        value={minutes}
        min={-59}
        max={59}
        onChange={(value) => change(hours, value ?? 0, rest)}
        style={{ width: 64 }}
      />{' '}
      min
      <InputNumber
        aria-label="Seconds to add"
        value={rest}
        min={-59}
        max={59}
        onChange={(value) => change(hours, minutes, value ?? 0)}
        style={{ width: 64 }}
      />{' '}
      s<span className="quiet">{seconds === 0 ? 'is right' : 'to be added, for folders and names'}</span>
    </>
  );
}
