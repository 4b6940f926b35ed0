'use client';

// The shelves: drives, smart collections and facets, with live counts. A click narrows the scope, another widens it.

import { Button, Input, Popover, Tooltip } from 'antd';
import { type ReactNode, useEffect, useState } from 'react';
import { quoted, termOf, withTerm } from '@/core/scope/scope';
import { countOf } from '@/core/search/search-record';
import type { SmartCollection } from '@/core/changes/change';
import { useLive } from '@/storage/catalog/live';
import { isOfFiles } from '@/storage/catalog/records';
import { count } from '@/ui/format';
import { MarkerSign } from '@/ui/marker-sign';
import { RatingBars } from '@/ui/rating-bars';
import { useLadder } from '../judging/ladder';
import { useMarkersByName } from '../judging/markers';
import { session, useSession } from '../session/session';
import styles from './scope.module.css';
import { useResult } from './use-result';
import { useScope } from './use-scope';

export function Shelves() {
  return (
    <nav className={styles.shelves} aria-label="Shelves">
      <DriveShelf />
      <CollectionShelf />
      <AccessionShelf />
      <LadderShelf />
      <MarkerShelf />
      <CameraShelf />
    </nav>
  );
}

function Shelf({ title, action, children }: { title: string; action?: ReactNode; children: ReactNode }) {
  return (
    <section className={styles.shelf}>
      <h2>{title}{action}</h2>
      {children}
    </section>
  );
}

function Line({ name, number, chosen, remark, onClick }: { name: ReactNode; number?: number | undefined; chosen: boolean; remark?: string | undefined; onClick: () => void }) {
  return (
    <button type="button" className={styles.shelfLine} aria-pressed={chosen} onClick={onClick}>
      <span className={styles.shelfName}>{name}</span>
      {remark && <span className={styles.shelfRemark}>{remark}</span>}
      {number !== undefined && <span className={styles.shelfCount}>{count(number)}</span>}
    </button>
  );
}

/** Sets or takes out one term of the scope. */
function useTerm(key: string) {
  const { scope, setScope } = useScope();
  return { value: termOf(scope, key), toggle: (value: string) => setScope(withTerm(scope, key, termOf(scope, key) === value ? null : quoted(value))) };
}

function DriveShelf() {
  const drives = useLive(() => session.db.drives.toArray()) ?? [];
  const outbox = useLive(() => session.db.outbox.toArray()) ?? [];
  const connections = useSession((state) => state.connections);
  const facets = useResult((state) => state.result?.drives);
  const { value, toggle } = useTerm('drive');
  return (
    <Shelf title="Drives">
      {drives.map((drive) => {
        const state = connections[drive.id]?.state ?? 'away';
        const waiting = outbox.filter(({ driveId, task }) => driveId === drive.id && isOfFiles(task)).length;
        const remark = [state === 'away' && 'away', state === 'needs-permission' && 'asks', waiting > 0 && `${waiting} waiting`].filter(Boolean).join(' · ');
        return <Line key={drive.id} name={drive.name} number={countOf(facets, drive.name)} remark={remark} chosen={value === drive.name} onClick={() => toggle(drive.name)} />;
      })}
      {drives.length === 0 && <p className="quiet">No drive yet.</p>}
    </Shelf>
  );
}

function CollectionShelf() {
  const { scope, setScope } = useScope();
  const version = useSession((state) => state.indexVersion);
  const collections = useLive(async () => (await session.db.collections.toArray()).filter(({ deleted }) => !deleted).sort((a, b) => a.name.localeCompare(b.name))) ?? [];
  const counts = useCounts(collections.map((collection) => collection.scope), version);
  return (
    <Shelf title="Smart collections" action={<SaveScope scope={scope} />}>
      {collections.map((collection, index) => (
        <div key={collection.id} className={styles.collection}>
          <Line name={collection.name} number={counts[index]} chosen={scope === collection.scope} onClick={() => setScope(scope === collection.scope ? '' : collection.scope)} />
          <EditCollection collection={collection} scope={scope} />
        </div>
      ))}
      {collections.length === 0 && <p className="quiet">Narrow the scope, then keep it here under a name.</p>}
    </Shelf>
  );
}

/** Accessions in sight: the others are found by number, or in Take in. */
const ACCESSIONS = 5;

function AccessionShelf() {
  const version = useSession((state) => state.indexVersion);
  const accessions = useLive(async () => (await session.db.accessions.toArray()).sort((a, b) => b.startedAt - a.startedAt).slice(0, ACCESSIONS)) ?? [];
  const scopes = accessions.map(({ number }) => `accession:${number}`);
  const counts = useCounts(scopes, version);
  const { value, toggle } = useTerm('accession');
  if (accessions.length === 0) return null;
  return (
    <Shelf title="Brought in">
      {accessions.map(({ id, number, name, source }, index) => <Line key={id} name={<>{name || source} <span className={styles.shelfCount}>{number}</span></>} number={counts[index]} chosen={value === number} onClick={() => toggle(number)} />)}
    </Shelf>
  );
}

