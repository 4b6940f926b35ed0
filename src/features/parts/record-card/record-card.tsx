'use client';

// The record card: everything known about the selection, and the place to change it. Where the photos of a selection
// say different things, the card says so, and only a field that is edited changes.

import { Button } from 'antd';
import Link from 'next/link';
import { memo, useMemo } from 'react';
import { summarise } from '@/core/fields/common-values';
import { capturedIn, wordsIn } from '@/core/fields/values';
import { nameIn } from '@/core/names/file-names';
import { numberAmong } from '@/core/take-in/accession';
import { fieldOf } from '@/core/fields/registry';
import { profileRemark, profileWord } from '@/core/metadata/reading/profile';
import type { SetKind } from '@/core/sift/sets';
import { pathToBe } from '@/storage/catalog/changes';
import { useLive } from '@/storage/catalog/live';
import type { FileRecord, PhotoRecord } from '@/storage/catalog/records';
import { cameraName } from '@/storage/catalog/search-feed';
import { problemSentence, shortProblem } from '@/messages/problems';
import { bytes, capturedWords, count, exposureWords, photos as photosWords } from '@/ui/format';
import type { Shared } from '@/core/fields/common-values';
import { RatingBars } from '@/ui/rating-bars';
import { Neighbours } from './neighbours';
import { findAddress } from '@/features/parts/search/use-scope';
import { usePreview } from '@/features/parts/picture/previews';
import { setRung, toggleRejected } from '@/features/parts/judging/rate';
import { useSelection } from '@/features/parts/selection/selection';
import { session } from '@/engine/session';
import { useAsked } from '@/features/parts/session/use-asked';
import { useRecordsAhead } from '@/features/parts/search/use-records-ahead';
import { DatesButton } from '@/features/parts/describing/dates-drawer';
import { KitsButton } from '@/features/parts/describing/kit-drawer';
import { ConflictPanel } from './conflict-panel';
import { CopiesPanel } from './copies-panel';
import { FieldLine } from './field-line';
import { FieldGroupSection } from './field-group';
import { FieldsChoice } from './fields-choice';
import { HistoryButton } from './history-drawer';
import { PlacePanel } from './place-panel';
import { SentPanel } from './sent-panel';
import { PropertiesButton } from './properties-drawer';
import { useChosenFields } from './chosen-fields';
import { ValueOrigin } from './value-origin';
import { PrintRow } from './print-row';
import styles from './record-card.module.css';

/** Above this, the card works from counts alone: reading tens of thousands of records for one panel would stall it. */
const SUMMED_LIMIT = 20_000;

/** @param photoId the one photo that is looked at; without it the card is of the selection */
export const RecordCard = memo(function RecordCard({
  total,
  photoId = null,
}: {
  total: number;
  photoId?: string | null;
}) {
  const selected = useSelection((state) => state.ids);
  const ids = useMemo(() => (photoId === null ? selected : new Set([photoId])), [selected, photoId]);
  const groups = useChosenFields((state) => state.groups);
  const photos = useRecordsAhead(ids, SUMMED_LIMIT);
  const only = photos.length === 1 ? photos[0] : undefined;
  const files = useFilesOf(only?.id);
  const set = useSetOf(only?.id);
  if (ids.size === 0) return <Empty total={total} />;
  if (ids.size > SUMMED_LIMIT)
    return (
      <aside className={styles.card} aria-label="Record card">
        <p className={styles.note}>
          {photosWords(ids.size)} are selected. Select at most {photosWords(SUMMED_LIMIT)} to describe them together.
        </p>
      </aside>
    );
  if (photos.length === 0) return <aside className={styles.card} aria-label="Record card" />;
  const summary = summarise(photos);
  const origin = only ? { photo: only, files } : null;
  return (
    <aside className={styles.card} aria-label="Record card">
      <header className={styles.top}>
        <span className="mono">{only ? nameIn(files[0] ? pathToBe(files[0]) : '') : photosWords(photos.length)}</span>
        {only && <AccessionNumber photo={only} />}
        {only && <Neighbours photo={only} file={files[0]} inSet={set !== null} />}
        {!only && <span className="quiet">selected of {total}</span>}
      </header>
      {only && (
        <>
          {photoId === null && <Picture photo={only} />}
          <ConflictPanel key={only.id} photoId={only.id} />
          <Capture photo={only} />
          <PlacePanel key={only.id} photo={only} />
        </>
      )}
      <RatingLine rating={summary.fields.rating} ids={[...ids]} />
      <FieldLine
        row={fieldOf('label')}
        shared={summary.fields.label}
        photoIds={[...ids]}
        origin={origin && <ValueOrigin origin={origin} row={fieldOf('label')} />}
      />
      {groups.map((group) => (
        <FieldGroupSection key={group} group={group} summary={summary} photoIds={[...ids]} origin={origin} />
      ))}
      <div className={styles.foot}>
        <FieldsChoice />
        <KitsButton ids={[...ids]} />
        <DatesButton ids={[...ids]} />
        {only && <HistoryButton key={only.id} photo={only} />}
        {only && <PropertiesButton key={only.id} photoId={only.id} />}
      </div>
      {only && <Technical photo={only} />}
      {only && <CopiesPanel photo={only} files={files} />}
      {only && <SentPanel photo={only} />}
      {only && <Problems photo={only} files={files} />}
    </aside>
  );
});

function useFilesOf(photoId: string | undefined): FileRecord[] {
  const found = useLive(
    async () => ({
      of: photoId,
      files: photoId === undefined ? [] : await session.db.files.where('photoId').equals(photoId).toArray(),
    }),
    [photoId],
  );
  return found && found.of === photoId ? found.files : NO_FILES;
}

const NO_FILES: FileRecord[] = [];

