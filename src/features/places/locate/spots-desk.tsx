'use client';

// Spots of the person's own: with words that go before the gazetteer's, or private, so that the place of photos inside
// is left out when they are sent out. A click on the map makes one.

import { App, Button, Checkbox, Input, InputNumber, Popconfirm } from 'antd';
import Feature from 'ol/Feature';
import { circular } from 'ol/geom/Polygon';
import VectorLayer from 'ol/layer/Vector';
import VectorSource from 'ol/source/Vector';
import { Fill, Stroke, Style } from 'ol/style';
import { useMemo, useState } from 'react';
import { fieldOf } from '@/core/fields/registry';
import type { LatLon } from '@/core/geo/position';
import { SPOT_FIELDS, type Spot, type SpotWords } from '@/core/locate/kept';
import { nearText } from '@/core/query/terms';
import { withTerm } from '@/core/query/write-scope';
import { useLive } from '@/storage/catalog/live';
import { positionWords } from '@/ui/format';
import { MapView } from '@/features/parts/map/map-view';
import { useScope } from '@/features/parts/search/use-scope';
import { selectOnly } from '@/features/parts/selection/selection';
import { session } from '@/engine/session';
import styles from './locate.module.css';
import { useSession } from '@/features/parts/session/use-session';

type Draft = Pick<Spot, 'lat' | 'lon' | 'radiusM' | 'name' | 'isPrivate' | 'words'> & { id: string | null };

const NEW: Omit<Draft, 'lat' | 'lon'> = { id: null, name: '', radiusM: 200, isPrivate: false, words: {} };

export function SpotsDesk() {
  const { scope } = useScope();
  const version = useSession((state) => state.indexVersion);
  const spots = useLive(
    async () =>
      (await session.db.spots.toArray()).filter(({ deleted }) => !deleted).sort((a, b) => (a.name < b.name ? -1 : 1)),
    [],
  );
  const [draft, setDraft] = useState<Draft | null>(null);
  const layers = useMemo(
    () => [spotsLayer([...(spots ?? []).filter(({ id }) => id !== draft?.id), ...(draft ? [draft] : [])])],
    [spots, draft],
  );
  const onGround = (position: LatLon) => setDraft((now) => ({ ...(now ?? NEW), ...position }));
  return (
    <div className={styles.mapDesk}>
      <MapView scope={scope} version={version} layers={layers} onOpen={selectOnly} onGround={onGround} />
      <aside className={styles.beside} aria-label="Spots">
        {draft ? (
          <SpotForm
            key={draft.id ?? 'new'}
            draft={draft}
            before={spots?.find(({ id }) => id === draft.id) ?? null}
            onChange={setDraft}
            onClose={() => setDraft(null)}
          />
        ) : (
          <SpotList spots={spots ?? []} onOpen={(spot) => setDraft(spot)} />
        )}
      </aside>
    </div>
  );
}

function SpotList({ spots, onOpen }: { spots: Spot[]; onOpen: (spot: Spot) => void }) {
  const { setScope } = useScope();
  return (
    <section className={styles.unplaced} aria-label="Spots of your own">
      <h2>Spots of your own</h2>
      <p className="quiet">
        Click on the map where one is to be. Its words are used for photos inside, before those of the gazetteer; the
        place of photos in a private one is left out when they are sent out.
      </p>
      <ul>
        {spots.map((spot) => (
          <li key={spot.id} className={styles.spot}>
            <strong>{spot.name}</strong>
            <span className="quiet">
              {[spot.isPrivate ? 'private' : null, `${spot.radiusM} m around ${positionWords(spot)}`]
                .filter(Boolean)
                .join(', ')}
            </span>
            <div className={styles.row}>
              <Button size="small" onClick={() => onOpen(spot)}>
                Change
              </Button>
              <Button
                size="small"
                onClick={() => setScope((now) => withTerm(now, 'near', nearText(spot, spot.radiusM)))}
              >
                Photos inside
              </Button>
              <Popconfirm
                title={`Remove “${spot.name}”?`}
                okText="Remove"
                cancelText="Leave"
                onConfirm={() => void session.changeKept('spots', spot, { deleted: true })}
              >
                <Button size="small" type="text">
                  Remove
                </Button>
              </Popconfirm>
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}

function SpotForm({
  draft,
  before,
  onChange,
  onClose,
}: {
  draft: Draft;
  before: Spot | null;
  onChange: (draft: Draft) => void;
  onClose: () => void;
}) {
  const { message } = App.useApp();
  const words = (key: keyof SpotWords) => (typeof draft.words[key] === 'string' ? draft.words[key] : '');
  const keep = async () => {
    if (draft.name.trim() === '') {
      message.warning('A spot needs a name.');
      return;
    }
    const { id: _, ...content } = {
      ...draft,
      name: draft.name.trim(),
      words: Object.fromEntries(Object.entries(draft.words).filter(([, word]) => word !== '')) as SpotWords,
    };
    if (before ? await session.changeKept('spots', before, content) : (await session.keep('spots', content)) !== null)
      onClose();
  };
  return (
    <form
      className={styles.spotForm}
      aria-label="Spot"
      onSubmit={(event) => {
        event.preventDefault();
        void keep();
      }}
    >
      <h2>{before ? before.name : 'A new spot'}</h2>
      <p className="quiet">{positionWords(draft)}. A click on the map moves it.</p>
      <label htmlFor="spot-name">Name</label>
      <Input
        id="spot-name"
        value={draft.name}
        autoFocus
        onChange={({ target }) => onChange({ ...draft, name: target.value })}
      />
      <label htmlFor="spot-radius">Radius in metres</label>
      <InputNumber
        id="spot-radius"
        min={1}
        max={1_000_000}
        value={draft.radiusM}
        onChange={(radiusM) => radiusM !== null && onChange({ ...draft, radiusM })}
      />
      <Checkbox checked={draft.isPrivate} onChange={({ target }) => onChange({ ...draft, isPrivate: target.checked })}>
        Private: photos inside are marked, and their place is left out when they are sent out
      </Checkbox>
      {SPOT_FIELDS.map((key) => (
        <div key={key}>
          <label htmlFor={`spot-${key}`}>{fieldOf(key).label}</label>
          <Input
            id={`spot-${key}`}
            value={words(key)}
            onChange={({ target }) => onChange({ ...draft, words: { ...draft.words, [key]: target.value } })}
          />
        </div>
      ))}
      <div className={styles.row}>
        <Button type="primary" htmlType="submit">
          Keep
        </Button>
        <Button type="text" onClick={onClose}>
          Leave it
        </Button>
      </div>
    </form>
  );
}

const OPEN = new Style({
  stroke: new Stroke({ color: '#0e5a67', width: 2 }),
  fill: new Fill({ color: 'rgb(14 90 103 / 12%)' }),
});
const PRIVATE = new Style({
  stroke: new Stroke({ color: '#b04018', width: 2, lineDash: [6, 4] }),
  fill: new Fill({ color: 'rgb(176 64 24 / 12%)' }),
});

function spotsLayer(spots: readonly Pick<Spot, 'lat' | 'lon' | 'radiusM' | 'isPrivate'>[]): VectorLayer {
  const features = spots.map(({ lat, lon, radiusM, isPrivate }) => {
    const feature = new Feature(circular([lon, lat], radiusM, 64).transform('EPSG:4326', 'EPSG:3857'));
    feature.setStyle(isPrivate ? PRIVATE : OPEN);
    return feature;
  });
  return new VectorLayer({ source: new VectorSource({ features }), zIndex: 4 });
}
