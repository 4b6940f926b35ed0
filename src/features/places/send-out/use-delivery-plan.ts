'use client';

// What the delivery will do with the photos at hand, planned anew when a setting, a photo or a drive changes.

import { useEffect, useMemo, useState } from 'react';
import type { NameFacts } from '@/core/names/pattern';
import { type DeliveryPlan, type SendablePhoto, planDelivery } from '@/core/send-out/delivery-plan';
import type { DeliveryProfile } from '@/core/send-out/delivery-profile';
import type { WordMarks } from '@/core/send-out/words-policy';
import { useLive } from '@/storage/catalog/live';
import type { Connection } from '@/storage/connections/connections';
import { type DriveAccess, sendablePhotos, takenNames, wordMarksOf } from '@/storage/catalog/sendable';
import { today } from '@/ui/format';
import { session } from '@/engine/session';
import { useSession } from '@/features/parts/session/use-session';
import type { Draft } from './use-draft';

export interface DeliveryAtHand {
  photos: SendablePhoto[];
  plan: DeliveryPlan;
  /** The profile as it will be used. */
  used: DeliveryProfile;
  marks: WordMarks;
  blanks: NameFacts['blanks'];
  /** Not while a setting, a photo or a drive has changed and what will come of it is still being looked at. */
  isCurrent: boolean;
}

const NO_IDS: readonly string[] = [];

const accessOf = (connection: Connection | undefined): DriveAccess =>
  connection?.state === 'connected' ? (connection.writable ? 'write' : 'read') : 'away';

/** `null` while it is being looked at, or without a profile. */
export function useDeliveryPlan(
  photoIds: readonly string[],
  draft: Draft,
  blanks: NameFacts['blanks'],
  /** Deliveries that have ended: the names they took are taken. */
  ended: number,
): DeliveryAtHand | null {
  const connections = useSession((state) => state.connections);
  const { profile, content, answers } = draft;
  // without a profile nothing has to be known of a hundred thousand photos
  const wanted = profile ? photoIds : NO_IDS;
  const photos = useLive(
    () => sendablePhotos(session.db, wanted, (id) => accessOf(connections[id]), Date.now()),
    [wanted, connections],
  );
  const marks = useLive(() => wordMarksOf(session.db));
  const used = useMemo(() => profile && content && { ...profile, ...content }, [profile, content]);
  const asked = JSON.stringify([used, answers, blanks, ended]);
  const [planned, setPlanned] = useState<(Omit<DeliveryAtHand, 'isCurrent'> & { asked: string }) | null>(null);
  useEffect(() => {
    if (!photos || !marks || !used) return;
    let isCurrent = true;
    const context = { answers, blanks, taken: new Set<string>(), marks, today: today() };
    const first = planDelivery(photos, used, context);
    takenNames(first, (id) => session.drives.driveNow(id)).then(
      (taken) => {
        if (!isCurrent) return;
        const plan = taken.size > 0 ? planDelivery(photos, used, { ...context, taken }) : first;
        setPlanned({ photos, plan, used, marks, blanks, asked });
      },
      (error: unknown) => console.error(error),
    );
    return () => {
      isCurrent = false;
    };
    // what is asked says all of the profile, the answers and the blanks
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [photos, marks, asked]);
  return used && planned ? { ...planned, isCurrent: planned.asked === asked && planned.photos === photos } : null;
}
