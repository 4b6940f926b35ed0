// Which backups of a catalog stay on a drive: the latest, one of each of the last months, and one of each year.

/** `YYYYMMDDTHHMMSS`, UTC, in the name of the file. */
const NAME = /^(c[0-9a-f]{11})-(\d{8}T\d{6})\.jsonl\.gz$/;

export interface Generation {
  name: string;
  catalog: string;
  /** As in its name; texts of this form compare as times do. */
  stamp: string;
}

export const backupName = (catalog: string, stamp: string): string => `${catalog}-${stamp}.jsonl.gz`;

export function generationOf(name: string): Generation | null {
  const [, catalog, stamp] = NAME.exec(name) ?? [];
  return catalog && stamp ? { name, catalog, stamp } : null;
}

const LATEST = 5;
const MONTHS = 12;

/** Those of one catalog that are no longer needed; others' are left alone. */
export function outlived(generations: readonly Generation[], catalog: string): Generation[] {
  const own = generations.filter((one) => one.catalog === catalog).sort((a, b) => (a.stamp < b.stamp ? 1 : -1));
  const stay = new Set(own.slice(0, LATEST));
  const firstOf = (letters: number) => {
    const seen = new Set<string>();
    return own.filter(({ stamp }) => !seen.has(stamp.slice(0, letters)) && seen.add(stamp.slice(0, letters)));
  };
  for (const one of firstOf(6).slice(0, MONTHS)) stay.add(one);
  for (const one of firstOf(4)) stay.add(one);
  return own.filter((one) => !stay.has(one));
}
