// Problems are data: what is wrong with a file, by code and values. The sentence is made in `messages/`.

export type Problem =
  | { code: 'file/empty' }
  | { code: 'file/not-understood'; found: string }
  | { code: 'file/cut-short'; needed: number; present: number }
  | { code: 'file/unreadable'; reason: string }
  | { code: 'file/vanished' }
  | { code: 'jpeg/segment-past-end'; marker: number; offset: number }
  | { code: 'jpeg/no-frame' }
  | { code: 'tiff/bad-header' }
  | { code: 'tiff/directory-past-end'; offset: number }
  | { code: 'tiff/value-past-end'; tag: number }
  | { code: 'tiff/directory-loop'; offset: number }
  | { code: 'tiff/too-many-entries'; limit: number }
  | { code: 'png/chunk-past-end'; offset: number }
  | { code: 'webp/chunk-past-end'; offset: number }
  | { code: 'png/text-not-readable' }
  | { code: 'gif/cut-short' }
  | { code: 'psd/resources-past-end' }
  | { code: 'boxes/past-end'; offset: number }
  | { code: 'boxes/compressed'; type: string }
  | { code: 'heif/no-picture' }
  | { code: 'video/cut-short' }
  | { code: 'iim/resources-damaged' }
  | { code: 'iim/length-past-end'; record: number; dataset: number }
  | { code: 'iim/length-wrong'; record: number; dataset: number }
  | { code: 'iim/text-undecodable'; record: number; dataset: number }
  | { code: 'xmp/not-well-formed'; reason: string }
  | { code: 'xmp/doctype' }
  | { code: 'xmp/too-large'; bytes: number; limit: number }
  | { code: 'xmp/no-rdf' }
  | { code: 'xmp/extension-astray' }
  | { code: 'xmp/extension-incomplete'; bytes: number; present: number }
  | { code: 'track/problem'; reason: TrackProblem }
  | { code: 'embed/refused'; reason: string }
  | { code: 'preview/not-made'; reason: string }
  | { code: 'delivery/words-in-file' }
  | PictureProblem;

/** Why the picture in a file cannot be shown. */
export type PictureProblem =
  | { code: 'picture/no-decoder'; format: string }
  /** It is coded in a way that is known and not decoded here. */
  | { code: 'picture/coding'; coding: string }
  | { code: 'picture/refused'; reason: string }
  | { code: 'picture/too-large'; width: number; height: number }
  | { code: 'picture/too-slow'; seconds: number }
  | { code: 'picture/decoder-gave-up' }
  | { code: 'picture/not-isolated' }
  | { code: 'picture/twelve-bit' }
  | { code: 'picture/codec'; codec: string };

/** What is wrong with a file of tracks. */
export type TrackProblem =
  | { code: 'too-large'; bytes: number; limit: number }
  | { code: 'not-a-track' }
  | { code: 'doctype' }
  | { code: 'not-well-formed'; detail: string }
  | { code: 'no-timed-points'; withoutTime: number };

/** A reading of something that may be missing or damaged: three different answers. */
export type Reading<T> =
  { state: 'read'; value: T; problems: Problem[] } | { state: 'absent' } | { state: 'unreadable'; problems: Problem[] };
