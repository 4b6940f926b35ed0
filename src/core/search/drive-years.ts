// How the photos of each year stand on each drive: the picture of safekeeping. What one photo has on its drives is kept
// as a text that many photos share, so that a hundred thousand of them are counted by reading a few texts.

import type { CopyOnDrive } from '../fixity/copies';
import { type Keeping, driveFactsOf, isInUse } from '../fixity/keeping';
import { safetyOf } from '../fixity/safe';
import { DAY_MS } from '../time/captured';
import type { Columns } from './columns';
import { FLAG } from './search-record';
import { hasBit } from './bit-set';
import { type OnDrive, parseStatus } from './status-text';

/** The photos of a year. */
export interface YearSafety {
  photos: number;
  /** Safe by the rule, now. */
  safe: number;
  /** Enough copies, to be read again. */
  overdue: number;
  fewCopies: number;
  noneElsewhere: number;
  /** Damaged, missing or in doubt on some drive. */
  problems: number;
  /** Verified copies: of the photo that has the fewest, and of the one that has the most. */
  fewest: number;
  most: number;
}

/** The photos of a year on one drive. */
export interface YearOnDrive {
  photos: number;
  /** Read in full within the rule. */
  fresh: number;
  /** Read in full, too long ago. */
  overdue: number;
  unread: number;
  /** Damaged, missing or in doubt. */
  problems: number;
  /** The day of the reading that is longest ago; milliseconds since 1970, UTC. */
  oldest: number | null;
}

export interface DriveYears {
  /** By year; 0 for photos without a date. */
  all: Map<number, YearSafety>;
  /** By drive and year. */
  drives: Map<string, Map<number, YearOnDrive>>;
}

const newYear = (): YearSafety => ({
  photos: 0,
  safe: 0,
  overdue: 0,
  fewCopies: 0,
  noneElsewhere: 0,
  problems: 0,
  fewest: Infinity,
  most: 0,
});
const newCell = (): YearOnDrive => ({ photos: 0, fresh: 0, overdue: 0, unread: 0, problems: 0, oldest: null });

/** One pass over all photos. Days are compared as days: a copy counts as fresh until its day is `within` days ago. */
export function driveYears(columns: Columns, nowMs: number, verifiedWithinDays: number): DriveYears {
  const found: DriveYears = { all: new Map(), drives: new Map() };
  const [day, flags, until] = [columns.column('day'), columns.column('flags'), columns.column('safeUntil')];
  const copies = columns.column('copies');
  const onDrives = columns.textColumn('onDrives');
  // photos of one year with one text stand alike: counted first, looked at once
  const alike = new Map<number, number>();
  const step = onDrives.numberCount;
  for (let slot = 0; slot < columns.size; slot++) {
    if (!hasBit(columns.live, slot)) continue;
    const year = Math.trunc((day[slot] ?? 0) / 10_000);
    const all = getOr(found.all, year, newYear);
    addTo(all, flags[slot] ?? 0, until[slot] ?? 0, nowMs);
    all.fewest = Math.min(all.fewest, copies[slot] ?? 0);
    all.most = Math.max(all.most, copies[slot] ?? 0);
    const key = year * step + onDrives.number(slot);
    alike.set(key, (alike.get(key) ?? 0) + 1);
  }
  const freshSince = nowMs - verifiedWithinDays * DAY_MS;
  for (const [key, photos] of alike) {
    const year = Math.floor(key / step);
    for (const one of parseStatus(onDrives.textOf(key % step)))
      addCell(
        getOr(
          getOr(found.drives, one.driveId, () => new Map()),
          year,
          newCell,
        ),
        one,
        photos,
        freshSince,
      );
  }
  return found;
}

function addTo(year: YearSafety, flags: number, until: number, nowMs: number): void {
  year.photos += 1;
  if (until > nowMs) year.safe += 1;
  else if (until > 0) year.overdue += 1;
  if (flags & FLAG.fewCopies) year.fewCopies += 1;
  if (flags & FLAG.noneElsewhere) year.noneElsewhere += 1;
  if (flags & (FLAG.damaged | FLAG.missing | FLAG.doubt)) year.problems += 1;
}

function addCell(cell: YearOnDrive, { status, verifiedAt }: OnDrive, photos: number, freshSince: number): void {
  cell.photos += photos;
  if (status === 'verified' && verifiedAt !== null) {
    cell[verifiedAt > freshSince ? 'fresh' : 'overdue'] += photos;
    cell.oldest = Math.min(cell.oldest ?? Infinity, verifiedAt);
  } else if (status === 'not-yet-read') cell.unread += photos;
  else cell.problems += photos;
}

function getOr<K, V>(map: Map<K, V>, key: K, make: () => V): V {
  const known = map.get(key);
  if (known !== undefined) return known;
  const made = make();
  map.set(key, made);
  return made;
}

/** What would be lost with a drive. */
export interface DriveLoss {
  /** Photos that have a file on it. */
  photos: number;
  /** Of these, verified on no other drive that is in use. */
  unverified: number;
  /** Of these, on no other drive in use at all. */
  nowhere: number;
  /** Safe now, and not without it. */
  unsafe: number;
}

/** As if the drive were gone. Days are compared as days. */
export function driveLoss(columns: Columns, driveId: string, keeping: Keeping, nowMs: number): DriveLoss {
  const loss: DriveLoss = { photos: 0, unverified: 0, nowhere: 0, unsafe: 0 };
  const column = columns.textColumn('onDrives');
  const alike = new Uint32Array(column.numberCount);
  for (let slot = 0; slot < columns.size; slot++)
    if (hasBit(columns.live, slot)) alike[column.number(slot)] = (alike[column.number(slot)] ?? 0) + 1;
  const isSafe = (copies: readonly CopyOnDrive[]) =>
    safetyOf(copies, keeping.rule, (id) => driveFactsOf(keeping, id).elsewhere).until > nowMs;
  alike.forEach((photos, number) => {
    if (photos === 0) return;
    const all = parseStatus(column.textOf(number));
    if (!all.some((one) => one.driveId === driveId && one.status !== 'missing')) return;
    const counted = all.filter((one) => isInUse(keeping, one.driveId)).map((one) => ({ ...one, path: '' }));
    const others = counted.filter((one) => one.driveId !== driveId);
    loss.photos += photos;
    if (!others.some(({ status }) => status === 'verified')) loss.unverified += photos;
    if (!others.some(({ status }) => status !== 'missing')) loss.nowhere += photos;
    if (isSafe(counted) && !isSafe(others)) loss.unsafe += photos;
  });
  return loss;
}
