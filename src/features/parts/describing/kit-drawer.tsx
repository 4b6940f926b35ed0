'use client';

// Kits: put on the selection after what they will do was seen; made anew or from what a photo says; taken in and given
// out as files.

import { App, Button, Drawer, Upload } from 'antd';
import { useEffect, useState } from 'react';
import { create } from 'zustand';
import { type EditsPreview, previewEdits } from '@/core/fields/edits-summary';
import { WRITTEN_FIELDS } from '@/core/fields/registry';
import type { FieldEdit } from '@/core/fields/edits';
import type { Kit, KitEntry } from '@/core/describe/kit';
import { keptText, parseKept } from '@/storage/archive/saved-files';
import { planKit } from '@/storage/catalog/describing';
import { useLive } from '@/storage/catalog/live';
import { photos } from '@/ui/format';
import { useKeys } from '@/ui/keys';
import { saveText } from '@/ui/save-file';
import { useSelection } from '@/features/parts/selection/selection';
import { session } from '@/engine/session';
import styles from './describing.module.css';
import { EditsTable } from './edits-preview';
import { KitForm, isOfKits } from './kit-form';

/** Kits that a digit reaches. */
const BY_DIGIT = 9;

export function useKits(): Kit[] {
  return (useLive(() => session.db.kits.toArray(), []) ?? [])
    .filter(({ deleted }) => !deleted)
    .sort((a, b) => a.name.localeCompare(b.name));
}

/** For which photos the drawer is open. */
const useKitsOpen = create<{ ids: readonly string[] | null }>(() => ({ ids: null }));

const openKits = (ids: readonly string[]): void => useKitsOpen.setState({ ids: [...ids] });

export const KitsButton = ({ ids }: { ids: readonly string[] }) => (
  <Button size="small" onClick={() => openKits(ids)}>
    Kits… <kbd>P</kbd>
  </Button>
);

/** The drawer over every place, and the key `P`, which opens it for what is selected. */
export function KitsDrawer() {
  const ids = useKitsOpen((state) => state.ids);
  const close = () => useKitsOpen.setState({ ids: null });
  useKeys({ p: () => useSelection.getState().ids.size > 0 && openKits([...useSelection.getState().ids]) });
  return (
    <Drawer
      open={ids !== null}
      onClose={close}
      size={860}
      title={`Kits for ${photos(ids?.length ?? 0)}`}
      destroyOnHidden
    >
      {ids && <Kits ids={ids} onDone={close} />}
    </Drawer>
  );
}

