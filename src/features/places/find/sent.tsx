'use client';

// A note that the selected photos went somewhere: to whom, when, and a remark. They are found by it ever after.

import { App, AutoComplete, Button, Input, Modal } from 'antd';
import { useState } from 'react';
import { useLive } from '@/storage/catalog/live';
import { photos, today } from '@/ui/format';
import { useSelection } from '@/features/parts/selection/selection';
import { session } from '@/engine/session';
import styles from './find.module.css';

export const SentDialog = ({ open, onClose }: { open: boolean; onClose: () => void }) => (
  <Modal
    open={open}
    onCancel={onClose}
    footer={null}
    title={`Note where ${photos(useSelection.getState().ids.size)} went`}
    destroyOnHidden
    width={420}
  >
    <SentForm onDone={onClose} />
  </Modal>
);

function SentForm({ onDone }: { onDone: () => void }) {
  const known =
    useLive(
      async () => [
        ...new Set((await session.db.deliveries.toArray()).filter(({ deleted }) => !deleted).map(({ name }) => name)),
      ],
      [],
    ) ?? [];
  const [name, setName] = useState('');
  const [date, setDate] = useState(today());
  const [note, setNote] = useState('');
  const { message } = App.useApp();
  const dated = /^\d{4}-\d{2}-\d{2}$/.test(date);
  const keep = async () => {
    if (name.trim() === '' || !dated) return;
    const photoIds = [...useSelection.getState().ids];
    const id = await session.keep('deliveries', { name: name.trim(), date, note: note.trim(), photoIds });
    if (id === null) return;
    message.success(`${photos(photoIds.length)} noted as sent to “${name.trim()}”`);
    onDone();
  };
  return (
    <form
      className={styles.edit}
      style={{ width: '100%' }}
      onSubmit={(event) => {
        event.preventDefault();
        void keep();
      }}
    >
      <label>
        To whom, or what for{' '}
        <AutoComplete
          autoFocus
          style={{ width: '100%' }}
          value={name}
          onChange={setName}
          options={known.map((value) => ({ value }))}
        />
      </label>
      <label>
        When{' '}
        <Input
          value={date}
          onChange={(event) => setDate(event.target.value)}
          status={dated ? '' : 'error'}
          placeholder="2026-11-26"
        />
      </label>
      <label>
        Remark <Input value={note} onChange={(event) => setNote(event.target.value)} />
      </label>
      <Button type="primary" htmlType="submit" disabled={name.trim() === '' || !dated}>
        Note it
      </Button>
    </form>
  );
}
