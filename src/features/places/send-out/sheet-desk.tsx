'use client';

// Contact sheets and labels: how they are set, one page as it will print, and the PDF of all.

import { App, Button, Checkbox, Input, InputNumber, Progress, Select } from 'antd';
import { useEffect, useRef, useState } from 'react';
import { z } from 'zod';
import {
  NEW_LABELS,
  NEW_SHEET_SETTINGS,
  SHEET_PAPERS,
  type SheetPaper,
  type SheetSettings,
  pagesFor,
} from '@/core/send-out/sheet';
import { bytes, count, photos as photosWords, plural, today } from '@/ui/format';
import { keptChoice } from '@/ui/kept-choice';
import { saveBlob } from '@/ui/save-file';
import { session } from '@/engine/session';
import styles from './send-out.module.css';
import { SheetPreview } from './sheet-preview';
import { sheetSources } from './sheet-sources';

const LIMITS = { cells: 40, marginMm: 60, points: 40, text: 2000 } as const;
const PAPERS = Object.keys(SHEET_PAPERS) as SheetPaper[];

const settingsSchema: z.ZodType<SheetSettings> = z.object({
  kind: z.enum(['contact-sheet', 'labels']),
  paper: z.enum(PAPERS as [SheetPaper, ...SheetPaper[]]),
  landscape: z.boolean(),
  columns: z.number().int().min(1).max(LIMITS.cells),
  rows: z.number().int().min(1).max(LIMITS.cells),
  marginMm: z.number().min(0).max(LIMITS.marginMm),
  gapMm: z.number().min(0).max(LIMITS.marginMm),
  header: z.string().max(LIMITS.text),
  footer: z.string().max(LIMITS.text),
  pageNumbers: z.boolean(),
  text: z.string().max(LIMITS.text),
  fontPoints: z.number().min(4).max(LIMITS.points),
  rating: z.boolean(),
  marker: z.boolean(),
});

const USED = {
  'contact-sheet': keptChoice('wembo-contact-sheet', settingsSchema, NEW_SHEET_SETTINGS),
  labels: keptChoice('wembo-labels', settingsSchema, NEW_LABELS),
};

interface Props {
  kind: SheetSettings['kind'];
  photoIds: readonly string[];
}

export function SheetDesk({ kind, photoIds }: Props) {
  const use = USED[kind];
  const settings = use();
  const set = (patch: Partial<SheetSettings>) => use.setState(patch);
  const pages = pagesFor(settings, photoIds.length);
  return (
    <div className={styles.desk}>
      <section className={styles.panel} aria-label="How it is set">
        <header>
          <h2>{kind === 'labels' ? 'Labels for the backs of prints' : 'Contact sheet'}</h2>
        </header>
        <SheetForm settings={settings} onChange={set} />
        <p>
          <Button
            size="small"
            type="text"
            onClick={() => use.setState(kind === 'labels' ? NEW_LABELS : NEW_SHEET_SETTINGS)}
          >
            As it came
          </Button>
        </p>
      </section>
      <section className={styles.panel} aria-label="As it will print">
        <header>
          <h2>As it will print</h2>
        </header>
        {photoIds.length === 0 ? (
          <p>No photo is in this search, and none is selected. Find some first.</p>
        ) : (
          <>
            <Making settings={settings} photoIds={photoIds} pages={pages} />
            <SheetPreview settings={settings} photoIds={photoIds} pages={pages} />
          </>
        )}
      </section>
    </div>
  );
}

