'use client';

// Collections as a tree: folders, photos gathered by hand, and smart collections, each with its live count. Photos are
// dragged onto one; collections are dragged into a folder, or moved by its card.

import { App, Button, Dropdown, Popover, Select, Tooltip } from 'antd';
import { type DragEvent, useRef, useState } from 'react';
import { z } from 'zod';
import { type Collection, inside, withInside } from '@/core/catalog/collection';
import { missingIn, referringTo, refersToItself } from '@/core/catalog/references';
import { keptText, parseKept } from '@/storage/archive/saved-files';
import { photos } from '@/ui/format';
import { openMore } from '@/ui/open-more';
import { saveText } from '@/ui/save-file';
import { draggedPhotos } from '@/features/parts/selection/dragged-photos';
import { keptChoice } from '@/ui/kept-choice';
import { useSelection } from '@/features/parts/selection/selection';
import { session } from '@/engine/session';
import { openRules } from '@/features/parts/search-line/rules';
import styles from './shelves.module.css';
import { NameInput } from '@/ui/name-input';
import { ShelfLine, Shelf } from './shelf';
import {
  addToCollection,
  makeCollection,
  patchCollection,
  removeCollection,
  renameCollection,
  scopeOf,
  stepCollection,
  takeOutOfCollection,
  useCollections,
} from '@/features/parts/collections/use-collections';
import { useScope } from '@/features/parts/search/use-scope';
import { useCounts } from '@/features/parts/search/use-counts';

const useFolded = keptChoice<{ folded: string[] }>(
  'wembo-collection-folders',
  z.object({ folded: z.array(z.string().max(64)).max(5000) }),
  { folded: [] },
);

const DRAGGED = 'application/x-wembo-collection';

export function CollectionShelf() {
  const { scope } = useScope();
  const collections = useCollections();
  const counts = useCounts(collections.map((one) => scopeOf(collections, one)));
  const countOf = new Map(collections.map(({ id }, at) => [id, counts[at]]));
  const pinned = collections.filter((one) => one.pinned);
  return (
    <Shelf
      name="collections"
      title="Collections"
      action={
        <span className={styles.shelfActions}>
          <SaveScope scope={scope} />
          <NewMenu />
        </span>
      }
    >
      {pinned.length > 0 && (
        <div role="group" aria-label="Pinned" className={styles.pinned}>
          {pinned.map((one) => (
            <Row key={one.id} one={one} collections={collections} countOf={countOf} depth={0} />
          ))}
        </div>
      )}
      <Level parentId={null} collections={collections} countOf={countOf} depth={0} />
      {collections.length === 0 && (
        <p className="quiet">
          Narrow the search and save it here under a name, or gather photos by hand with <kbd>G</kbd>.
        </p>
      )}
    </Shelf>
  );
}

interface LevelProps {
  collections: Collection[];
  countOf: ReadonlyMap<string, number | undefined>;
  depth: number;
}

function Level({ parentId, ...rest }: LevelProps & { parentId: string | null }) {
  const { message } = App.useApp();
  const drop = (event: DragEvent) => {
    const id = event.dataTransfer.getData(DRAGGED);
    if (id === '' || event.defaultPrevented) return;
    event.preventDefault();
    void moveInto(rest.collections, id, parentId, (text) => void message.warning(text));
  };
  return (
    <div
      role="list"
      onDragOver={(event) => event.dataTransfer.types.includes(DRAGGED) && event.preventDefault()}
      onDrop={drop}
    >
      {inside(rest.collections, parentId).map((one) => (
        <Row key={one.id} one={one} {...rest} />
      ))}
    </div>
  );
}

async function moveInto(
  collections: Collection[],
  id: string,
  parentId: string | null,
  say: (text: string) => void,
): Promise<void> {
  const one = collections.find((each) => each.id === id);
  if (!one || one.parentId === parentId || id === parentId) return;
  if (parentId !== null && withInside(collections, id).some((each) => each.id === parentId))
    return say(`“${one.name}” cannot be put into itself.`);
  await renameCollection(id, { parentId });
}

const SIGNS = { smart: '≈', hand: '▪' } as const;
const KIND_WORDS = { smart: 'smart collection', hand: 'collection', folder: 'folder' } as const;

