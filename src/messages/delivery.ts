// Deliveries in words: what will come out, what was found, why something stays here.

import type { Finding } from '@/core/send-out/delivery-plan';
import { type ProfileContent, formatWord, losesPixels } from '@/core/send-out/delivery-profile';
import { sizeWords } from '@/core/send-out/output-size';
import type { BehindWhy, WordsPolicy } from '@/core/send-out/words-policy';
import { counted } from './plural';

const WHICH: Record<WordsPolicy['which'], string> = {
  all: 'all words in',
  descriptive: 'captions and rights in',
  rights: 'rights alone in',
  none: 'no words',
};
const PLACE: Record<WordsPolicy['place'], string> = {
  in: 'places in',
  town: 'town and country alone',
  out: 'places out',
};

/** `38 photos → JPEG, sRGB, long edge 3600 px, quality 92, names skerry-0001.jpg, captions and rights in …` */
export function deliverySentence(
  { picture, words, watermark, extras }: ProfileContent,
  told: { photos: number; name: string; to: string },
): string {
  const made =
    picture.kind === 'original'
      ? ['the files untouched', ...(picture.sidecar ? ['each with a sidecar'] : [])]
      : [
          formatWord(picture.format),
          picture.colour === 'srgb' ? 'sRGB' : 'colours as they are',
          sizeWords(picture.size, picture.ppi),
          ...(losesPixels(picture.format) ? [`quality ${picture.quality}`] : []),
          ...(picture.bytesLimit ? [`under ${Math.round(picture.bytesLimit / 1000)} kB`] : []),
          ...(picture.sharpening === 'none' ? [] : [`sharpened for ${picture.sharpening}`]),
        ];
  const isSilent =
    words.which === 'none' || words.which === 'rights' || (picture.kind === 'original' && !picture.sidecar);
  const said =
    picture.kind === 'original' && !picture.sidecar
      ? ['what stands in the files goes along']
      : [
          WHICH[words.which],
          ...(isSilent ? [] : [PLACE[words.place], ...(words.people === 'out' ? ['people out'] : [])]),
        ];
  const mark = watermark && picture.kind === 'made' ? ['with a watermark'] : [];
  const along = [...(extras.page ? ['a page'] : []), ...(extras.table ? ['a table of captions'] : [])];
  return `${counted(told.photos, 'photo')} → ${[...made, ...(told.name === '' ? [] : [`names ${told.name}`]), ...said, ...mark, ...(along.length > 0 ? [`with ${along.join(' and ')}`] : [])].join(', ')}, to ${told.to}`;
}

const FOUND: Record<Finding, (photos: string, isOne: boolean) => string> = {
  away: (photos, isOne) => `${photos} ${isOne ? 'is' : 'are'} on no connected drive`,
  damaged: (photos, isOne) => `${photos} ${isOne ? 'has' : 'have'} no sound file on a connected drive`,
  video: (photos, isOne) =>
    `${photos} ${isOne ? 'is a video' : 'are videos'}, which ${isOne ? 'goes' : 'go'} out untouched alone`,
  'read-only': (photos, isOne) =>
    `${photos} ${isOne ? 'lies' : 'lie'} on a drive that may only be read, so nothing goes beside ${isOne ? 'it' : 'them'}`,
  'words-in-file': (photos) =>
    `${photos} have in the file what is to stay here, and an untouched original takes it along`,
  rejected: (photos, isOne) => `${photos} ${isOne ? 'is' : 'are'} rejected`,
  embargo: (photos) => `Of ${photos} an embargo is spoken that may not have ended`,
  terms: (photos, isOne) => `${photos} ${isOne ? 'has' : 'have'} terms of use`,
  blank: (photos, isOne) => `${photos} ${isOne ? 'has' : 'have'} an open blank`,
  'no-rights': (photos, isOne) => `${photos} ${isOne ? 'has' : 'have'} no creator or no copyright notice`,
  'sent-before': (photos, isOne) => `${photos} ${isOne ? 'was' : 'were'} sent there before`,
  unsafe: (photos, isOne) => `${photos} ${isOne ? 'is' : 'are'} not safe yet`,
  smaller: (photos, isOne) =>
    `${photos} ${isOne ? 'has' : 'have'} fewer pixels than asked for and ${isOne ? 'stays' : 'stay'} as small`,
  'no-profile': (photos, isOne) =>
    `${photos} ${isOne ? 'has' : 'have'} no colour profile in the file and ${isOne ? 'is' : 'are'} taken as sRGB`,
  private: (photos) => `Of ${photos} private words or places stay here`,
  renamed: (photos, isOne) => `${photos} ${isOne ? 'gets' : 'get'} a number, because the name is taken there`,
  'long-path': (photos, isOne) => `${photos} ${isOne ? 'gets' : 'get'} a path that older programs cannot reach`,
};

export const findingSentence = (finding: Finding, number: number): string =>
  `${FOUND[finding](counted(number, 'photo'), number === 1)}.`;

const WHY: Record<BehindWhy, string> = {
  policy: 'not asked for',
  place: 'as a place',
  people: 'as people',
  private: 'private',
};

export const behindWords = (why: BehindWhy): string => WHY[why];