function SheetForm({
  settings,
  onChange,
}: {
  settings: SheetSettings;
  onChange: (patch: Partial<SheetSettings>) => void;
}) {
  const isLabels = settings.kind === 'labels';
  const number = (id: string, value: number, most: number, set: (value: number) => void, least = 1) => (
    <InputNumber
      id={id}
      min={least}
      max={most}
      value={value}
      onChange={(next) => next !== null && set(next)}
      style={{ width: 74 }}
    />
  );
  return (
    <div className={styles.fields}>
      <label htmlFor="sheet-paper">Paper</label>
      <span className={styles.row}>
        <Select<SheetPaper>
          id="sheet-paper"
          value={settings.paper}
          options={PAPERS.map((value) => ({ value, label: value }))}
          onChange={(paper) => onChange({ paper })}
          style={{ width: 100 }}
        />
        <Checkbox checked={settings.landscape} onChange={({ target }) => onChange({ landscape: target.checked })}>
          lying
        </Checkbox>
      </span>
      <label htmlFor="sheet-columns">Columns</label>
      <span className={styles.row}>
        {number('sheet-columns', settings.columns, LIMITS.cells, (columns) => onChange({ columns }))}
        <label htmlFor="sheet-rows">Rows</label>
        {number('sheet-rows', settings.rows, LIMITS.cells, (rows) => onChange({ rows }))}
      </span>
      <label htmlFor="sheet-margin">Margin, mm</label>
      <span className={styles.row}>
        {number('sheet-margin', settings.marginMm, LIMITS.marginMm, (marginMm) => onChange({ marginMm }), 0)}
        <label htmlFor="sheet-gap">Between, mm</label>
        {number('sheet-gap', settings.gapMm, LIMITS.marginMm, (gapMm) => onChange({ gapMm }), 0)}
      </span>
      <label htmlFor="sheet-text">{isLabels ? 'On each label' : 'Under each picture'}</label>
      <Input.TextArea
        id="sheet-text"
        value={settings.text}
        maxLength={LIMITS.text}
        autoSize={{ minRows: 2, maxRows: 8 }}
        onChange={({ target }) => onChange({ text: target.value })}
      />
      <span />
      <span className="quiet">
        A line each. [=file], [=headline], [=caption], [=creator], [=date], [=place] and any other field stand for what
        each photo says by that name. Private words stay here.
      </span>
      <label htmlFor="sheet-points">Letters, points</label>
      {number('sheet-points', settings.fontPoints, LIMITS.points, (fontPoints) => onChange({ fontPoints }), 4)}
      <label htmlFor="sheet-header">Header</label>
      <Input
        id="sheet-header"
        value={settings.header}
        maxLength={LIMITS.text}
        onChange={({ target }) => onChange({ header: target.value })}
      />
      <label htmlFor="sheet-footer">Footer</label>
      <Input
        id="sheet-footer"
        value={settings.footer}
        maxLength={LIMITS.text}
        onChange={({ target }) => onChange({ footer: target.value })}
      />
      <span />
      <span className={styles.row}>
        <Checkbox checked={settings.pageNumbers} onChange={({ target }) => onChange({ pageNumbers: target.checked })}>
          page numbers
        </Checkbox>
        {!isLabels && (
          <>
            <Checkbox checked={settings.rating} onChange={({ target }) => onChange({ rating: target.checked })}>
              rating
            </Checkbox>
            <Checkbox checked={settings.marker} onChange={({ target }) => onChange({ marker: target.checked })}>
              marker
            </Checkbox>
          </>
        )}
      </span>
    </div>
  );
}

interface State {
  done: number;
  cancel: () => void;
}

function Making({
  settings,
  photoIds,
  pages,
}: {
  settings: SheetSettings;
  photoIds: readonly string[];
  pages: number;
}) {
  const { message } = App.useApp();
  const [state, setState] = useState<State | null>(null);
  const [waiting, setWaiting] = useState<string[]>([]);
  const alive = useRef(true);
  useEffect(() => {
    alive.current = true;
    return () => {
      alive.current = false;
    };
  }, []);
  const make = async () => {
    const abort = new AbortController();
    let done = 0;
    const tell = (more: number) => {
      done += more;
      if (alive.current) setState({ done, cancel: () => abort.abort() });
    };
    tell(0);
    try {
      const { sources, without } = await sheetSources(photoIds, settings, abort.signal, () => tell(0.5));
      const name = `${settings.kind} ${today()}`;
      const pdf = await session.sheets.draw(
        { settings, photos: sources, title: settings.header || name },
        (drawn) => tell(drawn / 2),
        abort.signal,
      );
      saveBlob(`${name}.pdf`, pdf);
      setWaiting(without);
      message.success(`${photosWords(sources.length)} on ${plural(pages, 'page')}, ${bytes(pdf.size)}`);
    } catch (error) {
      if (!abort.signal.aborted)
        message.error(`The PDF was not made: ${error instanceof Error ? error.message : String(error)}`);
    } finally {
      if (alive.current) setState(null);
    }
  };
  return (
    <>
      <p className={styles.start}>
        <Button type="primary" disabled={state !== null} onClick={() => void make()}>
          Save as PDF
        </Button>
        <span className="quiet">
          {photosWords(photoIds.length)} on {plural(pages, 'page')}
        </span>
        {state && (
          <Button size="small" onClick={state.cancel}>
            Cancel
          </Button>
        )}
      </p>
      {state && (
        <Progress percent={Math.floor((100 * state.done) / photoIds.length)} size="small" aria-label="pictures drawn" />
      )}
      {waiting.length > 0 && (
        <p className={styles.changed} role="status">
          {count(waiting.length)} without a picture, because none is drawn yet and no drive with them is connected:{' '}
          {waiting.slice(0, 5).join(', ')}
          {waiting.length > 5 ? ' …' : ''}
        </p>
      )}
    </>
  );
}
