'use client';

import { Button, Dropdown } from 'antd';
import Link from 'next/link';
import { count, photos } from '@/ui/format';
import { sendSelectionAddress, useScope } from '@/features/parts/search/use-scope';
import type { SearchAnswer } from '@/workers/search-client';
import { beginRemoval } from '@/features/parts/judging/removal-plan';
import { openRename } from '@/features/parts/naming/rename-drawer';
import { SIDE_BY_SIDE_MOST } from '@/features/parts/picture/side-by-side';
import { GatherButton } from '@/features/parts/collections/gather';
import { clearSelection, useSelection } from '@/features/parts/selection/selection';
import styles from './find.module.css';
import { MoreActs } from './more-acts';
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
      <Button size="small" type="text" aria-label="Clear the selection" onClick={clearSelection}>
        ×
      </Button>
      <span className={styles.contains}>
        <strong>{photos(ids.size)} selected</strong> <span className="quiet">{contents(ids, result)}</span>
      </span>
      {ids.size > 1 && (
        <Button size="small" disabled={ids.size > SIDE_BY_SIDE_MOST} onClick={onSideBySide}>
          Side by side
        </Button>
      )}
      {hand.collection && <PlaceMenu hand={hand} />}
      <GatherButton ids={() => [...useSelection.getState().ids]} />
      <Link href={sendSelectionAddress(scope)}>
        <Button size="small">Send out…</Button>
      </Link>
      <Button size="small" onClick={openRename}>
        Rename…
      </Button>
      <Button size="small" onClick={() => void beginRemoval([...useSelection.getState().ids])}>
        Remove…
      </Button>
      <MoreActs />
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
