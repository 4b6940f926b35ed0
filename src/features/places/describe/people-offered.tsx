'use client';

import { planList } from '@/core/fields/edits';
import { wordsIn } from '@/core/fields/values';
import type { PhotoRecord } from '@/storage/catalog/records';
import { recordsOf } from '@/engine/selected-photos';
import { session } from '@/engine/session';
import { useAsked } from '@/features/parts/session/use-asked';
import styles from './describe.module.css';

const OFFERED = 10;

/** People already in this shoot, and then those elsewhere in the catalog: one click names one in the photo. */
export function PeopleOffered({ photo }: { photo: PhotoRecord }) {
  const people = useAsked(photo.id, () => session.search.peopleNear(photo.id, OFFERED))?.answer ?? [];
  const shown = wordsIn(photo.fields.personShown);
  const offered = people.filter((name) => !shown.includes(name));
  if (offered.length === 0) return null;
  const name = async (person: string) =>
    session.change({
      kind: 'fields',
      origin: 'person',
      edits: planList(await recordsOf([photo.id]), 'personShown', [person], []),
    });
  return (
    <div className={styles.people} role="group" aria-label="People of this shoot">
      <span>in this shoot</span>
      {offered.map((person) => (
        <button key={person} type="button" onClick={() => void name(person)}>
          + {person}
        </button>
      ))}
    </div>
  );
}
