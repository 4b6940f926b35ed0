// Which fields the record card shows: the person's choice, one for each kind of work, kept with the archive.

import { z } from 'zod';
import { type FieldGroup, type FieldKey, fieldOf, isFieldKey } from '@/core/fields/registry';
import { archiveChoice } from '@/engine/archive-choice';
import { boundStore } from '@/ui/bound-store';

export const GROUP_TITLES: Record<FieldGroup, string> = {
  judgement: 'Rating and marker',
  content: 'What it shows',
  people: 'People and things shown',
  place: 'Place',
  rights: 'Creator and rights',
  licensing: 'Licences and releases',
  codes: 'Codes and older systems',
  origin: 'Date and origin',
  picture: 'Corrections',
};

/** The groups that can be folded away; rating and marker always show. */
export const CHOOSABLE: readonly FieldGroup[] = [
  'content',
  'people',
  'place',
  'rights',
  'licensing',
  'codes',
  'origin',
];

/** Shown even while empty; the other fields of a group show when they say something, or when asked for. */
export const USUAL: ReadonlySet<FieldKey> = new Set<FieldKey>([
  'title',
  'headline',
  'caption',
  'captionWriter',
  'keywords',
  'event',
  'personShown',
  'organisation',
  'sublocation',
  'city',
  'province',
  'country',
  'countryCode',
  'locationShown',
  'creator',
  'creatorTitle',
  'contact',
  'copyrightNotice',
  'credit',
  'source',
  'usageTerms',
  'instructions',
  'jobId',
  'licensor',
  'modelReleaseStatus',
  'propertyReleaseStatus',
  'dataMining',
  'sceneCode',
  'subjectCode',
  'captured',
  'digitised',
  'digitalSourceType',
]);

/**
 * Which groups and fields the card shows. A field that says something shows in any case, so that nothing is hidden from
 * the person.
 */
export interface FieldsChoiceButton {
  groups: FieldGroup[];
  /** Shown although they are not among the usual ones. */
  more: FieldKey[];
  /** Usual ones that are not wanted. */
  fewer: FieldKey[];
}

/** The choice of now, and those kept under a name, one for each kind of work. */
export interface ChosenFields extends FieldsChoiceButton {
  kept: (FieldsChoiceButton & { name: string })[];
}

const group = z.enum(CHOOSABLE as [FieldGroup, ...FieldGroup[]]);
const field = z.custom<FieldKey>((key) => typeof key === 'string' && isFieldKey(key));
const choice = { groups: z.array(group), more: z.array(field), fewer: z.array(field) };

export const useChosenFields = boundStore(
  archiveChoice<ChosenFields>(
    'card-fields',
    z.object({ ...choice, kept: z.array(z.object({ ...choice, name: z.string() })) }),
    { groups: ['content', 'place', 'rights'], more: [], fewer: [], kept: [] },
    'wembo-card-fields',
  ),
);

export const groupsInOrder = (groups: readonly FieldGroup[]): FieldGroup[] =>
  CHOOSABLE.filter((one) => groups.includes(one));

/** Whether a field is shown while it says nothing. */
export const isShownEmpty = ({ more, fewer }: FieldsChoiceButton, key: FieldKey): boolean =>
  USUAL.has(key) ? !fewer.includes(key) : more.includes(key);

/** Brings a field onto the card, with its group. */
export function showField(key: FieldKey): void {
  const { groups, more, fewer } = useChosenFields.getState();
  const own = fieldOf(key).group;
  useChosenFields.setState({
    groups: groupsInOrder([...groups, own]),
    fewer: fewer.filter((one) => one !== key),
    more: USUAL.has(key) || more.includes(key) ? more : [...more, key],
  });
}
