'use client';

// One drive: what would be lost with it, what is said of it, how it was met, and what becomes of it.

import { App, Button, Checkbox, Drawer, Input, Popconfirm, Select } from 'antd';
import Link from 'next/link';
import { type ReactNode, useState } from 'react';
import { DRIVE_NOTE_LENGTH, type DriveFacts, FACT_LENGTH, MEDIA, type Medium } from '@/core/fixity/drive-facts';
import { driveFactsOf, type Keeping } from '@/core/fixity/keeping';
import { quoted } from '@/core/query/write-scope';
import type { DriveLoss } from '@/core/search/drive-years';
import { MEDIUM_WORDS, holdingSentence, lossSentences, standingSentence } from '@/messages/safekeep';
import { useLive, useSum } from '@/storage/catalog/live';
import { driveStatus } from '@/storage/catalog/drive-status';
import type { DriveRecord } from '@/storage/catalog/records';
import { session } from '@/engine/session';
import { bytes, count, dayWords, photos, plural } from '@/ui/format';
import { useEscape } from '@/ui/keys';
import { findAddress } from '@/features/parts/search/use-scope';
import { useAsked } from '@/features/parts/session/use-asked';
import { useSession } from '@/features/parts/session/use-session';
import { ReplaceForm } from './replace-form';
import { SameDiskForm } from './same-disk-form';
import { StoreSection } from './store-section';
import { useVolume } from '@/features/parts/session/use-volume';
import styles from './safekeep.module.css';

interface Props {
  drive: DriveRecord;
  drives: readonly DriveRecord[];
  keeping: Keeping;
  onClose: () => void;
}

export function DriveDrawer({ drive, drives, keeping, onClose }: Props) {
  useEscape(true, onClose);
  const facts = driveFactsOf(keeping, drive.id);
  const loss = useAsked(`loss ${drive.id} ${JSON.stringify([keeping.rule, [...keeping.facts]])}`, () =>
    session.search.driveLoss(drive.id, keeping),
  )?.answer;
  return (
    <Drawer open onClose={onClose} title={drive.name} size={460} keyboard={false}>
      <div className={styles.drive}>
        {facts.standing !== 'in-use' && (
          <p className={styles.bad} role="status">
            {standingSentence(facts)}
            {facts.replacedBy &&
              ` “${drives.find(({ id }) => id === facts.replacedBy)?.name ?? 'another drive'}” took its place.`}
          </p>
        )}
        <section aria-label="If this drive dies today">
          <h3>If this drive dies today</h3>
          {loss ? <Loss drive={drive} loss={loss} /> : <p className="quiet">Counting…</p>}
        </section>
        <FactsForm driveId={drive.id} facts={facts} />
        <StoreSection drive={drive} onForgotten={onClose} />
        <Met drive={drive} />
        <Life drive={drive} drives={drives} facts={facts} loss={loss ?? null} onClose={onClose} />
      </div>
    </Drawer>
  );
}

function Loss({ drive, loss }: { drive: DriveRecord; loss: DriveLoss }) {
  return (
    <>
      {lossSentences(loss).map((line) => (
        <p key={line}>{line}</p>
      ))}
      {loss.photos > 0 && (
        <p className={styles.links}>
          <Link href={findAddress(`drive=${quoted(drive.name)}`)}>{photos(loss.photos)} on it</Link>
          {loss.unverified > 0 && (
            <Link href={findAddress(`only=${quoted(drive.name)}`)}>
              {count(loss.unverified)} that {loss.unverified === 1 ? 'is' : 'are'} verified nowhere else (
              {Math.round((100 * loss.unverified) / loss.photos)} %)
            </Link>
          )}
        </p>
      )}
    </>
  );
}

/** What the person says of it; kept when a field is left. */
function FactsForm({ driveId, facts }: { driveId: string; facts: DriveFacts }) {
  const say = (patch: Partial<DriveFacts>) => void session.driveActs.say(driveId, patch);
  const line = (key: 'place' | 'serial' | 'boughtOn', placeholder: string) => (
    <Said value={facts[key]} onSay={(value) => say({ [key]: value })} id={`drive-${key}`} placeholder={placeholder} />
  );
  return (
    <section aria-label="What it is" className={styles.facts}>
      <label htmlFor="drive-medium">kind</label>
      <Select
        id="drive-medium"
        size="small"
        allowClear
        placeholder="not said"
        value={facts.medium}
        onChange={(medium: Medium | undefined) => say({ medium: medium ?? null })}
        options={MEDIA.map((value) => ({ value, label: MEDIUM_WORDS[value] }))}
      />
      <label htmlFor="drive-place">kept in</label>
      {line('place', 'cellar, bank box …')}
      <span />
      <Checkbox checked={facts.elsewhere} onChange={({ target }) => say({ elsewhere: target.checked })}>
        elsewhere: not in the house where you work
      </Checkbox>
      <label htmlFor="drive-serial">serial number</label>
      {line('serial', 'as it is printed on it')}
      <label htmlFor="drive-boughtOn">bought</label>
      {line('boughtOn', '2023-05')}
      <label htmlFor="drive-note">note</label>
      <Said
        value={facts.note}
        onSay={(note) => say({ note })}
        id="drive-note"
        placeholder="who has the key, what it sounds like"
        rows={2}
      />
    </section>
  );
}

interface SaidProps {
  id: string;
  value: string;
  placeholder: string;
  onSay: (value: string) => void;
  rows?: number;
}