export function Kits({ ids, onDone }: { ids: readonly string[]; onDone?: () => void }) {
  const kits = useKits();
  const [chosenId, setChosenId] = useState<string | null>(null);
  const [form, setForm] = useState<{ kit: Kit | null; start: KitEntry[] } | null>(null);
  const { message } = App.useApp();
  const chosen = kits.find(({ id }) => id === chosenId) ?? null;
  useDigits((digit) => setChosenId(kits[digit - 1]?.id ?? chosenId), form === null);
  const fromPhoto = async () => {
    const photo = await session.db.photos.get(useSelection.getState().focus ?? ids[0] ?? '');
    const entries = WRITTEN_FIELDS.flatMap(({ key, group }): KitEntry[] => {
      const said = photo?.fields[key];
      return said === undefined || group === 'judgement' || !isOfKits(key)
        ? []
        : [{ key, mode: key === 'keywords' ? 'add' : 'fill', value: said }];
    });
    setForm({ kit: null, start: entries });
  };
  const takeIn = async (file: File) => {
    try {
      const read = parseKept('kits', await file.text(), file.name);
      for (const { name, entries } of read) await session.keep('kits', { name, entries });
      void message.success(read.length === 1 ? `The kit “${read[0]?.name}” is here.` : `${read.length} kits are here.`);
    } catch (error) {
      void message.error(`Nothing was taken in. ${error instanceof Error ? error.message : String(error)}`, 8);
    }
  };
  return (
    <div className={styles.kits}>
      <div className={styles.kitList}>
        <p className="quiet">Prepared metadata</p>
        {kits.map((kit, index) => (
          <button
            key={kit.id}
            type="button"
            className={styles.kitChoice}
            aria-pressed={kit.id === chosenId}
            onClick={() => {
              setChosenId(kit.id);
              setForm(null);
            }}
          >
            {kit.name}
            {index < BY_DIGIT && <kbd>{index + 1}</kbd>}
          </button>
        ))}
        {kits.length === 0 && (
          <p className="quiet">No kits yet. A kit holds field values that are put on many photos at once.</p>
        )}
        <div className={styles.doing}>
          <Button size="small" onClick={() => setForm({ kit: null, start: [] })}>
            New kit
          </Button>
          {ids.length > 0 && (
            <Button size="small" onClick={() => void fromPhoto()}>
              New kit from this photo
            </Button>
          )}
          <Upload
            accept=".json"
            showUploadList={false}
            beforeUpload={(file) => {
              void takeIn(file);
              return false;
            }}
          >
            <Button size="small">Load a kit file…</Button>
          </Upload>
        </div>
      </div>
      <div className={styles.doing}>
        {form && (
          <KitForm
            key={form.kit?.id ?? 'new'}
            kit={form.kit}
            start={form.start}
            onDone={(id) => {
              setForm(null);
              if (id) setChosenId(id);
            }}
          />
        )}
        {!form && chosen && (
          <KitOn
            key={chosen.id}
            kit={chosen}
            ids={ids}
            onEdit={() => setForm({ kit: chosen, start: [] })}
            {...(onDone && { onDone })}
          />
        )}
        {!form && !chosen && kits.length > 0 && (
          <p className="quiet">Choose a kit: what it would change is shown first.</p>
        )}
      </div>
    </div>
  );
}

function useDigits(onDigit: (digit: number) => void, active: boolean): void {
  useEffect(() => {
    if (!active) return;
    const onKey = (event: KeyboardEvent) => {
      if (/^[1-9]$/.test(event.key) && !(event.target instanceof Element && event.target.matches('input, textarea')))
        onDigit(Number(event.key));
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  });
}

/** What the kit would change on the photos, and the act. */
function KitOn({
  kit,
  ids,
  onEdit,
  onDone,
}: {
  kit: Kit;
  ids: readonly string[];
  onEdit: () => void;
  onDone?: () => void;
}) {
  const [plan, setPlan] = useState<{ edits: FieldEdit[]; preview: EditsPreview } | null>(null);
  const { message } = App.useApp();
  const key = ids.join(' ');
  useEffect(() => {
    let current = true;
    planKit(session.db, key === '' ? [] : key.split(' '), kit.entries).then(
      (edits) => current && setPlan({ edits, preview: previewEdits(edits) }),
      () => {},
    );
    return () => {
      current = false;
    };
  }, [key, kit]);
  const putOn = async () => {
    if (!plan || plan.edits.length === 0) return;
    await session.change({ kind: 'fields', origin: 'person', edits: plan.edits });
    void message.success(`“${kit.name}” is on ${photos(plan.preview.photos)}.`);
    onDone?.();
  };
  return (
    <>
      <div className={styles.line}>
        <strong>{kit.name}</strong>
        <span className={styles.push} />
        <Button size="small" type="text" onClick={onEdit}>
          Look into it
        </Button>
        <Button size="small" type="text" onClick={() => saveText(`${kit.name}.kit.json`, keptText('kits', [kit]))}>
          Save as file…
        </Button>
      </div>
      {ids.length === 0 ? (
        <p className="quiet">Select photos to put it on.</p>
      ) : (
        plan && <EditsTable preview={plan.preview} label={`What “${kit.name}” changes`} />
      )}
      {ids.length > 0 && plan && (
        <Button type="primary" autoFocus disabled={plan.edits.length === 0} onClick={() => void putOn()}>
          {plan.edits.length === 0 ? 'Nothing to change' : `Put it on ${photos(plan.preview.photos)}`}
        </Button>
      )}
    </>
  );
}
