// From the sheet to an accession: what is recorded when the person begins.

import { nextNumber } from '@/storage/catalog/accessions';
import type { AccessionFileRecord, AccessionRecord, SourceRecord } from '@/storage/catalog/records';
import { session } from '@/engine/session';
import { useLastRoutine } from './routine-line';
import { given, isKnown, leaveShoot, useTakeIn } from './take-in-state';
import { type Chosen, type PlanFor, hasSecond } from './use-plan';

/**
 * Records the accession under the number that is free now, and begins. One tab at a time, so that no number is given
 * twice.
 */
export function begin(source: SourceRecord, { all, ticked }: Chosen, planFor: PlanFor): Promise<string | undefined> {
  return navigator.locks.request(`${session.db.name}-accession`, async () => {
    const { sheet: asTyped, note, runs, routineId, given: earlier } = useTakeIn.getState();
    const sheet = hasSecond(asTyped) ? asTyped : { ...asTyped, second: { ...asTyped.second, driveId: null } };
    const number = await nextNumber(session.db, new Date().getFullYear());
    const routine = routineId === null ? undefined : await session.db.routines.get(routineId);
    // frames of an accession begun a moment ago are as good as known
    const known = photosIn(
      all.filter((item) => (isKnown(item) || earlier.has(item.frame.key)) && !ticked.includes(item)),
    );
    const accession: AccessionRecord = {
      id: crypto.randomUUID(),
      number,
      name: sheet.blanks.subject.trim(),
      note: note.trim(),
      source: source.name,
      sourceId: source.id,
      recordedAt: null,
      startedAt: Date.now(),
      endedAt: null,
      onSource: photosIn(all),
      known,
      leftOut: photosIn(all) - known - photosIn(ticked),
      routine: routine?.name ?? null,
      sheet,
      runs,
    };
    const files = planFor(number, sheet).files.map((file): AccessionFileRecord => ({
      ...file,
      id: `${accession.id}/${file.from}`,
      accessionId: accession.id,
      sha256: null,
      photoId: null,
      placed: [],
      described: false,
    }));
    useLastRoutine.setState({ id: routineId });
    given(
      accession.id,
      ticked.map(({ frame }) => frame.key),
    );
    leaveShoot();
    return session.startTakeIn(accession, files);
  });
}

const photosIn = (items: Chosen['all']): number => items.reduce((sum, { frame }) => sum + frame.photos.length, 0);
