'use client';

import { App, Button, Dropdown } from 'antd';
import Link from 'next/link';
import { planGivenSet } from '@/core/sift/given-set';
import { ALONE } from '@/core/sift/sets';
import { useState } from 'react';
import { useLive } from '@/storage/catalog/live';
import { fullPreviewBytes } from '@/storage/file-tasks/file-tasks';
import { bytes, count, photos } from '@/ui/format';
import { addressOf } from '@/ui/address';
import { useScope } from '@/features/parts/search/use-scope';
import { useSession } from '@/features/parts/session/use-session';
import type { SearchAnswer } from '@/workers/search-client';
import { RemoveButton } from '@/features/parts/judging/removal-plan';
import { RenameButton } from '@/features/parts/naming/rename-drawer';
import { SIDE_BY_SIDE_MOST } from '@/features/parts/picture/side-by-side';
import { GatherButton } from '@/features/parts/collections/gather';
import { SentDialog } from './sent';
import { recordsOf } from '@/engine/selected-photos';
import { clearSelection, useSelection } from '@/features/parts/selection/selection';
import { session } from '@/engine/session';
import styles from './find.module.css';
import type { HandOrder, HandStep } from './hand-order';

/** Shown while photos are selected, one or many: how many, what they are, what can be done with them. */
export function SelectionBar({
  result,
  large,
  onSideBySide,
  hand,
}: {
  result: SearchAnswer;
  /** A photo is shown large: then only where several are selected. */
  large: boolean;
  onSideBySide: () => void;
  hand: HandOrder;
}) {
  const ids = useSelection((state) => state.ids);
  const { scope } = useScope();
  if (ids.size < (large ? 2 : 1)) return null;
  return (
    <div className={styles.selection} role="region" aria-label="Selection">
      <span className={styles.contains}>
        <strong>{photos(ids.size)} selected</strong> <span className="quiet">{contents(ids, result)}</span>
      </span>
      <Button size="small" disabled={ids.size > SIDE_BY_SIDE_MOST} onClick={onSideBySide}>
        Side by side
      </Button>
      {ids.size > 1 && <SetButton />}
      {hand.collection && <PlaceMenu hand={hand} />}
      <GatherButton ids={() => [...useSelection.getState().ids]} />
      <Link
        href={addressOf('/send-out', new URLSearchParams({ what: 'selection', ...(scope !== '' && { q: scope }) }))}
      >
        <Button size="small">Send out…</Button>
      </Link>
      <RenameButton />
      <RemoveButton ids={() => [...useSelection.getState().ids]} />
      <MoreActs />
      <Button size="small" type="text" onClick={clearSelection}>
        Clear
      </Button>
    </div>
  );
}

/** Another place for the selected photos, in the collection whose order by hand is shown. */
function PlaceMenu({ hand }: { hand: HandOrder }) {
  const items = [
    { key: 'front', label: 'To the front' },
    { key: 'earlier', label: 'One place earlier' },
    { key: 'later', label: 'One place later' },
    { key: 'end', label: 'To the end' },
    { key: 'out', label: `Out of “${hand.collection?.name ?? ''}”` },
  ];
  return (
    <Dropdown trigger={['click']} menu={{ items, onClick: ({ key }) => hand.step(key as HandStep) }}>
      <Button size="small">Place…</Button>
    </Dropdown>
  );
}

/** Up to so many are counted at each drawing. */
const COUNTED = 20_000;

function contents(ids: ReadonlySet<string>, { order, ratings, sets }: SearchAnswer): string {
  if (ids.size > COUNTED) return '';
  const positions = [...ids].map((id) => order.indexOf(id));
  const inside = positions.filter((position) => position >= 0);
  const of = (holds: (rating: number) => boolean) => inside.filter((position) => holds(ratings[position] ?? 0)).length;
  const number = new Set(inside.flatMap((position) => ((sets[position] ?? -1) >= 0 ? [sets[position]] : []))).size;
  const words: [number, string][] = [
    [of((rating) => rating > 0), 'rated'],
    [of((rating) => rating === 0), 'unrated'],
    [of((rating) => rating === -1), 'rejected'],
    [number, number === 1 ? 'set' : 'sets'],
    [ids.size - inside.length, 'not shown here'],
  ];
  return words
    .filter(([value]) => value > 0)
    .map(([value, word]) => `${count(value)} ${word}`)
    .join(' · ');
}

/** Puts frames together, takes them out of their set, or leaves it to what the cameras wrote. */
function SetButton() {
  const give = async (key: string | null) =>
    session.change({
      kind: 'fields',
      origin: 'person',
      edits: planGivenSet(await recordsOf([...useSelection.getState().ids]), key),
    });
  const items = [
    { key: 'together', label: 'Put together as one set' },
    { key: ALONE, label: 'Take out of their sets' },
    { key: 'found', label: 'Leave it to the cameras’ data' },
  ];
  return (
    <Dropdown
      trigger={['click']}
      menu={{
        items,
        onClick: ({ key }) => void give(key === 'together' ? crypto.randomUUID() : key === ALONE ? ALONE : null),
      }}
    >
      <Button size="small">Set…</Button>
    </Dropdown>
  );
}

/**
 * Previews for the selection that fill a screen, or have real pixels, with the room those take; now behind the screens
 * or by night; and thinned out again.
 */
/** What is done more seldom. */
function MoreActs() {
  const { message } = App.useApp();
  const ids = useSelection((state) => state.ids);
  const storage = useSession((state) => state.storage);
  const [open, setOpen] = useState(false);
  const [sent, setSent] = useState(false);
  const full = useLive(
    async () =>
      open ? fullPreviewBytes((await session.db.photos.bulkGet([...ids])).filter((one) => one !== undefined)) : 0,
    [open, ids],
  );
  const room = storage ? ` of ${bytes(storage.quotaBytes - storage.usedBytes)} free` : '';
  const real = `Real pixels, to judge sharpness without the drive: about ${bytes(full ?? 0)}${room}`;
  const large = [
    {
      type: 'group' as const,
      label: 'They fill a screen',
      children: WHEN.map(([key, label]) => ({ key: `large ${key}`, label })),
    },
    { type: 'group' as const, label: real, children: WHEN.map(([key, label]) => ({ key: `full ${key}`, label })) },
    { type: 'divider' as const },
    { key: 'thin', label: 'Remove them: the small ones stay' },
  ];
  const items = [
    { key: 'sent', label: 'Note where they were sent…' },
    { key: 'copy', label: <Link href="/safekeep?what=selection">Second copy…</Link> },
    { key: 'large', label: 'Large previews', children: large },
  ];
  const act = async (key: string) => {
    if (key === 'sent') return setSent(true);
    if (key === 'copy') return;
    if (key === 'thin') {
      const freed = await session.removeLargePreviews([...ids]);
      message.info(freed > 0 ? `${bytes(freed)} freed.` : 'None of these has a large preview.');
      return;
    }
    const [size, when] = key.split(' ');
    await session.startLargePreviews([...ids], when === 'night', size === 'full' ? 'full' : 'large');
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

const WHEN = [
  ['now', 'Draw them now, in the background'],
  ['night', 'Draw them by night'],
] as const;
