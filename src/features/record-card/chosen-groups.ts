// Which groups of fields the record card shows: the person's choice, kept in this browser.

import { create } from 'zustand';
import type { FieldGroup, FieldKey } from '@/core/fields/registry';

export const GROUP_TITLES: Record<FieldGroup, string> = {
  judgement: 'Rating and marker',
  content: 'What it shows',
  people: 'People and things shown',
  place: 'Place',
  rights: 'Creator and rights',
  licensing: 'Licences and releases',
  codes: 'Codes and older systems',
  origin: 'Date and origin',
};

/** The groups that can be folded away; rating and marker always show. */
export const CHOOSABLE: readonly FieldGroup[] = ['content', 'people', 'place', 'rights', 'licensing', 'codes', 'origin'];

/** Shown even while empty; the other fields of a group show when they say something, or when asked for. */
export const USUAL: ReadonlySet<FieldKey> = new Set<FieldKey>([
  'title', 'headline', 'caption', 'captionWriter', 'keywords', 'event', 'personShown', 'organisation', 'sublocation', 'city', 'province', 'country', 'countryCode', 'locationShown',
  'creator', 'creatorTitle', 'contact', 'copyrightNotice', 'credit', 'source', 'usageTerms', 'instructions', 'jobId', 'licensor', 'modelReleaseStatus', 'propertyReleaseStatus', 'dataMining',
  'sceneCode', 'subjectCode', 'captured', 'digitised', 'digitalSourceType',
]);

const KEPT_AS = 'wembo-record-groups';
const DEFAULT: FieldGroup[] = ['content', 'place', 'rights'];

function kept(): FieldGroup[] {
  try {
    const said: unknown = JSON.parse(localStorage.getItem(KEPT_AS) ?? 'null');
    return Array.isArray(said) ? CHOOSABLE.filter((group) => said.includes(group)) : DEFAULT;
  } catch {
    return DEFAULT;
  }
}

export const useChosenGroups = create<{ groups: FieldGroup[]; choose: (groups: FieldGroup[]) => void }>((set) => ({
  groups: typeof localStorage === 'undefined' ? DEFAULT : kept(),
  choose: (groups) => {
    const ordered = CHOOSABLE.filter((group) => groups.includes(group));
    localStorage.setItem(KEPT_AS, JSON.stringify(ordered));
    set({ groups: ordered });
  },
}));
