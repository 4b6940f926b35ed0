'use client';

// What was set aside, by the day it was, and what was taken out of the catalog: to be brought back; the first also to
// be erased, after being asked twice.

import { Button, Drawer, Popconfirm } from 'antd';
import { useState } from 'react';
import { nameIn } from '@/core/names/file-names';
import { copyStatusOf } from '@/core/fixity/copies';
import { driveFactsOf, isInUse } from '@/core/fixity/keeping';
import { asideOf } from '@/core/names/set-aside';
import { readKeeping } from '@/storage/catalog/keeping';
import { type AsidePhoto, listSetAside, planBringBack, queueErasing } from '@/storage/catalog/set-aside';
import { useLive, useSum } from '@/storage/catalog/live';
import { bytes, count, photos, plural } from '@/ui/format';
import { useEscape } from '@/ui/keys';
import { Drives } from '@/features/parts/judging/removal-plan';
import { session } from '@/engine/session';
import styles from './safekeep.module.css';

const NAMED = 100;

export function SetAsideCard() {
  const aside = useSum(session.db, 'files', () => listSetAside(session.db), []) ?? [];
  const out = useLive(async () => (await session.db.leftOut.toArray()).filter(({ deleted }) => !deleted)) ?? [];
  const [erasing, setErasing] = useState<AsidePhoto[] | null>(null);
  const days = [...new Set(aside.map(({ day }) => day))];
  const bringBack = async (ids: string[]) => session.change((await planBringBack(session.db, ids)).change);
  const takeIn = () =>
    session.change({ kind: 'left-out', photos: out.map(({ id, name }) => ({ id, name })), out: false });
  return (
    <section className={styles.panel} aria-label="Set aside">
      <header>
        <h2>Set aside{aside.length > 0 && `: ${photos(aside.length)}`}</h2>
      </header>
      {aside.length === 0 && (
        <p className="quiet">
          Nothing is set aside. What is, lies in <code>_wembo/set-aside</code> of its drive, and is listed here with its
          date.
        </p>
      )}
      {days.map((day) => {
        const of = aside.filter((photo) => photo.day === day);
        const ids = of.map(({ photoId }) => photoId);
        return (
          <details key={day} className={styles.aside}>
            <summary>
              <span className="mono">{day}</span> {photos(of.length)},{' '}
              {plural(
                of.reduce((sum, { files }) => sum + files.length, 0),
                'file',
              )}
              , {bytes(of.reduce((sum, one) => sum + one.bytes, 0))}
            </summary>
            <div className={styles.acts}>
              <Button size="small" onClick={() => void bringBack(ids)}>
                Bring back {photos(of.length)}
              </Button>
              <Button size="small" danger onClick={() => setErasing(of)}>
                Erase…
              </Button>
            </div>
            <ul>
              {of.slice(0, NAMED).map((photo) => (
                <li key={photo.photoId}>
                  <span className="mono">{photo.from}</span>{' '}
                  <Button
                    size="small"
                    type="text"
                    onClick={() => void bringBack([photo.photoId])}
                    aria-label={`Bring back ${nameIn(photo.from)}`}
                  >
                    Bring back
                  </Button>
                </li>
              ))}
            </ul>
            {of.length > NAMED && <p className="quiet">and {count(of.length - NAMED)} more</p>}
          </details>
        );
      })}
      {out.length > 0 && (
        <details className={styles.aside}>
          <summary>Out of the catalog: {photos(out.length)}</summary>
          <div className={styles.acts}>
            <Button size="small" onClick={() => void takeIn()}>
              Bring back {photos(out.length)}
            </Button>
          </div>
          <ul>
            {out.slice(0, NAMED).map(({ id, name }) => (
              <li key={id}>
                <span className="mono">{name}</span>{' '}
                <Button
                  size="small"
                  type="text"
                  onClick={() => void session.change({ kind: 'left-out', photos: [{ id, name }], out: false })}
                  aria-label={`Bring ${name} back into the catalog`}
                >
                  Bring back
                </Button>
              </li>
            ))}
          </ul>
        </details>
      )}
      {erasing && <Erasing photosAside={erasing} onClose={() => setErasing(null)} />}
    </section>
  );
}

