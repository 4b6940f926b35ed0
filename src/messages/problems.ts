// Problem codes to sentences: what is wrong, and what was done about it. The file's name stands beside it on the
// screen.

import type { Problem } from '@/core/problems/problem';
import { trackProblemSentence } from './tracks';

export function problemSentence(problem: Problem | { code: 'drive/fault'; fault: string }): string {
  switch (problem.code) {
    case 'file/empty':
      return 'The file is empty (0 bytes). It is listed, not cataloged.';
    case 'file/not-understood':
      return `This is not a picture format Wembo knows; it begins with ${problem.found}. It is listed, not cataloged.`;
    case 'file/cut-short':
      return `The file ends after ${problem.present} of ${problem.needed} bytes. What is there was read.`;
    case 'file/unreadable':
      return `It could not be read (${problem.reason}). The rest went on; scan again to try once more.`;
    case 'file/vanished':
      return 'It was there when the folder was listed and gone when it was to be read. It was left out.';
    case 'jpeg/segment-past-end':
      return 'A block of the JPEG says it is longer than the file. What stands before it was read.';
    case 'jpeg/no-frame':
      return 'The JPEG has no image header, so its size is not known.';
    case 'tiff/bad-header':
      return 'The EXIF block does not begin as one should. Its data were left out.';
    case 'tiff/directory-past-end':
      return 'An EXIF directory lies outside its block. The other directories were read.';
    case 'tiff/value-past-end':
      return `The value of tag ${problem.tag} lies outside its block. The other values were read.`;
    case 'tiff/directory-loop':
      return 'Two EXIF directories point to each other. Each was read once.';
    case 'tiff/too-many-entries':
      return `An EXIF directory claims more than ${problem.limit} entries. It was left out.`;
    case 'png/chunk-past-end':
      return 'A PNG chunk says it is longer than the file. What stands before it was read.';
    case 'webp/chunk-past-end':
      return 'A WebP chunk says it is longer than the file. What stands before it was read.';
    case 'png/text-not-readable':
      return 'A compressed text of the PNG does not unpack as it should. It was left out.';
    case 'gif/cut-short':
      return 'The GIF ends before it should. What is there was read.';
    case 'psd/resources-past-end':
      return 'The metadata of the PSD say they are longer than the file. Its size was read.';
    case 'boxes/past-end':
      return 'A part of the file says it is longer than the file. What stands before it was read.';
    case 'boxes/compressed':
      return `Metadata (${problem.type}) are kept in a compressed form that is not read here. They were left as they are.`;
    case 'heif/no-picture':
      return 'The file does not say which of its pictures is the main one. It was read as far as it goes.';
    case 'video/cut-short':
      return 'The video ends before it should, or was never finished by the camera. What is there was read.';
    case 'iim/resources-damaged':
      return 'The block that holds IIM is damaged. What could be read was read; nothing is written into this file.';
    case 'iim/length-past-end':
      return `IIM dataset ${problem.record}:${problem.dataset} says it is longer than its block. The others were read.`;
    case 'iim/length-wrong':
      return `IIM dataset ${problem.record}:${problem.dataset} does not end where it says. Reading went on at the next one.`;
    case 'iim/text-undecodable':
      return `IIM dataset ${problem.record}:${problem.dataset} is not the UTF-8 its block promises. It was read as Windows-1252.`;
    case 'xmp/not-well-formed':
      return `The XMP is not well-formed (${problem.reason}). It was left as it is and nothing is written over it.`;
    case 'xmp/doctype':
      return 'The XMP carries a document type, which XMP may not. It was not read.';
    case 'xmp/too-large':
      return `The XMP is larger than ${problem.limit} characters. It was not read.`;
    case 'xmp/no-rdf':
      return 'The XMP holds no rdf:RDF element. It was left as it is.';
    case 'xmp/extension-astray':
      return 'An extended XMP block belongs to no packet in the file. It was left out.';
    case 'xmp/extension-incomplete':
      return `Of an extended XMP block only ${problem.present} of ${problem.bytes} bytes are there. It was left out.`;
    case 'track/fault':
      return trackProblemSentence(problem.fault);
    case 'embed/refused':
      return `Nothing was written into the file: ${EMBED_REASONS[problem.reason] ?? problem.reason}. The sidecar holds everything.`;
    case 'preview/not-made':
      return `No preview could be made (${problem.reason}). The metadata were read.`;
    case 'drive/fault':
      return driveProblemSentence(problem.fault);
  }
}

const EMBED_REASONS: Record<string, string> = {
  damaged: 'a block of it is damaged, and a damaged block is never added to',
  'too-large': 'it would not fit into the space the format has for it',
  'picture-changed': 'the picture would not have stayed the same, byte for byte',
  'not-as-planned': 'read back, it would not say what it should',
};

const FAULTS: Record<string, string> = {
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
  exists: 'Too many files of this name are there already.',
  'read-back-differs':
    'What was written does not read back as it should. The new file was taken away; the drive may be failing.',
  'source-damaged':
    'It is not what was first measured: it is damaged. It was not copied or written into; it is listed in Safekeep.',
  'source-gone':
    'The card or folder is not there any more. What was copied and verified stays; put it in again and resume.',
  'copies-gone':
    'A copy that was verified is not where it should be any more, or not what it was, or lies on the card itself. The file stays on the card.',
  'target-gone':
    'The drive is not there any more. What was copied and verified on it stays; connect it again and resume.',
  'other-drive':
    'What is there now does not bear this drive’s mark: another disk, or an empty mount point. Nothing of it was read or written.',
  'source-is-drive': 'is a drive of the catalog, and no card: what lies on it is not emptied. Nothing was removed.',
  'not-agreed': 'The card does not hold what was agreed to any more. Nothing was removed; look at it again.',
  'sidecar-unreadable': 'The sidecar cannot be understood, so it is not written over. Mend it or move it away.',
};

export const driveProblemSentence = (fault: string): string => FAULTS[fault] ?? `It did not work (${fault}).`;
