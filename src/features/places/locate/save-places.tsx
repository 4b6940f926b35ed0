'use client';

import { App, Dropdown, Button } from 'antd';
import { parseCaptured } from '@/core/time/captured';
import { capturedIn, wordsIn, positionIn } from '@/core/fields/values';
import { NO_CORRECTION, trueTime } from '@/core/locate/clock';
import { secondsOfIso } from '@/core/time/civil';
import { type PlacedPhoto, writeGeoJson, writeGpx, writeKml } from '@/core/locate/tracks/write-places';
import { ALL_BUT_PRIVATE, wordsOfPhoto } from '@/core/send-out/words-policy';
import { wordMarksOf } from '@/storage/catalog/sendable';
import { photoBatches } from '@/storage/catalog/describing';
import { photos } from '@/ui/format';
import { saveText } from '@/ui/save-file';
import { session } from '@/engine/session';

const KINDS = {
  gpx: {
    label: 'GPX way points',
    type: 'application/gpx+xml',
    write: (placed: PlacedPhoto[]) => writeGpx(placed, 'Wembo'),
  },
  kml: {
    label: 'KML',
    type: 'application/vnd.google-earth.kml+xml',
    write: (placed: PlacedPhoto[]) => writeKml(placed, 'Photos'),
  },
  geojson: { label: 'GeoJSON', type: 'application/geo+json', write: writeGeoJson },
} as const;

/** The placed photos of the scope as a file for other maps. */
export function SavePlaces({ ids, names }: { ids: readonly string[]; names: readonly string[] }) {
  const { message } = App.useApp();
  const save = async (kind: keyof typeof KINDS) => {
    const placed: PlacedPhoto[] = [];
    const nameOf = new Map(ids.map((id, at) => [id, names[at] ?? '']));
    const marks = await wordMarksOf(session.db);
    let kept = 0;
    for await (const { photos: batch } of photoBatches(session.db, ids)) {
      for (const photo of batch) {
        if (!positionIn(photo.fields)) continue;
        const { fields } = wordsOfPhoto(photo.fields, ALL_BUT_PRIVATE, marks);
        const position = positionIn(fields);
        if (!position) kept += 1;
        else
          placed.push({
            name: nameOf.get(photo.id) ?? '',
            title: textOf(fields.headline),
            caption: textOf(fields.caption),
            position,
            utcSeconds: instantOf(fields),
            keywords: wordsIn(fields.keywords),
          });
      }
    }
    const stayed = kept > 0 ? ` ${photos(kept)} inside a private spot ${kept === 1 ? 'stays' : 'stay'} here.` : '';
    if (placed.length === 0) message.warning(`No photo of the search has a position that may leave.${stayed}`);
    else saveText(`photos.${kind}`, KINDS[kind].write(placed), KINDS[kind].type);
    if (placed.length > 0) message.success(`${photos(placed.length)} saved as ${KINDS[kind].label}.${stayed}`);
  };
  return (
    <Dropdown
      trigger={['click']}
      menu={{
        items: Object.entries(KINDS).map(([key, { label }]) => ({ key, label })),
        onClick: ({ key }) => void save(key as keyof typeof KINDS),
      }}
    >
      <Button size="small" disabled={ids.length === 0}>
        Save as…
      </Button>
    </Dropdown>
  );
}

const textOf = (value: unknown): string | null => (typeof value === 'string' ? value : null);

/** Of the position where it says so, else of the date where its offset is known. */
function instantOf(fields: Parameters<typeof capturedIn>[0]): number | null {
  const said = typeof fields.positionTime === 'string' ? parseCaptured(fields.positionTime) : null;
  if (said && said.offset === 'Z' && said.written.length >= 19) return secondsOfIso(said.written);
  const time = trueTime(capturedIn(fields), NO_CORRECTION);
  return time.state === 'known' ? Math.round(time.utcSeconds) : null;
}