/** What stays of each photo when its files that are set aside are erased: missing ones are nothing that stays. */
async function remainsOf(photosAside: readonly AsidePhoto[]): Promise<{ nothing: number; unverified: number }> {
  const ids = photosAside.map(({ photoId }) => photoId);
  const photosById = new Map(
    (await session.db.photos.bulkGet(ids)).flatMap((photo) => (photo ? [[photo.id, photo]] : [])),
  );
  const files = (await session.db.files.where('photoId').anyOf(ids).toArray()).filter(
    ({ path, wantedPath, state }) =>
      state !== 'missing' && asideOf(path) === null && asideOf(wantedPath ?? path) === null,
  );
  const keeping = await readKeeping(session.db);
  const stays = new Set(
    files.flatMap(({ photoId, driveId }) => (driveFactsOf(keeping, driveId).standing === 'lost' ? [] : [photoId])),
  );
  const verified = new Set(
    files.flatMap((file) => {
      const photo = photosById.get(file.photoId ?? '');
      const counts = photo && isInUse(keeping, file.driveId) && copyStatusOf(file, photo) === 'verified';
      return counts ? photo.id : [];
    }),
  );
  return {
    nothing: ids.filter((id) => !stays.has(id)).length,
    unverified: ids.filter((id) => stays.has(id) && !verified.has(id)).length,
  };
}

function remainsSentence(all: number, { nothing, unverified }: { nothing: number; unverified: number }): string {
  if (nothing === 0 && unverified === 0)
    return 'Each of these photos has a verified copy that is not set aside; those stay.';
  return [
    nothing > 0 &&
      `Of ${nothing === all ? (nothing === 1 ? 'this photo' : 'all these photos') : photos(nothing)} ${nothing === 1 ? 'this is' : 'these are'} the last there is: nothing is left of ${nothing === 1 ? 'it' : 'them'} after this.`,
    unverified > 0 &&
      `Of ${photos(unverified)} what stays is not verified: it was never read in full, or is damaged or in doubt. Check that drive first.`,
  ]
    .filter((sentence) => sentence !== false)
    .join(' ');
}

/** Asked once by what it says, and once more before it is done. */
function Erasing({ photosAside, onClose }: { photosAside: AsidePhoto[]; onClose: () => void }) {
  useEscape(true, onClose);
  const files = photosAside.flatMap((photo) => photo.files);
  const drives = files.reduce(
    (sums, { driveId }) => sums.set(driveId, (sums.get(driveId) ?? 0) + 1),
    new Map<string, number>(),
  );
  const size = bytes(files.reduce((sum, { sizeBytes }) => sum + sizeBytes, 0));
  const remains = useLive(() => remainsOf(photosAside), [photosAside]);
  const erase = async () => {
    await queueErasing(
      session.db,
      photosAside.map(({ photoId }) => photoId),
      Date.now(),
    );
    session.wakeOutbox();
    onClose();
  };
  return (
    <Drawer open onClose={onClose} title={`Erase ${photos(photosAside.length)}`} size={440} keyboard={false}>
      <div className={styles.erasing}>
        <p>
          {plural(files.length, 'file')} ({size}) and their sidecars go from the drives
          {remains?.nothing ? ', with all that was said of those of which nothing stays' : ''}. This cannot be undone,
          by Wembo or by you.
        </p>
        {remains && <p role="status">{remainsSentence(photosAside.length, remains)}</p>}
        <Drives going={{ drives }} verb="erased" />
        <div className={styles.acts}>
          <Popconfirm
            title={`Really erase ${plural(files.length, 'file')}, ${size}?`}
            description="Nothing brings them back."
            okText="Erase them for good"
            okButtonProps={{ danger: true }}
            cancelText="No"
            onConfirm={() => void erase()}
          >
            <Button danger>Erase {plural(files.length, 'file')}…</Button>
          </Popconfirm>
          <Button onClick={onClose}>Leave them set aside</Button>
        </div>
      </div>
    </Drawer>
  );
}
