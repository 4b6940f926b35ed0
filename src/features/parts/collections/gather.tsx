'use client';

// `G`: the selected photos into a collection, chosen or named by typing. The one that was used last is offered first.

import { App, AutoComplete, Button, Modal } from 'antd';
import { useState } from 'react';
import { create } from 'zustand';
import { pathTo } from '@/core/catalog/collection';
import { foldText, plain } from '@/core/text/fold';
import { photos } from '@/ui/format';
import { useKeys } from '@/ui/keys';
import { useSelection } from '@/features/parts/selection/selection';
import { addToCollection, makeCollection, useCollections } from './use-collections';

const useGather = create<{ ids: readonly string[] | null; last: string | null }>(() => ({ ids: null, last: null }));

export const openGather = (ids: readonly string[]): void => useGather.setState({ ids: [...ids] });

export const GatherButton = ({ ids }: { ids: () => readonly string[] }) => (
  <Button size="small" onClick={() => openGather(ids())}>
    Collect… <kbd>G</kbd>
  </Button>
);

export function GatherCard() {
  const { ids, last } = useGather();
  const close = () => useGather.setState({ ids: null });
  useKeys({ g: () => useSelection.getState().ids.size > 0 && openGather([...useSelection.getState().ids]) });
  return (
    <Modal
      open={ids !== null}
      onCancel={close}
      footer={null}
      title={`${photos(ids?.length ?? 0)} into a collection`}
      destroyOnHidden
      width={420}
    >
      {ids && <Choice ids={ids} last={last} onDone={close} />}
    </Modal>
  );
}

function Choice({ ids, last, onDone }: { ids: readonly string[]; last: string | null; onDone: () => void }) {
  const collections = useCollections();
  const { message } = App.useApp();
  const byId = new Map(collections.map((one) => [one.id, one]));
  const byHand = collections
    .filter(({ kind }) => kind === 'hand')
    .map((one) => ({
      one,
      path: pathTo(byId, one.id)
        .map(({ name }) => name)
        .join('/'),
    }));
  byHand.sort(
    (a, b) =>
      Number(b.one.id === last) - Number(a.one.id === last) ||
      Number(b.one.pinned) - Number(a.one.pinned) ||
      a.path.localeCompare(b.path),
  );
  const [typed, setTyped] = useState('');
  const fitting = byHand.filter(({ path }) => foldText(path).includes(foldText(typed)));
  const put = async (text: string) => {
    const asked =
      text.trim() === ''
        ? byHand[0]
        : byHand.find(({ one, path }) => plain(path) === plain(text) || plain(one.name) === plain(text));
    if (!asked && text.trim() === '') return;
    if (asked) {
      const added = await addToCollection(asked.one, ids);
      useGather.setState({ last: asked.one.id });
      message.success(
        added === ids.length
          ? `${photos(added)} put into “${asked.one.name}”`
          : `${photos(added)} put into “${asked.one.name}”; ${photos(ids.length - added)} were in it`,
      );
    } else {
      const id = await makeCollection(text.trim(), 'hand', { photoIds: [...ids] });
      if (id === null) return;
      useGather.setState({ last: id });
      message.success(`New collection “${text.trim()}” with ${photos(ids.length)}`);
    }
    onDone();
  };
  const [first] = byHand;
  return (
    <>
      <AutoComplete
        autoFocus
        defaultActiveFirstOption={false}
        style={{ width: '100%' }}
        value={typed}
        onChange={setTyped}
        onSelect={(path) => void put(path)}
        aria-label="Collection"
        placeholder={first ? `Enter: “${first.one.name}”; or type a name` : 'Name of a new collection'}
        options={fitting.map(({ path, one }) => ({ value: path, label: `${path} · ${one.photoIds.length}` }))}
        onInputKeyDown={(event) => {
          // an option that is marked is chosen by the list itself
          if (event.key === 'Enter' && !event.currentTarget.getAttribute('aria-activedescendant')?.match(/_list_\d+$/))
            void put(typed);
        }}
      />
      <p className="quiet">
        {typed.trim() !== '' && fitting.length === 0
          ? `Enter makes a new collection “${typed.trim()}”.`
          : 'A photo can be in any number of collections; nothing is copied.'}
      </p>
    </>
  );
}
