'use client';

// The history of a photo: what was said of it, when, and from where; and the way back to what was said.

import { Button, Drawer, Empty } from 'antd';
import { useState } from 'react';
import { driveName } from '@/messages/drive-name';
import { planFields } from '@/core/fields/edits';
import { type HistoryEdit, wordsAfter } from '@/core/catalog/history';
import { type FieldKey, type FieldValues, fieldOf } from '@/core/fields/registry';
import { sameValue, toTyped } from '@/core/fields/values';
import { FINDING_WORDS, eventWords } from '@/messages/changes';
import { type PhotoEvent, historyOf } from '@/storage/catalog/history';
import { useLive } from '@/storage/catalog/live';
import type { PhotoRecord } from '@/storage/catalog/records';
import { count, dateTime, plural } from '@/ui/format';
import { useEscape } from '@/ui/keys';
import { session } from '@/engine/session';
import styles from './record-card.module.css';

export function HistoryButton({ photo }: { photo: PhotoRecord }) {
  const [open, setOpen] = useState(false);
  useEscape(open, () => setOpen(false));
  return (
    <>
      <Button size="small" type="text" onClick={() => setOpen(true)}>
        History
      </Button>
      <Drawer
        title="What was said of it, and when"
        open={open}
        onClose={() => setOpen(false)}
        size={620}
        destroyOnHidden
      >
        <History photo={photo} />
      </Drawer>
    </>
  );
}

/** Shown at once; whoever goes further back asks for more. */
const PAGE = 100;

function History({ photo }: { photo: PhotoRecord }) {
  const events = useLive(() => historyOf(session.db, photo.id), [photo.id]);
  const [shown, setShown] = useState(PAGE);
  if (!events) return null;
  const back = (words: FieldValues, keys: readonly FieldKey[]) =>
    void session.change({ kind: 'fields', origin: 'person', edits: planFields(photo, words, [...keys]) });
  return (
    <div className={styles.history}>
      {events.length === 0 && (
        <Empty image={null} description="Nothing was changed yet. It says what its file said when it came." />
      )}
      <ol aria-label="History">
        {events.slice(0, shown).map((event, index) => (
          <Event
            key={event.id}
            event={event}
            photo={photo}
            after={wordsAfter(
              events.map(({ edits }) => edits),
              index,
            )}
            isLatest={index === 0}
            onBack={back}
          />
        ))}
      </ol>
      {events.length > shown && (
        <Button size="small" onClick={() => setShown(shown + PAGE)}>
          {count(events.length - shown)} more
        </Button>
      )}
      <p className="quiet">{dateTime(photo.addedAt)}: it came into the catalog.</p>
    </div>
  );
}

function Event({
  event,
  photo,
  after,
  isLatest,
  onBack,
}: {
  event: PhotoEvent;
  photo: PhotoRecord;
  after: FieldValues;
  isLatest: boolean;
  onBack: (words: FieldValues, keys: readonly FieldKey[]) => void;
}) {
  const drives = useLive(() => session.db.drives.toArray()) ?? [];
  const others = (Object.keys(after) as FieldKey[]).filter((key) => !sameValue(photo.fields[key], after[key]));
  return (
    <li>
      <header>
        <time dateTime={new Date(event.at).toISOString()}>{dateTime(event.at)}</time>
        <span>{eventWords(event)}</span>
      </header>
      {event.edits.length > 0 && (
        <table>
          <thead className="visually-hidden">
            <tr>
              <th scope="col">Field</th>
              <th scope="col">Before</th>
              <th scope="col">After</th>
              <th scope="col">Back</th>
            </tr>
          </thead>
          <tbody>
            {event.edits.map((edit, index) => (
              <EditRow key={index} edit={edit} now={photo.fields} onBack={onBack} />
            ))}
          </tbody>
        </table>
      )}
      {event.found.map(({ drive, path, what }) => (
        <p key={path}>
          {FINDING_WORDS[what]} <strong>{driveName(drives, drive)}</strong> <span className="mono">{path}</span>
        </p>
      ))}
      {event.moves.map(({ before, after: to }, index) => (
        <p key={index} className="mono">
          {before} → {to}
        </p>
      ))}
      {!isLatest && others.length > 0 && (
        <Button size="small" type="text" onClick={() => onBack(after, others)}>
          All words back to this ({plural(others.length, 'field')})
        </Button>
      )}
    </li>
  );
}

function EditRow({
  edit: { field, before, after },
  now,
  onBack,
}: {
  edit: HistoryEdit;
  now: FieldValues;
  onBack: (words: FieldValues, keys: readonly FieldKey[]) => void;
}) {
  const isNow = sameValue(now[field], after);
  const { label } = fieldOf(field);
  return (
    <tr>
      <th scope="row">{label}</th>
      <td>{toTyped(before) || '(empty)'}</td>
      <td>{toTyped(after) || '(empty)'}</td>
      <td>
        {isNow ? (
          <span className="quiet">as now</span>
        ) : (
          <Button
            size="small"
            type="text"
            onClick={() => onBack(after === undefined ? {} : { [field]: after }, [field])}
            aria-label={`${label} back to ${toTyped(after) || 'empty'}`}
          >
            Back to this
          </Button>
        )}
      </td>
    </tr>
  );
}
