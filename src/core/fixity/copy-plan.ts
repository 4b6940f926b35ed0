// What a copy would do, before it runs.

export interface CopyPlan {
  /** What each drive gives. */
  from: { driveId: string; photoIds: string[]; bytes: number }[];
  photos: number;
  bytes: number;
  /** Verified on the target already. */
  there: number;
  /** Of these: under another name or in another folder than on the source. */
  elsewhereThere: number;
  /** Of those to be copied: a file is there that was never read; it is read, and copied only if it is another. */
  unreadThere: number;
  /** Of those to be copied: another photo has the name there, so that they get a number. */
  renamed: number;
  /** Where one of them comes to lie, where the folders there are others; paths on the drives. */
  example: { from: string; to: string } | null;
  /** Damaged or in doubt on every source: not copied. */
  doubtful: number;
  /** On none of the sources. */
  away: number;
}

export const NO_COPIES: CopyPlan = {
  from: [],
  photos: 0,
  bytes: 0,
  there: 0,
  elsewhereThere: 0,
  unreadThere: 0,
  renamed: 0,
  example: null,
  doubtful: 0,
  away: 0,
};
