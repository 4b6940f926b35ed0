'use client';

// A shoot before there is a photo: its day, what it is, for whom; the folder is made by the sheet's rule, and offered
// when the card is there.

import { App, AutoComplete, Button, Input, Modal } from 'antd';
import { useState } from 'react';
import { type BlankName, fillFolder } from '@/core/names/pattern';
import { type PreparedShoot, patternOfFolder, shootFacts } from '@/core/take-in/shoot';
import { useLive } from '@/storage/catalog/live';
import { blanksUsed, dropShoot, keepShoot, photosIn, shootsPrepared } from '@/storage/catalog/shoots';
import { session } from '@/engine/session';
import { count, today } from '@/ui/format';
import { goIntoShoot, leaveShoot, useTakeIn } from './take-in-state';
import styles from './take-in.module.css';

const DAY = /^\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$/;

export function PrepareShoot({ number }: { number: string }) {
  const driveId = useTakeIn(({ sheet }) => sheet.driveId);
  const [isOpen, setOpen] = useState(false);
  return (
    <>
      <Button
        size="small"
        type="text"
        disabled={driveId === null || session.drives.driveNow(driveId) === null}
        onClick={() => setOpen(true)}
      >
        Prepare a shoot…
      </Button>
      <Modal open={isOpen} title="Prepare a shoot" footer={null} destroyOnHidden onCancel={() => setOpen(false)}>
        {isOpen && driveId !== null && <ShootForm driveId={driveId} number={number} onDone={() => setOpen(false)} />}
      </Modal>
    </>
  );
}

function ShootForm({ driveId, number, onDone }: { driveId: string; number: string; onDone: () => void }) {
  const { sheet, usual } = useTakeIn();
  const { message } = App.useApp();
  const [date, setDate] = useState(today());
  const [blanks, setBlanks] = useState(sheet.blanks);
  const used = useLive(() => blanksUsed(session.db)) ?? { kind: [], client: [] };
  const isDay = DAY.test(date.trim());
  const folder = fillFolder(usual?.folder ?? sheet.folder, shootFacts(date.trim(), blanks, number));
  const there = useLive(() => photosIn(session.db, driveId, folder), [driveId, folder]) ?? 0;
  const make = async () => {
    try {
      await session.drives.driveNow(driveId)?.makeFolder(folder);
      const shoot: PreparedShoot = { driveId, folder, date: date.trim(), blanks };
      await keepShoot(session.db, shoot, Date.now());
      goIntoShoot(shoot);
      message.success(`The folder “${folder}” is there. The next card goes into it.`);
      onDone();
    } catch (error) {
      message.error(`The folder was not made: ${error instanceof Error ? error.message : String(error)}`);
    }
  };
  const blank = (of: BlankName, label: string, known: readonly string[]) => (
    <>
      <label htmlFor={`shoot-${of}`}>{label}</label>
      <AutoComplete
        id={`shoot-${of}`}
        value={blanks[of]}
        options={known.map((value) => ({ value }))}
        showSearch={{
          filterOption: (typed, option) => (option?.value ?? '').toLowerCase().includes(typed.toLowerCase()),
        }}
        onChange={(value: string) => setBlanks({ ...blanks, [of]: value })}
      />
    </>
  );
  return (
    <form
      className={styles.shoot}
      onSubmit={(event) => {
        event.preventDefault();
        if (isDay && there === 0) void make();
      }}
    >
      <label htmlFor="shoot-date">Day</label>
      <Input id="shoot-date" className="mono" value={date} onChange={({ target }) => setDate(target.value)} />
      {blank('kind', 'Kind of work', used.kind)}
      {blank('client', 'Client', used.client)}
      {blank('subject', 'Subject', [])}
      <span>Folder</span>
      <p aria-live="polite">
        {isDay ? <span className="mono">{folder}</span> : 'Write the day as 2027-02-03.'}
        {isDay && there > 0 && ` has ${count(there)} photos already: change the day or the subject.`}
      </p>
      <div className={styles.shootFoot}>
        <Button onClick={onDone}>Cancel</Button>
        <Button type="primary" htmlType="submit" disabled={!isDay || there > 0}>
          Make the folder
        </Button>
      </div>
    </form>
  );
}

/** Shoots whose card has not come yet. */
export function PreparedShoots() {
  const shoots = useLive(() => shootsPrepared(session.db)) ?? [];
  const drives = useLive(() => session.db.drives.toArray()) ?? [];
  const { sheet, usual } = useTakeIn();
  if (shoots.length === 0) return null;
  const now = usual && JSON.stringify([sheet.driveId, sheet.folder]);
  const isNow = ({ driveId, folder }: PreparedShoot) => now === JSON.stringify([driveId, patternOfFolder(folder)]);
  return (
    <>
      <span>Prepared</span>
      <div className={styles.line}>
        {shoots.map((shoot) => (
          <span key={`${shoot.driveId}/${shoot.folder}`} className={styles.prepared}>
            <Button
              size="small"
              aria-pressed={isNow(shoot)}
              title={`On ${drives.find(({ id }) => id === shoot.driveId)?.name ?? 'a drive that is not known here'}`}
              onClick={() => (isNow(shoot) ? leaveShoot() : goIntoShoot(shoot))}
            >
              {shoot.folder}
            </Button>
            <Button
              size="small"
              type="text"
              aria-label={`No longer prepared: ${shoot.folder}`}
              title="Offer it no longer; the folder stays"
              onClick={() => void dropShoot(session.db, shoot, Date.now())}
            >
              ×
            </Button>
          </span>
        ))}
      </div>
    </>
  );
}
