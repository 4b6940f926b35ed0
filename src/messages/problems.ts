// Problem codes to sentences: what is wrong, and what was done about it. The file's name stands beside it on the
// screen.

import type { Problem } from '@/core/problems/problem';
import { trackProblemSentence } from './tracks';

type Told = Problem | { code: 'drive/problem'; reason: string };
type Sentences = { [C in Told['code']]: string | ((problem: Extract<Told, { code: C }>) => string) };

const SENTENCES: Sentences = {
  'file/empty': 'The file is empty (0 bytes). It is listed, not cataloged.',
  'file/not-understood': ({ found }) =>
    `This is not a picture format Wembo knows; it begins with ${found}. It is listed, not cataloged.`,
  'file/cut-short': ({ needed, present }) =>
    `The file ends after ${present} of ${needed} bytes. What is there was read.`,
  'file/unreadable': ({ reason }) => `It could not be read (${reason}). The rest went on; scan again to try once more.`,
  'file/vanished': 'It was there when the folder was listed and gone when it was to be read. It was left out.',
  'jpeg/segment-past-end': 'A block of the JPEG says it is longer than the file. What stands before it was read.',
  'jpeg/no-frame': 'The JPEG has no image header, so its size is not known.',
  'tiff/bad-header': 'The EXIF block does not begin as one should. Its data were left out.',
  'tiff/directory-past-end': 'An EXIF directory lies outside its block. The other directories were read.',
  'tiff/value-past-end': ({ tag }) => `The value of tag ${tag} lies outside its block. The other values were read.`,
  'tiff/directory-loop': 'Two EXIF directories point to each other. Each was read once.',
  'tiff/too-many-entries': ({ limit }) => `An EXIF directory claims more than ${limit} entries. It was left out.`,
  'png/chunk-past-end': 'A PNG chunk says it is longer than the file. What stands before it was read.',
  'webp/chunk-past-end': 'A WebP chunk says it is longer than the file. What stands before it was read.',
  'png/text-not-readable': 'A compressed text of the PNG does not unpack as it should. It was left out.',
  'gif/cut-short': 'The GIF ends before it should. What is there was read.',
  'psd/resources-past-end': 'The metadata of the PSD say they are longer than the file. Its size was read.',
  'boxes/past-end': 'A part of the file says it is longer than the file. What stands before it was read.',
  'boxes/compressed': ({ type }) =>
    `Metadata (${type}) are kept in a compressed form that is not read here. They were left as they are.`,
  'heif/no-picture': 'The file does not say which of its pictures is the main one. It was read as far as it goes.',
  'video/cut-short': 'The video ends before it should, or was never finished by the camera. What is there was read.',
  'iim/resources-damaged':
    'The block that holds IIM is damaged. What could be read was read; nothing is written into this file.',
  'iim/length-past-end': ({ dataset, record }) =>
    `IIM dataset ${record}:${dataset} says it is longer than its block. The others were read.`,
  'iim/length-wrong': ({ dataset, record }) =>
    `IIM dataset ${record}:${dataset} does not end where it says. Reading went on at the next one.`,
  'iim/text-undecodable': ({ dataset, record }) =>
    `IIM dataset ${record}:${dataset} is not the UTF-8 its block promises. It was read as Windows-1252.`,
  'xmp/not-well-formed': ({ reason }) =>
    `The XMP is not well-formed (${reason}). It was left as it is and nothing is written over it.`,
  'xmp/doctype': 'The XMP carries a document type, which XMP may not. It was not read.',
  'xmp/too-large': ({ limit }) => `The XMP is larger than ${limit} characters. It was not read.`,
  'xmp/no-rdf': 'The XMP holds no rdf:RDF element. It was left as it is.',
  'xmp/extension-astray': 'An extended XMP block belongs to no packet in the file. It was left out.',
  'xmp/extension-incomplete': ({ bytes, present }) =>
    `Of an extended XMP block only ${present} of ${bytes} bytes are there. It was left out.`,
  'track/problem': ({ reason }) => trackProblemSentence(reason),
  'embed/refused': ({ reason }) =>
    `Nothing was written into the file: ${EMBED_REASONS[reason] ?? reason}. The sidecar holds everything.`,
  'delivery/words-in-file':
    'It was not sent: the file itself says what is to stay here, and an untouched original takes that along.',
  'preview/not-made': ({ reason }) => `No preview could be made (${reason}). The metadata were read.`,
  'picture/no-decoder': ({ format }) =>
    `Wembo has no decoder for pictures of this kind (${format}). The metadata were read.`,
  'picture/refused': ({ reason }) => `The picture cannot be shown: ${reason}. The metadata were read.`,
  'picture/coding': ({ coding }) =>
    `Its picture is coded in a way that is not decoded here: ${coding}. The metadata were read.`,
  'picture/too-large': ({ width, height }) =>
    `The picture is too large to be decoded here (${width} × ${height} pixels). The metadata were read.`,
  'picture/too-slow': ({ seconds }) =>
    `The picture was not decoded within ${seconds} seconds and was given up. The metadata were read.`,
  'picture/decoder-gave-up': 'The decoder broke down over this file or ran out of memory. The metadata were read.',
  'picture/not-isolated': 'This browser does not let the decoder run that this picture needs. The metadata were read.',
  'picture/twelve-bit':
    'It is a JPEG of 12 bits a channel, which neither the browser nor Wembo decodes. The metadata were read.',
  'picture/codec': ({ codec }) => `This browser cannot play its video (${codec}). The metadata were read.`,
  'drive/problem': ({ reason }) => driveProblemSentence(reason),
};

