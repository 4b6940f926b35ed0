'use client';

// Dates of the selection put right; what comes out is shown first.

import { Button, Drawer, Input, Radio } from 'antd';
import { useEffect, useState } from 'react';
import { previewEdits } from '@/core/fields/edits-summary';
import { type DateAct, type DatesPlan, isZoneText, parseShift, planDates } from '@/core/describe/dates';
import { parseCaptured } from '@/core/time/captured';
import { photos } from '@/ui/format';
import { recordsOf } from '@/engine/selected-photos';
import { session } from '@/engine/session';
import styles from './describing.module.css';
import { EditsTable } from './edits-preview';

const ACTS: { value: DateAct['kind']; label: string; example: string }[] = [
  { value: 'shift', label: 'Move all by', example: '+1:30, −0:00:45, 2 h, 3 days' },
  { value: 'first', label: 'Set the first to, the others follow', example: '2019-07-04T14:03:22' },
  { value: 'set', label: 'Set all to', example: '1968-07, or 1968' },
  { value: 'zone', label: 'Say the zone, the digits stay', example: '+01:00' },
  { value: 'in-zone', label: 'Say the moment in another zone', example: '+01:00' },
];

function actOf(kind: DateAct['kind'], typed: string): DateAct | null {
  const text = typed.trim();
  if (text === '') return null;
  switch (kind) {
    case 'shift': {
      const seconds = parseShift(text);
      return seconds === null ? null : { kind, seconds };
    }
    case 'first':
      return parseCaptured(text) ? { kind, at: text } : null;
    case 'set':
      return parseCaptured(text) ? { kind, to: text } : null;
    case 'zone':
      return isZoneText(text) ? { kind, offset: text } : null;
    case 'in-zone':
      return isZoneText(text) ? { kind, offset: text } : null;
  }
}

export function DatesButton({ ids }: { ids: readonly string[] }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button size="small" onClick={() => setOpen(true)}>
        Dates…
      </Button>
      <Drawer
        open={open}
        onClose={() => setOpen(false)}
        size={640}
        title={`Dates of ${photos(ids.length)}`}
        destroyOnHidden
      >
        <Dates ids={ids} onDone={() => setOpen(false)} />
      </Drawer>
    </>
  );
}

function Dates({ ids, onDone }: { ids: readonly string[]; onDone: () => void }) {
  const [kind, setKind] = useState<DateAct['kind']>('shift');
  const [typed, setTyped] = useState('');
  const [plan, setPlan] = useState<DatesPlan | null>(null);
  const act = actOf(kind, typed);
  const key = ids.join(' ');
  useEffect(() => {
    let current = true;
    const now = actOf(kind, typed);
    void recordsOf(key.split(' ')).then((found) => current && setPlan(now && planDates(found, now)));
    return () => {
      current = false;
    };
  }, [kind, typed, key]);
  const apply = async () => {
    if (!plan) return;
    await session.change({ kind: 'fields', origin: 'person', edits: plan.edits });
    onDone();
  };
  return (
    <div className={styles.doing}>
      <Radio.Group
        value={kind}
        onChange={({ target }) => {
          setKind(target.value as DateAct['kind']);
          setTyped('');
        }}
        options={ACTS.map(({ value, label }) => ({ value, label }))}
        style={{ display: 'flex', flexDirection: 'column', gap: 4 }}
      />
      <Input
        value={typed}
        onChange={({ target }) => setTyped(target.value)}
        placeholder={ACTS.find(({ value }) => value === kind)?.example}
        aria-label="Date, zone or shift"
        status={typed.trim() !== '' && !act ? 'error' : ''}
        onPressEnter={() => void apply()}
      />
      <p className="quiet">
        The date as it was written at first stays as the date digitised, where nothing stands there.
      </p>
      {plan && plan.without > 0 && (
        <p>
          {photos(plan.without)} {plan.without === 1 ? 'has' : 'have'} no date that this can be done to, and{' '}
          {plan.without === 1 ? 'stays' : 'stay'} as {plan.without === 1 ? 'it is' : 'they are'}.
        </p>
      )}
      {plan && <EditsTable preview={previewEdits(plan.edits)} label="What becomes of the dates" />}
      <Button type="primary" disabled={!plan || plan.edits.length === 0} onClick={() => void apply()}>
        {plan && plan.edits.length > 0
          ? `Change ${photos(new Set(plan.edits.map(({ photoId }) => photoId)).size)}`
          : 'Nothing to change'}
      </Button>
    </div>
  );
}
