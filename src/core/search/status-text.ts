// How a photo stands on its drives, as a text that many photos share.

import type { CopyStatus } from '../fixity/copies';
import { DAY_MS, daysOfMs } from '../time/captured';
import type { SearchRecord } from './search-record';

const LETTERS: Record<CopyStatus, string> = {
  verified: 'v',
  'not-yet-read': 'u',
  'in-doubt': 'q',
  damaged: 'd',
  missing: 'm',
};
const STATUS = new Map(Object.entries(LETTERS).map(([status, letter]) => [letter, status as CopyStatus]));

/** `v20600 driveId` a line: status, day of the last reading (days since 1970, UTC), drive. */
export const statusText = (onDrives: SearchRecord['onDrives']): string =>
  onDrives
    .map(
      ({ driveId, status, verifiedAt }) =>
        `${LETTERS[status]}${verifiedAt === null ? '' : daysOfMs(verifiedAt)} ${driveId}`,
    )
    .sort()
    .join('\n');

export interface OnDrive {
  driveId: string;
  status: CopyStatus;
  /** Milliseconds since 1970, UTC: the beginning of that day. */
  verifiedAt: number | null;
}

export const parseStatus = (text: string): OnDrive[] =>
  (text === '' ? [] : text.split('\n')).map((line) => {
    const [said = '', driveId = ''] = line.split(' ');
    const day = said.slice(1);
    return {
      driveId,
      status: STATUS.get(said.slice(0, 1)) ?? 'not-yet-read',
      verifiedAt: day === '' ? null : Number(day) * DAY_MS,
    };
  });
