'use client';

// What one photo is corrected by, put on the others that are selected: chosen part by part, as one change.

import { App, Button, Checkbox, Modal } from 'antd';
import { useState } from 'react';
import { planSet } from '@/core/fields/edits';
import { type Corrections, correctionsIn, correctionsValue } from '@/core/looks/corrections';
import { PARTS, type PartName, withParts } from '@/core/looks/parts';
import { photos as photosWords } from '@/ui/format';
import { useSelection } from '@/features/parts/selection/selection';
import { recordsOf } from '@/engine/selected-photos';
import { session } from '@/engine/session';

const USUAL: readonly PartName[] = PARTS.filter(({ isOwn }) => !isOwn).map(({ name }) => name);

/** @param photoId whose corrections they are */
export function CopyCorrections({ photoId, corrections }: { photoId: string; corrections: Corrections }) {
  const ids = useSelection((state) => state.ids);
  const { message } = App.useApp();
  const [isOpen, setOpen] = useState(false);
  const [parts, setParts] = useState<readonly PartName[]>(USUAL);
  const others = [...ids].filter((id) => id !== photoId);
  if (others.length === 0) return null;
  const put = async () => {
    setOpen(false);
    const chosen = new Set(parts);
    const edits = (await recordsOf(others)).flatMap((photo) =>
      planSet(
        [photo],
        'corrections',
        correctionsValue(withParts(correctionsIn(photo.fields.corrections), corrections, chosen)),
      ),
    );
    if (edits.length === 0) return void message.info('They are corrected like this already.');
    await session.change({ kind: 'fields', origin: 'person', edits });
    message.success(`Put on ${photosWords(edits.length)}. One undo takes it back.`);
  };
  return (
    <>
      <Button size="small" onClick={() => setOpen(true)}>
        Put on {photosWords(others.length)} more…
      </Button>
      <Modal
        open={isOpen}
        onCancel={() => setOpen(false)}
        title={`Put these corrections on ${photosWords(others.length)}`}
        okText={`Put on ${photosWords(others.length)}`}
        okButtonProps={{ disabled: parts.length === 0 }}
        onOk={() => void put()}
        cancelText="Leave it"
        width={420}
      >
        <p className="quiet">
          What is ticked becomes as it is here, also where it changes nothing here; all else stays. Exposure, light and
          frame are each picture’s own unless you tick them.
        </p>
        <Checkbox.Group
          value={[...parts]}
          onChange={(next) => setParts(next as PartName[])}
          style={{ display: 'grid', gap: 6 }}
          options={PARTS.map(({ name, label }) => ({ value: name, label }))}
        />
      </Modal>
    </>
  );
}
