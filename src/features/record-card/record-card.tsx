'use client';

// The record card: everything known about the selection, and the place to change it. Where the photos of a selection
// say different things, the card says so, and only a field that is edited changes.

import { Button } from 'antd';
import { summarise } from '@/core/changes/selection';
import { capturedIn } from '@/core/fields/values';
import { fieldOf } from '@/core/fields/registry';
import { useLive } from '@/storage/catalog/live';
import type { FileRecord, PhotoRecord } from '@/storage/catalog/records';
import { cameraName } from '@/storage/catalog/search-feed';
import { problemSentence } from '@/messages/problems';
import { bytes, capturedWords, count, exposureWords, photos as photosWords, positionWords } from '@/ui/format';
import { RatingBars } from '@/ui/rating-bars';
import { usePreview } from '../session/previews';
import { setRung, toggleRejected } from '../session/rate';
import { useSelection } from '../session/selection';
import { session } from '../session/session';
import { ConflictPanel } from './conflict-panel';
import { CopiesPanel } from './copies-panel';
import { FieldLine } from './field-line';
import { FieldGroupSection } from './field-group';
import { GroupsChoice } from './groups-choice';
import { PropertiesButton } from './properties-drawer';
import { useChosenGroups } from './chosen-groups';
import { ValueOrigin } from './value-origin';
import styles from './record-card.module.css';

/** Above this, the card works from counts alone: reading tens of thousands of records for one panel would stall it. */
const SUMMED_LIMIT = 20_000;

export function RecordCard({ total }: { total: number }) {
  const ids = useSelection((state) => state.ids);
  const groups = useChosenGroups((state) => state.groups);
  const found = useLive(async () => (ids.size > SUMMED_LIMIT ? [] : session.db.photos.bulkGet([...ids])), [ids]);
  const photos = (found ?? []).flatMap((photo) => (photo && ids.has(photo.id) ? [photo] : []));
  const only = photos.length === 1 ? photos[0] : undefined;
  const files = useLive(async () => (only ? session.db.files.where('photoId').equals(only.id).toArray() : []), [only?.id]) ?? [];
  if (ids.size === 0) return <Empty total={total} />;
  if (ids.size > SUMMED_LIMIT) return <aside className={styles.card} aria-label="Record card"><p className={styles.note}>{photosWords(ids.size)} are selected. Select at most {photosWords(SUMMED_LIMIT)} to describe them together.</p></aside>;
  if (photos.length === 0) return <aside className={styles.card} aria-label="Record card" />;
  const summary = summarise(photos);
  const rating = summary.fields.rating;
  const origin = only ? { photo: only, files } : null;
  return (
    <aside className={styles.card} aria-label="Record card">
      <header className={styles.top}>
        <span className="mono">{only ? (files[0]?.path.split('/').at(-1) ?? '') : photosWords(photos.length)}</span>
        {!only && <span className="quiet">selected of {total}</span>}
      </header>
      {only && <Picture photo={only} />}
      {only && <ConflictPanel photoId={only.id} />}
      {only && <Technical photo={only} />}
      <div className={styles.rating}>
        <RatingBars rating={rating.state === 'same' && typeof rating.value === 'number' ? rating.value : 0} size="large" />
        {rating.state === 'differs' && <span className="quiet">differ</span>}
        <span className={styles.rungs}>
          {[0, 1, 2, 3, 4, 5].map((rung) => (
            <Button key={rung} size="small" type={rating.state === 'same' && (rating.value ?? 0) === rung ? 'primary' : 'text'} onClick={() => void setRung(rung)} aria-label={rung === 0 ? 'Unrated' : `Rating ${rung}`}>{rung === 0 ? '–' : rung}</Button>
          ))}
          <Button size="small" type={rating.state === 'same' && rating.value === -1 ? 'primary' : 'text'} onClick={() => void toggleRejected()} aria-label="Rejected">×</Button>
        </span>
      </div>
      <FieldLine row={fieldOf('label')} shared={summary.fields.label} photoIds={[...ids]} origin={origin && <ValueOrigin origin={origin} row={fieldOf('label')} />} />
      {groups.map((group) => <FieldGroupSection key={group} group={group} summary={summary} photoIds={[...ids]} origin={origin} />)}
      <div className={styles.foot}>
        <GroupsChoice />
        {only && <PropertiesButton photoId={only.id} />}
      </div>
      {only && <CopiesPanel photo={only} files={files} />}
      {only && <Problems photo={only} files={files} />}
    </aside>
  );
}

function Empty({ total }: { total: number }) {
  return (
    <aside className={styles.card} aria-label="Record card">
      <p className={styles.note}>{total === 0 ? 'No photo here.' : 'Select a photo to see its record. Shift selects a stretch, Ctrl adds one.'}</p>
    </aside>
  );
}

function Picture({ photo }: { photo: PhotoRecord }) {
  const preview = usePreview(photo.id);
  return <div className={styles.picture}>{preview && <img src={preview} alt="" />}</div>;
}

function Technical({ photo }: { photo: PhotoRecord }) {
  const size = photo.width && photo.height ? `${photo.width} × ${photo.height}` : '';
  return (
    <dl className={styles.technical} aria-label="Capture data">
      <div><dt>Taken</dt><dd>{capturedWords(capturedIn(photo.fields))}</dd></div>
      <div><dt>Camera</dt><dd>{[cameraName(photo.camera) || 'not recorded', photo.lens].filter(Boolean).join(', ')}</dd></div>
      {exposureWords(photo.exposure).length > 0 && <div><dt>Exposure</dt><dd>{exposureWords(photo.exposure).join('  ')}</dd></div>}
      <div><dt>File</dt><dd>{[photo.format.toUpperCase(), size, bytes(photo.bytes), photo.seconds === null ? null : `${photo.seconds.toFixed(1)} s`].filter(Boolean).join('  ')}</dd></div>
      {photo.profile && <div><dt>Profile</dt><dd>{photo.profile}</dd></div>}
      {photo.camera.serial && <div><dt>Serial</dt><dd>{[photo.camera.serial, photo.shutterCount === null ? null : `${count(photo.shutterCount)} frames`].filter(Boolean).join('  ')}</dd></div>}
      {photo.gps && <div><dt>Position</dt><dd>{positionWords(photo.gps)}</dd></div>}
    </dl>
  );
}

function Problems({ photo, files }: { photo: PhotoRecord; files: FileRecord[] }) {
  const troubled = files.filter(({ problems }) => problems.length > 0);
  const shown = troubled.length > 0 ? troubled : [{ id: photo.id, path: files[0]?.path ?? '', problems: photo.problems }];
  return shown.filter(({ problems }) => problems.length > 0).map(({ id, path, problems }) => (
    <section key={id} className={styles.group} aria-label={`Noticed in ${path}`}>
      <h3>Noticed in {path}</h3>
      <ul className={styles.problems}>{problems.map((problem, index) => <li key={index}>{problemSentence(problem)}</li>)}</ul>
    </section>
  ));
}