/** How many photos each of these scopes has now. */
function useCounts(scopes: string[], version: number): number[] {
  const key = JSON.stringify(scopes);
  const [counts, setCounts] = useState<number[]>([]);
  useEffect(() => {
    let current = true;
    session.search.count(JSON.parse(key) as string[]).then((found) => current && setCounts(found), () => {});
    return () => {
      current = false;
    };
  }, [key, version]);
  return counts;
}

function SaveScope({ scope }: { scope: string }) {
  const [open, setOpen] = useState(false);
  const save = (name: string) => {
    if (name.trim() !== '') void session.keep('collections', { name: name.trim(), scope });
    setOpen(false);
  };
  return (
    <Popover
      open={open} onOpenChange={(next) => setOpen(next && scope !== '')} trigger="click" placement="rightTop" destroyOnHidden
      content={<Input autoFocus aria-label="Name of the smart collection" placeholder="Name" onPressEnter={(event) => save(event.currentTarget.value)} suffix="⏎" />}
      title={<span>Keep <code>{scope}</code> as</span>}
    >
      <Tooltip title={scope === '' ? 'Narrow the scope first' : 'Keep this scope under a name'}>
        <Button size="small" type="text" disabled={scope === ''}>Keep scope</Button>
      </Tooltip>
    </Popover>
  );
}

function EditCollection({ collection, scope }: { collection: SmartCollection; scope: string }) {
  const rename = (name: string) => name.trim() !== '' && name !== collection.name && void session.changeKept('collections', collection, { name: name.trim() });
  const content = (
    <div className={styles.edit}>
      <Input defaultValue={collection.name} aria-label="Name" onBlur={(event) => rename(event.target.value)} onPressEnter={(event) => rename(event.currentTarget.value)} />
      <code>{collection.scope}</code>
      <Button size="small" disabled={scope === '' || scope === collection.scope} onClick={() => void session.changeKept('collections', collection, { scope })}>Take the present scope</Button>
      <Button size="small" danger onClick={() => void session.changeKept('collections', collection, { deleted: true })}>Remove (photos stay)</Button>
    </div>
  );
  return (
    <Popover trigger="click" placement="rightTop" content={content} destroyOnHidden>
      <Button size="small" type="text" className={styles.more} aria-label={`Edit smart collection ${collection.name}`}>⋯</Button>
    </Popover>
  );
}

const RUNGS = [5, 4, 3, 2, 1, 0, -1];

function LadderShelf() {
  const facets = useResult((state) => state.result?.ladder);
  const { meanings } = useLadder();
  const { value, toggle } = useTerm('rating');
  return (
    <Shelf title="Ladder">
      {RUNGS.map((rung) => (
        <Line
          key={rung} number={countOf(facets, rung)} chosen={value === String(rung)} onClick={() => toggle(String(rung))}
          name={<span className={styles.rung}><RatingBars rating={rung} />{meanings[String(rung)] ?? (rung === 0 ? 'unrated' : rung === -1 ? 'rejected' : rung)}</span>}
        />
      ))}
      <div className={styles.atLeast}>
        {[1, 2, 3, 4].map((rung) => (
          <Button key={rung} size="small" type={value === `${rung}..` ? 'primary' : 'text'} onClick={() => toggle(`${rung}..`)} aria-pressed={value === `${rung}..`}>{rung} up</Button>
        ))}
      </div>
    </Shelf>
  );
}

function MarkerShelf() {
  const facets = useResult((state) => state.result?.markers) ?? [];
  const markers = useMarkersByName();
  const { value, toggle } = useTerm('marker');
  const shown = value !== null && !facets.some((facet) => facet.value === value) ? [{ value, count: 0 }, ...facets] : facets;
  if (shown.length === 0) return null;
  return (
    <Shelf title="Markers">
      {shown.map((facet) => {
        const marker = markers.get(facet.value);
        return <Line key={facet.value} name={<span className={styles.markerName}>{marker && <MarkerSign {...marker} />}{facet.value}</span>} number={facet.count} chosen={value === facet.value} onClick={() => toggle(facet.value)} />;
      })}
    </Shelf>
  );
}

function CameraShelf() {
  const facets = useResult((state) => state.result?.cameras) ?? [];
  const { value, toggle } = useTerm('camera');
  const shown = value !== null && !facets.some((facet) => facet.value === value) ? [{ value, count: 0 }, ...facets] : facets;
  if (shown.length === 0) return null;
  return (
    <Shelf title="Cameras">
      {shown.map((facet) => <Line key={facet.value} name={facet.value} number={facet.count} chosen={value === facet.value} onClick={() => toggle(facet.value)} />)}
    </Shelf>
  );
}