export function problemSentence(problem: Told): string {
  const sentence = SENTENCES[problem.code] as string | ((problem: Told) => string);
  return typeof sentence === 'string' ? sentence : sentence(problem);
}

const SHORT: Partial<Record<Problem['code'], string>> = {
  'picture/no-decoder': 'no decoder for this kind',
  'picture/refused': 'its picture cannot be decoded',
  'picture/too-large': 'too large to decode here',
  'picture/too-slow': 'decoding took too long',
  'picture/decoder-gave-up': 'the decoder broke down',
  'picture/not-isolated': 'this browser runs no decoder for it',
  'picture/twelve-bit': '12-bit JPEG',
};

/** In a few words, where there is room for no more. */
export const shortProblem = (problem: Problem): string =>
  problem.code === 'picture/codec'
    ? `${problem.codec}: not played here`
    : problem.code === 'picture/coding'
      ? `not decoded here: ${problem.coding}`
      : (SHORT[problem.code] ?? 'no preview');

const EMBED_REASONS: Record<string, string> = {
  damaged: 'a block of it is damaged, and a damaged block is never added to',
  'too-large': 'it would not fit into the space the format has for it',
  'picture-changed': 'the picture would not have stayed the same, byte for byte',
  'big-tiff': 'it is a BigTIFF, which Wembo reads and does not write into',
  'not-as-planned': 'read back, it would not say what it should',
};

const DRIVE_SENTENCES: Record<string, string> = {
  'not-found': 'It is not there any more.',
  'no-permission': 'The browser or the drive does not permit this. Click the drive to be asked again.',
  full: 'The drive is full. Nothing was left half-written; make room and resume.',
  'browser-full':
    'The browser has no room left for the catalog. Nothing on the drives is affected; make room on this computer and resume.',
  'bad-name': 'The browser does not allow this file name.',
  'changed-meanwhile':
    'Another program changed the file while it was to be written. Nothing was overwritten; it is tried again.',
  described:
    'Another program wrote metadata into it since it was last looked at; the picture is unchanged. Scan the drive for changes, and the catalog hears what was written.',
  exists: 'Something of this name is there already. Nothing was written over.',
  'read-back-differs':
    'What was written does not read back as it should. The new file was taken away; the drive may be failing.',
  'source-damaged':
    'It is not what was first measured: it is damaged. It was not copied or written into; it is listed in Safekeep.',
  'not-in-manifest':
    'The manifest on its drive does not name it: nobody could tell from the drive alone whether it is right. Check the drive, which brings the manifest up to date.',
  'source-gone':
    'The card or folder is not there any more. What was copied and verified stays; put it in again and resume.',
  'copies-gone':
    'A copy that was verified is not where it should be any more, or not what it was, or lies in the same folder. The file stays.',
  'beside-differs':
    'It belongs to a photo, and does not lie beside its copies byte for byte. It stays, and its photo with it.',
  'words-wait': 'What you wrote about it is not in its sidecar yet. It is taken when that is written; resume then.',
  'target-gone':
    'The drive is not there any more. What was copied and verified on it stays; connect it again and resume.',
  'other-drive':
    'What is there now does not bear this drive’s mark: another disk, or an empty mount point. Nothing of it was read or written.',
  'host-gone':
    'The server of this application does not answer. What was written stays; start it again, open Wembo by the link it prints, and resume.',
  'host-closed':
    'The server was started anew and does not know this page. Open Wembo by the link that it printed at its start, and resume.',
  'store-silent':
    'The store does not answer. What was sent and read back stays; resume when it does, and what is there already is not sent again.',
  'store-refuses':
    'The store refuses the key it was given, or what was asked with it. Nothing was changed there; look at its access in Safekeep.',
  'no-bucket': 'The store has no bucket of this name.',
  sealed: 'It is sealed by another key, or is not what age makes. Nothing of it was believed or written over.',
  'share-sent':
    'Today’s share for this store has been sent. What is there stays; resume tomorrow, or set a larger share in Safekeep.',
  'source-is-drive': 'is a drive of the catalog, and no card: what lies on it is not emptied. Nothing was removed.',
  'not-agreed': 'More may go by now than was agreed to. Nothing was removed; look at it again.',
  'sidecar-unreadable': 'The sidecar cannot be understood, so it is not written over. Mend it or move it away.',
};

export const driveProblemSentence = (problem: string): string =>
  DRIVE_SENTENCES[problem] ?? `It did not work (${problem}).`;
