'use client';

// What is there: cards and folders at hand, and what was found on the chosen one.

import { App, Button, Checkbox, Progress, Select } from 'antd';
import { useLive } from '@/storage/catalog/live';
import type { SourceSurvey } from '@/storage/jobs/source-survey';
import { problemSentence } from '@/messages/problems';
import { bytes, count, plural } from '@/ui/format';
import { offerFolder, pickFolder } from '@/features/parts/connecting/connect-drive';
import { session } from '@/engine/session';
import { whichCatalog } from '@/engine/which-catalog';
import { chooseSource, closeSource, isVideo, isKnown, setSheet, useTakeIn } from './take-in-state';
import styles from './take-in.module.css';
import { useSession } from '@/features/parts/session/use-session';

/** Folders often used stay at hand; the older ones are in the list behind them. */
const AT_HAND = 5;

/** Behind the name of a source that cannot be read at once. */
const REMARKS: Record<string, string> = {
  away: ' · away',
  'needs-permission': ' · asks',
  'needs-link': ' · closed to this page',
};

export function SourceSection() {
  const { sourceId, survey, below, problem, sheet } = useTakeIn();
  const sources = useLive(async () => (await session.db.sources.toArray()).sort((a, b) => b.usedAt - a.usedAt)) ?? [];
  const connections = useSession((state) => state.connections);
  const { message } = App.useApp();
  const inDemo = whichCatalog() === 'demo';
  const choose = async () => {
    const folder = await pickFolder('read');
    if (folder) await chooseSource((await session.drives.addSource(folder)).id);
  };
  const open = async (id: string) => {
    if (
      session.drives.of(id).state !== 'connected' &&
      (await session.drives.openSource(id, 'read')).state !== 'connected'
    )
      return void message.warning('It is not there. Plug it in, or choose it again.');
    await chooseSource(id);
  };
  const chosen = sources.find(({ id }) => id === sourceId);
  const there = chosen && session.drives.folderOf(chosen);
  const catalogThere = () => there && void offerFolder(there, message);
  return (
    <section className={styles.section} aria-labelledby="take-in-source">
      <h2 id="take-in-source">What is there</h2>
      <div className={styles.sources}>
        {sources.slice(0, AT_HAND).map(({ id, name }) => {
          const state = connections[id]?.state ?? 'away';
          return (
            <Button
              key={id}
              type={id === sourceId ? 'primary' : 'default'}
              onClick={() => void open(id)}
              aria-pressed={id === sourceId}
            >
              {name}
              {REMARKS[state] ?? ''}
            </Button>
          );
        })}
        {sources.length > AT_HAND && (
          <Select
            placeholder="others"
            value={null}
            aria-label="Other sources"
            options={sources.slice(AT_HAND).map(({ id, name }) => ({ value: id, label: name }))}
            onChange={(id: string) => void open(id)}
          />
        )}
        {!inDemo && <Button onClick={() => void choose()}>Choose a card or folder…</Button>}
      </div>
      {!chosen && (
        <p className="quiet">
          {inDemo
            ? 'The card of the demo is at hand; your own photos are kept apart from it.'
            : 'Or drop a card, a folder or photos on this window.'}{' '}
          Nothing on a card is changed by taking it in.
        </p>
      )}
      {problem && <p className={styles.problem}>{problem}</p>}
      {chosen && survey && <Found survey={survey} name={chosen.name} />}
      {chosen && (
        <div className={styles.line}>
          <Checkbox
            checked={sheet.withSubfolders}
            onChange={({ target }) => {
              setSheet({ withSubfolders: target.checked });
              void chooseSource(chosen.id, below);
            }}
          >
            with the folders in it
          </Checkbox>
          <Folders survey={survey} below={below} onChoose={(folder) => void chooseSource(chosen.id, folder)} />
          <span className={styles.push} />
          {there && (
            <Button size="small" type="text" onClick={catalogThere}>
              Catalog it where it lies…
            </Button>
          )}
          <Button size="small" type="text" onClick={closeSource}>
            Close
          </Button>
          {chosen.kind === 'folder' && (
            <Button
              size="small"
              type="text"
              onClick={() => {
                closeSource();
                void session.drives.forgetSource(chosen.id);
              }}
            >
              Take from this list
            </Button>
          )}
        </div>
      )}
    </section>
  );
}

/** A card as one list, or one of the folders its cameras made. */
function Folders({
  survey,
  below,
  onChoose,
}: {
  survey: SourceSurvey | null;
  below: string;
  onChoose: (folder: string) => void;
}) {
  const folders = [
    ...new Set([...(below === '' ? [] : [below]), ...(survey?.items ?? []).map(({ frame }) => frame.folder)]),
  ]
    .filter((folder) => folder !== '')
    .sort();
  if (folders.length < 2 && below === '') return null;
  return (
    <Select
      size="small"
      value={below}
      style={{ minWidth: 170 }}
      aria-label="Which folder"
      options={[
        { value: '', label: 'all folders as one' },
        ...folders.map((folder) => ({ value: folder, label: folder })),
      ]}
      onChange={onChoose}
    />
  );
}

function Found({ survey: { items, others, problems, progress }, name }: { survey: SourceSurvey; name: string }) {
  const photos = items.reduce((sum, { frame }) => sum + frame.photos.length, 0);
  const size = items.reduce(
    (sum, { frame }) => sum + [...frame.photos, ...frame.beside].reduce((all, file) => all + file.sizeBytes, 0),
    0,
  );
  const videos = items.filter(isVideo).length;
  const known = items.filter(isKnown).length;
  const doubtful = items.filter(({ status }) => status?.state === 'doubtful');
  const PHASE = {
    listing: 'Looking through the folders',
    reading: 'Reading what the photos say',
    comparing: 'Comparing with the catalog, byte by byte',
    done: '',
  };
  return (
    <>
      <p aria-live="polite">
        <strong>{plural(items.length, 'frame')}</strong> on {name}: {plural(photos - videos, 'photo')}
        {videos > 0 && `, ${plural(videos, 'video')}`}, {bytes(size)}.
        {progress.phase === 'done' &&
          (known === 0
            ? ' None is in the catalog.'
            : known === items.length && items.length > 0
              ? ' All are in the catalog: nothing new here.'
              : ` ${plural(known, 'is', 'are')} in the catalog already and left out.`)}
        {others.length > 0 &&
          ` ${plural(others.length, 'file belongs', 'files belong')} to no photo and ${others.length === 1 ? 'stays' : 'stay'} there.`}
      </p>
      {progress.phase !== 'done' && (
        <div className={styles.surveying}>
          <span className="quiet">
            {PHASE[progress.phase]}: {count(progress.done)}
            {progress.total > 0 && ` of ${count(progress.total)}`}
          </span>
          {progress.total > 0 && (
            <Progress
              percent={Math.floor((100 * progress.done) / progress.total)}
              size="small"
              showInfo={false}
              aria-label={PHASE[progress.phase]}
            />
          )}
        </div>
      )}
      {doubtful.length > 0 && (
        <p className={styles.caution}>
          {plural(doubtful.length, 'frame is', 'frames are')} in doubt: the catalog has a photo of that name and time,
          or of that beginning and end, with other bytes. They are taken in; look at the marked ones.
        </p>
      )}
      {problems.length > 0 && (
        <details className={styles.details}>
          <summary>{plural(problems.length, 'file')} could not be read</summary>
          <ul>
            {problems.slice(0, 100).map(({ path, problem }) => (
              <li key={path}>
                <span className="mono">{path}</span> {problemSentence(problem)}
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}
