'use client';

import { useLive } from '@/storage/catalog/live';
import type { DriveRecord } from '@/storage/catalog/records';
import type { Volume } from '@/storage/host/protocol';
import { session } from '@/engine/session';

/** Room and name of the volume a drive lies on: told where this machine serves it; a browser does not say it. */
export function useVolume(drive: Pick<DriveRecord, 'served'> | null, isHere: boolean): Volume | null {
  const folder = isHere ? drive?.served?.folder : undefined;
  return useLive(() => (folder ? session.host?.ask('volume', { folder }).catch(() => null) : null), [folder]) ?? null;
}
