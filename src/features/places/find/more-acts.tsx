'use client';

// What is done to the selected photos more seldom: put together as a set, noted as sent, copied, drawn large.

import { App, Button, Dropdown } from 'antd';
import Link from 'next/link';
import { useState } from 'react';
import { planGivenSet } from '@/core/sift/given-set';
import { ALONE } from '@/core/sift/sets';
import { useLive } from '@/storage/catalog/live';
import { fullPreviewBytes } from '@/storage/file-tasks/file-tasks';
import { recordsOf } from '@/engine/selected-photos';
import { session } from '@/engine/session';
import { useSelection } from '@/features/parts/selection/selection';
import { useSession } from '@/features/parts/session/use-session';
import { bytes } from '@/ui/format';
import { SentDialog } from './sent';

const WHEN = [
  ['now', 'Draw them now, in the background'],
  ['night', 'Draw them by night'],
] as const;
const DIVIDER = { type: 'divider' as const };
const SET_ACTS = [
  { key: 'set together', label: 'Put together as one set' },
  { key: 'set alone', label: 'Take out of their sets' },
  { key: 'set found', label: 'Leave it to the cameras’ data' },
];

/** Puts the selected frames together, takes them out of their set, or leaves it to what the cameras wrote. */
const giveSet = async (key: string | null): Promise<void> =>
  void session.change({
    kind: 'fields',
    origin: 'person',
    edits: planGivenSet(await recordsOf([...useSelection.getState().ids]), key),
  });

/**
 * Previews for the selection that fill a screen, or have real pixels, with the room those take; now behind the screens
 * or by night; and thinned out again.
 */
function useLargePreviews(open: boolean) {
  const ids = useSelection((state) => state.ids);
  const storage = useSession((state) => state.storage);
  const full = useLive(
    async () =>
      open ? fullPreviewBytes((await session.db.photos.bulkGet([...ids])).filter((one) => one !== undefined)) : 0,
    [open, ids],
  );
  const room = storage ? ` of ${bytes(storage.quotaBytes - storage.usedBytes)} free` : '';
  const real = `Real pixels, to judge sharpness without the drive: about ${bytes(full ?? 0)}${room}`;
  return [
    {
      type: 'group' as const,
      label: 'They fill a screen',
      children: WHEN.map(([key, label]) => ({ key: `large ${key}`, label })),
    },
    { type: 'group' as const, label: real, children: WHEN.map(([key, label]) => ({ key: `full ${key}`, label })) },
    DIVIDER,
    { key: 'thin', label: 'Remove them: the small ones stay' },
  ];
}

export function MoreActs() {
  const { message } = App.useApp();
  const ids = useSelection((state) => state.ids);
  const [open, setOpen] = useState(false);
  const [sent, setSent] = useState(false);
  const large = useLargePreviews(open);
  const items = [
    ...(ids.size > 1 ? [{ type: 'group' as const, label: 'One set of frames', children: SET_ACTS }, DIVIDER] : []),
    { key: 'sent', label: 'Note where they were sent…' },
    { key: 'copy', label: <Link href="/safekeep?what=selection">Second copy…</Link> },
    { key: 'large', label: 'Large previews', children: large },
  ];
  const act = async (key: string) => {
    const [kind, rest = ''] = key.split(' ');
    if (kind === 'sent') setSent(true);
    else if (kind === 'set') await giveSet(rest === 'together' ? crypto.randomUUID() : rest === 'alone' ? ALONE : null);
    else if (kind === 'thin') {
      const freed = await session.removeLargePreviews([...ids]);
      message.info(freed > 0 ? `${bytes(freed)} freed.` : 'None of these has a large preview.');
    } else if (kind === 'large' || kind === 'full') await session.startLargePreviews([...ids], rest === 'night', kind);
  };
  return (
    <>
      <Dropdown
        trigger={['click']}
        open={open}
        onOpenChange={setOpen}
        menu={{ items, onClick: ({ key }) => void act(key) }}
      >
        <Button size="small">More…</Button>
      </Dropdown>
      <SentDialog open={sent} onClose={() => setSent(false)} />
    </>
  );
}
