'use client';

// Markers at hand: give one with a click or with M and its digit; make, change, order and remove them.

import { Button, ColorPicker, Input, Popconfirm, Popover, Segmented, Select } from 'antd';
import { useState } from 'react';
import type { Change, SavedChange } from '@/core/catalog/change';
import { planSet } from '@/core/fields/edits';
import { MARKER_SHAPES, type Marker, type MarkerShape } from '@/core/sift/judging';
import { plainly } from '@/core/search/search-record';
import { quoted } from '@/core/query/write-scope';
import { MarkerSign } from '@/ui/marker-sign';
import { photos as photosWords } from '@/ui/format';
import { session } from '@/engine/session';
import styles from './judging.module.css';
import { useMarkers } from './markers';
import { toggleMarker } from './rate';

/** A quiet colour to begin with; the person's own comes after it. */
const FIRST_COLOR = '#7a8b99';

export function MarkerChoice({ ids, label, naming }: { ids: () => readonly string[]; label: string; naming: boolean }) {
  const markers = useMarkers();
  const known = label === '' || markers.some(({ name }) => name === label);
  return (
    <section className={styles.markers} aria-label="Markers" data-naming={naming}>
      <h2>
        Markers <kbd>M</kbd>
        <EditMarkers markers={markers} />
      </h2>
      {markers.length === 0 && <p className="quiet">None yet. Make your own: a name, a shape, a colour.</p>}
      <div className={styles.signs}>
        {markers.map((marker, index) => (
          <button
            key={marker.id}
            type="button"
            aria-pressed={label === marker.name}
            onClick={() => void toggleMarker(ids(), marker.name)}
          >
            <MarkerSign {...marker} /> <span>{marker.name}</span> {index < 9 && <kbd>{index + 1}</kbd>}
          </button>
        ))}
        {!known && (
          <button
            type="button"
            aria-pressed
            onClick={() => void toggleMarker(ids(), label)}
            title="A label from elsewhere; it stays as it is"
          >
            <span className={styles.foreign}>{label}</span>
          </button>
        )}
      </div>
    </section>
  );
}

function EditMarkers({ markers }: { markers: Marker[] }) {
  const [open, setOpen] = useState(false);
  const next = Math.max(0, ...markers.map(({ order }) => order)) + 1;
  const make = (name: string) =>
    name.trim() !== '' &&
    !markers.some((marker) => marker.name === name.trim()) &&
    void session.keep('markers', {
      name: name.trim(),
      color: FIRST_COLOR,
      shape: MARKER_SHAPES[(next - 1) % MARKER_SHAPES.length] as MarkerShape,
      order: next,
    });
  const content = (
    <div className={styles.editMarkers}>
      {markers.map((marker, index) => (
        <EditMarker key={marker.id} marker={marker} before={markers[index - 1]} />
      ))}
      <Input
        placeholder="New marker: its name"
        aria-label="Name of the new marker"
        suffix="⏎"
        onPressEnter={(event) => {
          make(event.currentTarget.value);
          event.currentTarget.value = '';
        }}
        key={markers.length}
      />
    </div>
  );
  return (
    <Popover
      open={open}
      onOpenChange={setOpen}
      trigger="click"
      placement="leftTop"
      content={content}
      title="Your markers"
      destroyOnHidden
    >
      <Button size="small" type="text">
        Edit…
      </Button>
    </Popover>
  );
}

function EditMarker({ marker, before }: { marker: Marker; before: Marker | undefined }) {
  const change = (patch: Partial<Marker>) => void session.changeKept('markers', marker, patch);
  return (
    <div className={styles.editMarker} role="group" aria-label={`Marker ${marker.name}`}>
      <Input
        size="small"
        defaultValue={marker.name}
        aria-label="Name"
        onBlur={(event) => void rename(marker, event.target.value.trim())}
        onPressEnter={(event) => void rename(marker, event.currentTarget.value.trim())}
      />
      <Select
        size="small"
        aria-label="Shape"
        value={marker.shape}
        onChange={(shape) => change({ shape })}
        options={MARKER_SHAPES.map((shape) => ({
          value: shape,
          label: (
            <span title={shape}>
              <MarkerSign shape={shape} color={marker.color} /> {shape}
            </span>
          ),
        }))}
        popupMatchSelectWidth={false}
      />
      <ColorPicker
        size="small"
        value={marker.color}
        disabledAlpha
        onChangeComplete={(color) => change({ color: color.toHexString().slice(0, 7) })}
        aria-label="Colour"
      />
      <Button
        size="small"
        type="text"
        disabled={!before}
        aria-label="One place up"
        onClick={() => before && void session.change(swap(marker, before))}
      >
        ↑
      </Button>
      <Popconfirm
        title="Remove this marker? Photos keep its name as their label."
        onConfirm={() => change({ deleted: true })}
        okText="Remove"
      >
        <Button size="small" type="text" aria-label="Remove marker">
          ×
        </Button>
      </Popconfirm>
    </div>
  );
}

const kept = (before: Marker, patch: Partial<Marker>): SavedChange => ({
  kind: 'kept',
  savedKind: 'markers',
  before,
  after: { ...before, ...patch, updatedAt: Date.now() },
});

const swap = (one: Marker, other: Marker): Change => ({
  kind: 'together',
  changes: [kept(one, { order: other.order }), kept(other, { order: one.order })],
});

/** The photos that bear the name follow: one change. */
async function rename(marker: Marker, name: string): Promise<void> {
  if (name === '' || name === marker.name) return;
  const { order } = await session.search.search(plainly(`marker:${quoted(marker.name)}`));
  const photos = (await session.db.photos.bulkGet(order.all())).flatMap((photo) =>
    photo?.fields.label === marker.name ? [photo] : [],
  );
  await session.change({
    kind: 'together',
    changes: [kept(marker, { name }), { kind: 'fields', origin: 'person', edits: planSet(photos, 'label', name) }],
  });
}

/** Frames or sets: where a judgement goes. */
export function JudgingTo({
  value,
  onChange,
  setSize,
}: {
  value: 'frame' | 'set';
  onChange: (to: 'frame' | 'set') => void;
  setSize: number;
}) {
  return (
    <Segmented
      size="small"
      value={value}
      onChange={onChange}
      options={[
        { value: 'frame', label: 'the frame' },
        { value: 'set', label: setSize > 1 ? `its set (${photosWords(setSize)})` : 'its set' },
      ]}
      aria-label="A judgement goes to"
    />
  );
}
