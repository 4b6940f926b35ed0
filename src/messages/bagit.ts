import type { BagFaultCode } from '@/core/bagit/bag-check';
import { counted } from './plural';

const FAULT_WORDS: Record<BagFaultCode, string> = {
  'no-declaration': 'There is no bagit.txt: it is no bag, or none that was finished.',
  declaration: 'bagit.txt is not the two lines it has to be.',
  version: 'It is of a version that is not known here.',
  encoding: 'Its tag files are in an encoding that is not known here.',
  'tag-text': 'It is not in the encoding that bagit.txt names.',
  holey: 'Some of it is to be fetched from elsewhere first: such a bag is not read here.',
  'no-manifest': 'No manifest says what is in it.',
  algorithm: 'Its checksums are of a kind that is not known here.',
  line: 'It is not a checksum and a path.',
  outside: 'It leads out of the bag.',
  'listed-twice': 'It is listed twice.',
  missing: 'It is listed, and not there.',
  unlisted: 'It is there, and not listed in every manifest.',
  'tag-missing': 'It is listed, and not there.',
  'tag-listed': 'It has no place in a tag manifest.',
  'manifest-unlisted': 'It is not listed in every tag manifest.',
  info: 'It does not describe as it has to.',
  size: 'It says another size than there is.',
};
export const bagFaultSentence = (code: BagFaultCode): string => FAULT_WORDS[code];

interface Judged {
  isValid: boolean;
  faults: number;
  wrong: number;
  unread: number;
  read: number;
  version: string | null;
}

/** Complete and valid told apart. */
export function bagVerdictSentence({ isValid, faults, wrong, unread, read, version }: Judged): string {
  if (version === null) return 'It is not a bag that can be read.';
  if (isValid) return `Complete and valid: ${counted(read, 'file')} read, each is what its checksums say.`;
  const bytes =
    wrong + unread === 0
      ? `${counted(read, 'file')} read, each is what its checksums say`
      : `${counted(wrong, 'file is', 'files are')} not what a checksum says${unread > 0 ? `, ${counted(unread, 'file')} could not be read` : ''}`;
  return faults === 0 ? `Complete, but not valid: ${bytes}.` : `Not complete, so not valid. ${bytes}.`;
}