/** The rung of the selection, and a click to another. */
function RatingLine({ rating, ids }: { rating: Shared; ids: string[] }) {
  const now = rating.state === 'same' ? Number(rating.value ?? 0) : null;
  return (
    <div className={styles.rating}>
      <RatingBars rating={now ?? 0} size="large" />
      {now === null && <span className="quiet">differ</span>}
      <span className={styles.rungs}>
        {[0, 1, 2, 3, 4, 5].map((rung) => (
          <Button
            key={rung}
            size="small"
            type={now === rung ? 'primary' : 'text'}
            onClick={() => void setRung(ids, rung)}
            aria-label={rung === 0 ? 'Unrated' : `Rating ${rung}`}
          >
            {rung === 0 ? '–' : rung}
          </Button>
        ))}
        <Button
          size="small"
          type={now === -1 ? 'primary' : 'text'}
          onClick={() => void toggleRejected(ids)}
          aria-label="Rejected"
        >
          ×
        </Button>
      </span>
    </div>
  );
}

/** The kind of the set it is in; `null` for none. */
function useSetOf(photoId: string | undefined): SetKind | null {
  const found = useAsked(photoId ?? null, () => session.search.setsOf([photoId ?? '']));
  return (found?.of === photoId && found?.answer[0]?.kind) || null;
}

/** Its permanent number, where it was taken in; leads to what came with it. */
function AccessionNumber({ photo }: { photo: PhotoRecord }) {
  const number = numberAmong(wordsIn(photo.fields.identifier));
  return number === null ? null : (
    <Link
      className="mono"
      href={findAddress(`accession:${number.slice(0, number.lastIndexOf('.'))}`)}
      title="Show what came in with it"
    >
      {number}
    </Link>
  );
}

function Empty({ total }: { total: number }) {
  return (
    <aside className={styles.card} aria-label="Record card">
      <p className={styles.note}>
        {total === 0 ? 'No photo here.' : 'Select a photo to see its record. Shift selects a range, Ctrl adds one.'}
      </p>
    </aside>
  );
}

function Picture({ photo }: { photo: PhotoRecord }) {
  const preview = usePreview(photo.id);
  return <div className={styles.picture}>{preview && <img src={preview} alt="" />}</div>;
}

/** Which previews there are: what can be looked at while the drive is away. */
function usePreviewWords(photoId: string): string {
  const found = useLive(
    async () => ({
      small: await session.db.previews.where('photoId').equals(photoId).count(),
      large: await session.db.largePreviews.get(photoId),
      undrawn: await session.db.undrawn.get(photoId),
    }),
    [photoId],
  );
  if (!found) return '';
  const { small, large, undrawn } = found;
  if (large) return `small, ${large.size === 'full' ? 'real pixels' : 'large'} ${bytes(large.blob.size)}`;
  if (small > 0) return 'small';
  return undrawn?.problem ? `none: ${shortProblem(undrawn.problem)}` : 'none yet';
}

/** When, and how: in two lines. */
function Capture({ photo }: { photo: PhotoRecord }) {
  const how = [...exposureWords(photo.exposure), cameraName(photo.camera)].filter(Boolean);
  return (
    <div className={styles.capture}>
      <p>{capturedWords(capturedIn(photo.fields))}</p>
      {how.length > 0 && <p>{how.join('  ')}</p>}
    </div>
  );
}

/** What the camera and the file say besides. */
function Technical({ photo }: { photo: PhotoRecord }) {
  const previews = usePreviewWords(photo.id);
  const size = photo.width && photo.height ? `${photo.width} × ${photo.height}` : '';
  return (
    <dl className={styles.technical} aria-label="Camera and file">
      {photo.lens && (
        <div>
          <dt>Lens</dt>
          <dd>{photo.lens}</dd>
        </div>
      )}
      <div>
        <dt>File</dt>
        <dd>
          {[
            photo.format.toUpperCase(),
            size,
            bytes(photo.bytes),
            photo.seconds === null ? null : `${photo.seconds.toFixed(1)} s`,
            photo.codec,
            photo.codec && (photo.sound ? `sound ${photo.sound}` : 'no sound'),
          ]
            .filter(Boolean)
            .join('  ')}
        </dd>
      </div>
      {photo.width !== null && photo.height !== null && photo.seconds === null && (
        <PrintRow picture={{ width: photo.width, height: photo.height }} />
      )}
      <div>
        <dt>Preview</dt>
        <dd>{previews}</dd>
      </div>
      {profileWord(photo) !== null && (
        <div>
          <dt>Profile</dt>
          <dd>{[profileWord(photo), profileRemark(photo)].filter(Boolean).join(': ')}</dd>
        </div>
      )}
      {photo.camera.serial && (
        <div>
          <dt>Serial</dt>
          <dd>
            {[photo.camera.serial, photo.shutterCount === null ? null : `${count(photo.shutterCount)} frames`]
              .filter(Boolean)
              .join('  ')}
          </dd>
        </div>
      )}
    </dl>
  );
}

function Problems({ photo, files }: { photo: PhotoRecord; files: FileRecord[] }) {
  const withProblem = files.filter(({ problems }) => problems.length > 0);
  const shown =
    withProblem.length > 0 ? withProblem : [{ id: photo.id, path: files[0]?.path ?? '', problems: photo.problems }];
  return shown
    .filter(({ problems }) => problems.length > 0)
    .map(({ id, path, problems }) => (
      <section key={id} className={styles.group} aria-label={`Noticed in ${path}`}>
        <h3>Noticed in {path}</h3>
        <ul className={styles.problems}>
          {problems.map((problem, index) => (
            <li key={index}>{problemSentence(problem)}</li>
          ))}
        </ul>
      </section>
    ));
}