function Said({ id, value, placeholder, onSay, rows }: SaidProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const leave = () => {
    if (typed !== null && typed.trim() !== value) onSay(typed.trim());
    setTyped(null);
  };
  const line = {
    id,
    placeholder,
    value: typed ?? value,
    onBlur: leave,
    onChange: ({ target }: { target: { value: string } }) => setTyped(target.value),
  };
  return rows ? (
    <Input.TextArea {...line} rows={rows} maxLength={DRIVE_NOTE_LENGTH} />
  ) : (
    <Input {...line} size="small" maxLength={FACT_LENGTH} onPressEnter={leave} />
  );
}

/** What was seen of it. */
function Met({ drive }: { drive: DriveRecord }) {
  const isHere = useSession((state) => state.connections[drive.id]?.state === 'connected');
  const status = useSum(session.db, 'files', () => driveStatus(session.db, drive.id), [drive.id]);
  const problems = useLive(() => session.db.archiveProblems.where('id').startsWith(`${drive.id}/`).count(), [drive.id]);
  const volume = useVolume(drive, isHere);
  const rows: [string, ReactNode][] = [
    ['first seen', dayWords(drive.addedAt)],
    ['last seen', isHere ? 'connected now' : drive.seenAt ? dayWords(drive.seenAt) : 'not noted'],
    ['looked through', drive.scannedAt === null ? 'never' : dayWords(drive.scannedAt)],
    ['read in full', status?.oldestReading ? `the oldest reading is of ${dayWords(status.oldestReading)}` : 'never'],
    [
      'found on it',
      status &&
        (
          [
            [status.unverified, 'not read yet'],
            [status.damaged, 'damaged'],
            [status.missing, 'missing'],
            [status.inDoubt, 'in doubt'],
          ] as const
        )
          .filter(([number]) => number > 0)
          .map(([number, words]) => `${count(number)} ${words}`)
          .join(', '),
    ],
    [
      'its own records',
      problems === undefined
        ? ''
        : problems === 0
          ? 'read without a problem'
          : `${plural(problems, 'file')} could not be read: see Overview`,
    ],
    ['room left', volume ? `${bytes(volume.freeBytes)} of ${bytes(volume.sizeBytes)}` : null],
    ['its volume', volume?.label ?? volume?.uuid],
  ];
  return (
    <dl className={styles.met} aria-label="How it was met">
      {rows.map(
        ([label, value]) =>
          value && (
            <div key={label}>
              <dt>{label}</dt>
              <dd>{value}</dd>
            </div>
          ),
      )}
    </dl>
  );
}

interface LifeProps {
  drive: DriveRecord;
  drives: readonly DriveRecord[];
  facts: DriveFacts;
  loss: DriveLoss | null;
  onClose: () => void;
}

function Life({ drive, drives, facts, loss, onClose }: LifeProps) {
  const { message } = App.useApp();
  const [open, setOpen] = useState<'replace' | 'same' | null>(null);
  const toggle = (one: 'replace' | 'same') => setOpen(open === one ? null : one);
  const connections = useSession((state) => state.connections);
  const here = drives.filter(({ id }) => id !== drive.id && connections[id]?.state === 'connected');
  const isInUse = facts.standing === 'in-use';
  const forget = async () => {
    const holding = await session.driveActs.forget(drive.id);
    if (holding === 'busy') message.warning(`A job works on “${drive.name}”. Let it end first.`);
    else if (holding) message.warning(holdingSentence(holding));
    else {
      message.success(`“${drive.name}” is forgotten. What lies on it was not touched.`);
      onClose();
    }
  };
  const cost = loss ? lossSentences(loss).join(' ') : '';
  return (
    <section aria-label="What becomes of it">
      <h3>What becomes of it</h3>
      <div className={styles.acts}>
        {isInUse ? (
          <>
            <Popconfirm
              title="Rely on it no longer?"
              description={`${cost} It stays in the catalog and can be read; its copies do not count.`}
              okText="Retire it"
              cancelText="No"
              onConfirm={() => void session.driveActs.stand(drive.id, 'retired')}
            >
              <Button size="small">Retire…</Button>
            </Popconfirm>
            <Popconfirm
              title="Is it lost?"
              description={`${cost} What was on it stays in the catalog, to be known.`}
              okText="It is lost"
              okButtonProps={{ danger: true }}
              cancelText="No"
              onConfirm={() => void session.driveActs.stand(drive.id, 'lost')}
            >
              <Button size="small" danger>
                It is lost…
              </Button>
            </Popconfirm>
            <Button size="small" onClick={() => toggle('replace')} aria-expanded={open === 'replace'}>
              Replace…
            </Button>
          </>
        ) : (
          <Button size="small" onClick={() => void session.driveActs.stand(drive.id, 'in-use')}>
            It is in use again
          </Button>
        )}
        {here.length > 0 && (
          <Button size="small" onClick={() => toggle('same')} aria-expanded={open === 'same'}>
            The same disk as…
          </Button>
        )}
        <Popconfirm
          title="Forget this drive?"
          description="Only if all of it is verified elsewhere. What lies on it is not touched. This is no act that undo takes back: connect it again for that."
          okText="Forget it"
          cancelText="No"
          onConfirm={() => void forget()}
        >
          <Button size="small" danger>
            Forget…
          </Button>
        </Popconfirm>
      </div>
      {open === 'replace' && <ReplaceForm drive={drive} drives={drives} onBegun={onClose} />}
      {open === 'same' && <SameDiskForm drive={drive} here={here} onJoined={onClose} />}
    </section>
  );
}
