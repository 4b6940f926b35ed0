// What the person says of a drive, beside its name: what it is, where it is kept, and whether it is still relied on.

/** `retired`: it still exists, and nothing on it counts as a copy. `lost`: it is gone, with all that lay on it. */
export const DRIVE_STANDINGS = ['in-use', 'retired', 'lost'] as const;
export type DriveStanding = (typeof DRIVE_STANDINGS)[number];

export const MEDIA = ['hard-disk', 'solid-state', 'stick', 'disc', 'tape', 'network', 'store'] as const;
export type Medium = (typeof MEDIA)[number];

export interface DriveFacts {
  medium: Medium | null;
  /** Where it is kept: "cellar", "bank box". */
  place: string;
  /** Whether that is another place than where the work is done: what burns here does not burn there. */
  elsewhere: boolean;
  serial: string;
  /** Year or date from which it was used, as the person writes it. */
  boughtOn: string;
  note: string;
  standing: DriveStanding;
  /** ISO date since when it is retired or lost; empty while it is in use. */
  standingSince: string;
  /** The drive that took its place. */
  replacedBy: string | null;
}

export const NO_FACTS: DriveFacts = {
  medium: null,
  place: '',
  elsewhere: false,
  serial: '',
  boughtOn: '',
  note: '',
  standing: 'in-use',
  standingSince: '',
  replacedBy: null,
};

/** Letters of a short fact, and of the note, at most. */
export const FACT_LENGTH = 200;
export const DRIVE_NOTE_LENGTH = 5000;

/**
 * Why a drive cannot be forgotten: photos of it, missing ones too, that are verified nowhere else; copies of others that
 * wait for it.
 */
export type DriveHolding = { kind: 'photos'; photoIds: string[] } | { kind: 'copies'; waiting: number } | null;
