'use client';

import { App, Button, Checkbox } from 'antd';
import { useMemo, useRef } from 'react';
import { factsOf } from '@/core/locate/tracks/track';
import { isoOfSeconds } from '@/core/time/civil';
import { offsetAt, offsetText } from '@/core/time/zone';
import { droppedSentence, trackProblemSentence } from '@/messages/tracks';
import { count, plural } from '@/ui/format';
import { addTracks } from '@/features/parts/connecting/add-tracks';
import { session } from '@/engine/session';
import styles from './locate.module.css';
import type { UsableTrack } from './use-matching';

const ACCEPT = '.gpx,.kml,.geojson,.json,.nmea,.log,.txt,.csv,.tsv';

export function TrackList({ tracks, gapSeconds }: { tracks: UsableTrack[] | null; gapSeconds: number }) {
  const input = useRef<HTMLInputElement>(null);
  const { message } = App.useApp();
  const add = (files: readonly File[]) => addTracks(files, message);
  return (
    <section className={styles.trackList} aria-label="Tracks">
      <div className={styles.headRow}>
        <h2>Tracks</h2>
        <Button size="small" onClick={() => input.current?.click()}>
          Add tracks…
        </Button>
        <input
          ref={input}
          type="file"
          multiple
          hidden
          accept={ACCEPT}
          aria-label="Track files"
          onChange={({ target }) => {
            void add([...(target.files ?? [])]);
            target.value = '';
          }}
        />
      </div>
      {tracks === null && <p className="quiet">Looking…</p>}
      {tracks?.length === 0 && (
        <p className="quiet">
          No track of these days. Tracks that lie beside the photos are found when a drive is scanned; others are added
          here, or dropped: GPX, KML, GeoJSON, NMEA, tables.
        </p>
      )}
      <ul>
        {tracks?.map((record) => (
          <TrackLine key={record.id} record={record} gapSeconds={gapSeconds} />
        ))}
      </ul>
    </section>
  );
}

function TrackLine({ record, gapSeconds }: { record: UsableTrack; gapSeconds: number }) {
  // linear in the points, and the desk is drawn anew at every step of a clock that is pulled along
  const facts = useMemo(() => factsOf(record.track, gapSeconds) ?? record.facts, [record, gapSeconds]);
  // on the clocks of the place, since that is how people remember a day
  const offset = (record.zone !== null && offsetAt(record.zone, facts.firstUtc)) || 0;
  const day = isoOfSeconds(facts.firstUtc + offset).slice(0, 10);
  const hour = (utc: number) => isoOfSeconds(utc + offset).slice(11, 16);
  const left = record.dropped && droppedSentence(record.dropped);
  return (
    <li className={styles.trackLine}>
      <Checkbox checked={record.used} onChange={({ target }) => void session.useTrack(record.id, target.checked)}>
        <span className="mono">{record.name}</span>
      </Checkbox>
      {record.title && <span>{record.title}</span>}
      <span className="quiet">
        {day} {hour(facts.firstUtc)} to {hour(facts.lastUtc)},{' '}
        {record.zone === null ? 'UTC' : `${record.zone} (${offset === 0 ? 'UTC' : offsetText(offset)})`}
      </span>
      <span className="quiet">
        {plural(facts.points, 'point')} in {plural(record.track.starts.length, 'segment')},{' '}
        {(facts.lengthM / 1000).toFixed(1)} km,{' '}
        {facts.gaps.length === 0
          ? `no gap over ${Math.round(gapSeconds / 60)} min`
          : `${count(facts.gaps.length)} ${facts.gaps.length === 1 ? 'gap' : 'gaps'}: ${facts.gaps
              .slice(0, 3)
              .map(({ fromUtc, toUtc }) => `${hour(fromUtc)}–${hour(toUtc)}`)
              .join(', ')}`}
      </span>
      {(left ?? record.problem) && (
        <span className={styles.caution}>
          {[left, record.problem && trackProblemSentence(record.problem)].filter(Boolean).join(' ')}
        </span>
      )}
    </li>
  );
}