function Row({ one, collections, countOf, depth }: LevelProps & { one: Collection }) {
  const { scope, setScope } = useScope();
  const folded = useFolded((state) => state.folded.includes(one.id));
  const { message } = App.useApp();
  const [over, setOver] = useState(false);
  const own = scopeOf(collections, one);
  const isFolder = one.kind === 'folder';
  const takes = (event: DragEvent) =>
    (one.kind === 'hand' && event.dataTransfer.types.includes('application/x-wembo-photos')) ||
    (isFolder && event.dataTransfer.types.includes(DRAGGED));
  const drop = async (event: DragEvent) => {
    setOver(false);
    if (!takes(event)) return;
    event.preventDefault();
    event.stopPropagation();
    if (isFolder)
      return moveInto(collections, event.dataTransfer.getData(DRAGGED), one.id, (text) => void message.warning(text));
    const added = await addToCollection(one, draggedPhotos(event.dataTransfer));
    message.success(`${photos(added)} put into “${one.name}”`);
  };
  const problem = problemOf(collections, one);
  const fold = () =>
    useFolded.setState((state) => ({
      folded: folded ? state.folded.filter((id) => id !== one.id) : [...state.folded, one.id],
    }));
  return (
    <div role="listitem">
      <div
        className={styles.collection}
        style={{ paddingLeft: depth * 14 }}
        data-over={over}
        onContextMenu={openMore}
        draggable
        onDragStart={(event) => event.dataTransfer.setData(DRAGGED, one.id)}
        onDragOver={(event) => {
          if (!takes(event)) return;
          event.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(event) => void drop(event)}
      >
        {one.kind === 'folder' ? (
          <button
            type="button"
            className={styles.fold}
            aria-expanded={!folded}
            aria-label={`Folder ${one.name}`}
            onClick={fold}
          >
            {folded ? '+' : '−'}
          </button>
        ) : (
          <span className={styles.kind} aria-hidden>
            {SIGNS[one.kind]}
          </span>
        )}
        <ShelfLine
          name={one.name}
          number={countOf.get(one.id)}
          chosen={scope === own}
          remark={problem ?? undefined}
          title={`${KIND_WORDS[one.kind]}: ${own}`}
          onClick={() => setScope(scope === own ? '' : own)}
        />
        <Popover
          trigger="click"
          placement="rightTop"
          content={<Card one={one} collections={collections} />}
          destroyOnHidden
        >
          <Button
            size="small"
            type="text"
            className={styles.more}
            aria-label={`Edit ${KIND_WORDS[one.kind]} ${one.name}`}
            data-more
          >
            ⋯
          </Button>
        </Popover>
      </div>
      {isFolder && !folded && <Level parentId={one.id} collections={collections} countOf={countOf} depth={depth + 1} />}
    </div>
  );
}

/** Why a smart collection does not find what it says. */
function problemOf(collections: Collection[], one: Collection): string | null {
  if (one.kind !== 'smart') return null;
  if (refersToItself(collections, one.id)) return 'refers to itself';
  const [missing] = missingIn(collections, one.scope);
  return missing === undefined ? null : `“${missing}” is gone`;
}

interface CardProps {
  one: Collection;
  collections: Collection[];
}

/** What can be done with a collection: by its kind first, then with any. */
function Card({ one, collections }: CardProps) {
  const rename = (name: string) =>
    name.trim() !== '' && name !== one.name && void renameCollection(one.id, { name: name.trim() });
  return (
    <div className={styles.edit}>
      <NameInput label="Name" start={one.name} onName={rename} onBlur />
      {one.kind === 'smart' && <SmartActs one={one} />}
      {one.kind === 'hand' && <HandActs one={one} />}
      <FolderChoice one={one} collections={collections} />
      <div className={styles.cardRow}>
        <Button size="small" onClick={() => void stepCollection(one, -1)}>
          Up
        </Button>
        <Button size="small" onClick={() => void stepCollection(one, 1)}>
          Down
        </Button>
        <Button
          size="small"
          aria-pressed={one.pinned}
          onClick={() => void patchCollection(one, { pinned: !one.pinned })}
        >
          {one.pinned ? 'Unpin' : 'Pin'}
        </Button>
        <Button
          size="small"
          onClick={() =>
            saveText(`${one.name}.collections.json`, keptText('collections', withInside(collections, one.id)))
          }
        >
          Save as file…
        </Button>
      </div>
      <RemoveButton one={one} collections={collections} />
    </div>
  );
}

function SmartActs({ one }: { one: Collection }) {
  const { scope } = useScope();
  const changeRules = () =>
    openRules({
      text: one.scope,
      title: `“${one.name}”`,
      onTake: (text) => void patchCollection(one, { scope: text }),
    });
  return (
    <>
      <code>{one.scope}</code>
      <Button size="small" onClick={changeRules}>
        Change its rules…
      </Button>
      <Button
        size="small"
        disabled={scope === '' || scope === one.scope}
        onClick={() => void patchCollection(one, { scope })}
      >
        Use the present search
      </Button>
    </>
  );
}

function HandActs({ one }: { one: Collection }) {
  const selected = useSelection((state) => state.ids);
  const { message } = App.useApp();
  const put = async () => message.success(`${photos(await addToCollection(one, [...selected]))} put into it`);
  const take = async () => message.success(`${photos(await takeOutOfCollection(one, selected))} taken out of it`);
  return (
    <>
      <Button size="small" disabled={selected.size === 0} onClick={put}>
        Put the {selected.size} selected into it
      </Button>
      <Button size="small" disabled={selected.size === 0} onClick={take}>
        Take the {selected.size} selected out of it
      </Button>
    </>
  );
}

/** The folder it stands in: any but those inside it. */
function FolderChoice({ one, collections }: CardProps) {
  const { message } = App.useApp();
  const ownInside = new Set(withInside(collections, one.id).map(({ id }) => id));
  const folders = collections.filter(({ id, kind }) => kind === 'folder' && !ownInside.has(id));
  if (one.parentId === null && folders.length === 0) return null;
  return (
    <Select
      size="small"
      aria-label="In the folder"
      value={one.parentId ?? ''}
      onChange={(parentId) =>
        void moveInto(collections, one.id, parentId === '' ? null : parentId, (text) => void message.warning(text))
      }
      options={[
        { value: '', label: 'at the top' },
        ...folders.map(({ id, name }) => ({ value: id, label: `in ${name}` })),
      ]}
    />
  );
}

/** Where others refer to it, that is said first. */
function RemoveButton({ one, collections }: CardProps) {
  const { modal } = App.useApp();
  const referring = referringTo(collections, one.id);
  const remove = () => {
    const go = () => removeCollection(one);
    if (referring.length === 0) return void go();
    modal.confirm({
      title: `${referring.map(({ name }) => `“${name}”`).join(', ')} ${referring.length === 1 ? 'refers' : 'refer'} to “${one.name}”`,
      content: 'Without it they find nothing of it, and say so. Undo brings it back.',
      okText: 'Remove it all the same',
      onOk: go,
    });
  };
  return (
    <Button size="small" danger onClick={remove}>
      Remove ({one.kind === 'folder' ? 'what is in it stays' : 'photos stay'})
    </Button>
  );
}

function NewMenu() {
  const selected = useSelection((state) => state.ids);
  const { message } = App.useApp();
  const [naming, setNaming] = useState<'hand' | 'folder' | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const make = (name: string) => {
    if (naming) void makeCollection(name, naming, naming === 'hand' ? { photoIds: [...selected] } : {});
    setNaming(null);
  };
  const read = async (file: File) => {
    try {
      const found = parseKept('collections', await file.text(), file.name);
      await session.change({
        kind: 'together',
        changes: await Promise.all(
          found.map(async (one) => ({
            kind: 'kept' as const,
            savedKind: 'collections' as const,
            before: (await session.db.collections.get(one.id)) ?? null,
            after: { ...one, updatedAt: Date.now() },
          })),
        ),
      });
      message.success(
        `${found.length === 1 ? 'One collection' : `${found.length} collections`} taken in from ${file.name}`,
      );
    } catch (error) {
      message.error(`${error instanceof Error ? error.message : String(error)}. Nothing was taken in.`, 8);
    }
  };
  const items = [
    { key: 'hand', label: selected.size > 0 ? `Collection with the ${selected.size} selected…` : 'Empty collection…' },
    { key: 'folder', label: 'Folder…' },
    { key: 'rules', label: 'Smart collection by rules…' },
    { key: 'file', label: 'From a file…' },
  ];
  const begin = (key: string) => {
    if (key === 'hand' || key === 'folder') setNaming(key);
    if (key === 'file') file.current?.click();
    if (key === 'rules')
      openRules({
        text: '',
        title: null,
        onTake: (text, name) => void makeCollection(name ?? text, 'smart', { scope: text }),
      });
  };
  return (
    <Popover
      open={naming !== null}
      onOpenChange={(open) => !open && setNaming(null)}
      trigger={[]}
      placement="rightTop"
      destroyOnHidden
      title={naming === 'folder' ? 'New folder' : 'New collection'}
      content={
        <NameInput
          label={naming === 'folder' ? 'Name of the folder' : 'Name of the collection'}
          onName={make}
          onCancel={() => setNaming(null)}
        />
      }
    >
      <span>
        <Dropdown trigger={['click']} menu={{ items, onClick: ({ key }) => begin(key) }}>
          <Button size="small" type="text">
            New…
          </Button>
        </Dropdown>
        <input
          ref={file}
          type="file"
          hidden
          accept=".json,application/json"
          aria-label="File of collections"
          onChange={(event) => {
            const [given] = event.target.files ?? [];
            if (given) void read(given);
            event.target.value = '';
          }}
        />
      </span>
    </Popover>
  );
}

function SaveScope({ scope }: { scope: string }) {
  const [open, setOpen] = useState(false);
  const save = (name: string) => {
    void makeCollection(name, 'smart', { scope });
    setOpen(false);
  };
  return (
    <Popover
      open={open}
      onOpenChange={(next) => setOpen(next && scope !== '')}
      trigger="click"
      placement="rightTop"
      destroyOnHidden
      content={<NameInput label="Name of the smart collection" onName={save} />}
      title={
        <span>
          Save <code>{scope}</code> as
        </span>
      }
    >
      <Tooltip
        title={
          scope === '' ? 'Narrow the search first' : 'Save this search under a name: a collection that fills itself'
        }
      >
        <Button size="small" type="text" disabled={scope === ''}>
          Save search…
        </Button>
      </Tooltip>
    </Popover>
  );
}
