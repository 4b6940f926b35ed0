'use client';

// What can be done with a photo where it stands: by the right button, a finger that rests, or the menu key. It is about
// the selection where the photo is in it, else about the photo alone.

import { Dropdown, type MenuProps } from 'antd';
import { useRouter } from 'next/navigation';
import { type MouseEvent, type ReactNode, useState } from 'react';
import { RUNGS, RUNG_NAMES } from '@/core/sift/judging';
import { useLive } from '@/storage/catalog/live';
import { session } from '@/engine/session';
import { openGather } from '@/features/parts/collections/gather';
import { useLadder } from '@/features/parts/judging/ladder';
import { useMarkers } from '@/features/parts/judging/markers';
import { FAVOURITE, setRung, toggleFavourite, toggleMarker } from '@/features/parts/judging/rate';
import { beginRemoval } from '@/features/parts/judging/removal-plan';
import { openRename } from '@/features/parts/naming/rename-drawer';
import { scopesAround } from '@/features/parts/record-card/neighbours';
import { sendSelectionAddress, useScope } from '@/features/parts/search/use-scope';
import { selectOnly, setFocus, useSelection } from '@/features/parts/selection/selection';
import { photos } from '@/ui/format';

interface Props {
  onOpen: (photoId: string) => void;
  onSideBySide: () => void;
  children: ReactNode;
}

const DIVIDER = { type: 'divider' as const };

export function PhotoMenu({ onOpen, onSideBySide, children }: Props) {
  const [of, setOf] = useState<string | null>(null);
  const items = useItems(of);
  const act = useActs(of, onOpen, onSideBySide);
  const point = (event: MouseEvent) => {
    const id = (event.target as Element).closest<HTMLElement>('[data-photo]')?.dataset.photo ?? null;
    setOf(id);
    if (id === null) return event.stopPropagation(); // the page’s own menu
    if (useSelection.getState().ids.has(id)) setFocus(id);
    else selectOnly(id);
  };
  return (
    <Dropdown
      trigger={['contextMenu']}
      autoFocus
      destroyOnHidden
      onOpenChange={(open) => !open && setOf(null)}
      menu={{ items, onClick: ({ key }) => act(key) }}
    >
      <div onContextMenuCapture={point} style={{ display: 'contents' }}>
        {children}
      </div>
    </Dropdown>
  );
}

/** A photo with the file it is called after. */
async function lookAt(id: string) {
  const photo = await session.db.photos.get(id);
  const file = await session.db.files.where('photoId').equals(id).first();
  const set = (await session.search.setsOf([id]))[0];
  return photo ? scopesAround(photo, file, set !== undefined, (await session.db.measures.get(id)) !== undefined) : [];
}

function useItems(of: string | null): NonNullable<MenuProps['items']> {
  const selected = useSelection((state) => state.ids.size);
  const around = useLive(async () => (of === null ? [] : lookAt(of)), [of]) ?? [];
  const markers = useMarkers().filter(({ name }) => name !== FAVOURITE);
  const ladder = useLadder();
  return [
    ...(selected > 1 ? [{ type: 'group' as const, label: photos(selected), children: [] }] : []),
    { key: 'open', label: 'Open large', extra: 'Enter' },
    { key: 'beside', label: 'Side by side', extra: 'B' },
    DIVIDER,
    {
      key: 'rungs',
      label: 'Rating',
      children: RUNGS.map((rung) => ({
        key: `rung ${rung}`,
        label: ladder.meanings[rung] ?? RUNG_NAMES[rung],
        extra: rung === -1 ? 'Q' : String(rung),
      })),
    },
    { key: 'favourite', label: 'Favourite', extra: 'V' },
    {
      key: 'markers',
      label: 'Marker',
      disabled: markers.length === 0,
      children: markers.map(({ id, name }) => ({ key: `marker ${id}`, label: name })),
    },
    DIVIDER,
    { key: 'gather', label: 'Collect…', extra: 'G' },
    { key: 'send', label: 'Send out…' },
    { key: 'rename', label: 'Rename…' },
    { key: 'remove', label: 'Remove…' },
    DIVIDER,
    {
      key: 'around',
      label: 'Go to',
      disabled: around.length === 0,
      children: around.map(({ name, scope }) => ({ key: `scope ${scope}`, label: name })),
    },
  ];
}

function useActs(of: string | null, onOpen: (photoId: string) => void, onSideBySide: () => void) {
  const router = useRouter();
  const markers = useMarkers();
  const { scope, setScope } = useScope();
  const chosen = () => [...useSelection.getState().ids];
  const whole: Record<string, () => unknown> = {
    open: () => of !== null && onOpen(of),
    beside: onSideBySide,
    favourite: () => toggleFavourite(chosen()),
    gather: () => openGather(chosen()),
    send: () => router.push(sendSelectionAddress(scope)),
    rename: openRename,
    remove: () => beginRemoval(chosen()),
  };
  const withValue: Record<string, (value: string) => unknown> = {
    rung: (value) => setRung(chosen(), Number(value)),
    marker: (value) => toggleMarker(chosen(), markers.find(({ id }) => id === value)?.name ?? ''),
    scope: setScope,
  };
  return (key: string) => {
    const at = key.indexOf(' ');
    void (at < 0 ? whole[key]?.() : withValue[key.slice(0, at)]?.(key.slice(at + 1)));
  };
}
