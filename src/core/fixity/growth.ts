// How a drive fills: from what was photographed in the years before, and the room that is left.

/** Years whose photos are taken for what comes. */
const YEARS = 3;
/** Further ahead nobody can say. */
const HORIZON = 50;

export interface Growth {
  /** Bytes a year. */
  yearly: number;
  /** The year in which it will be full; `null` where that is further away than can be said. */
  fullIn: number | null;
}

/**
 * By the mean of the last full years; of a drive that has only photos of this year, by these.
 * @param photosByYear photos on the drive, by the year they were taken in
 * @returns `null` where it has none of these years
 */
export function growthOf(
  photosByYear: ReadonlyMap<number, number>,
  bytesPerPhoto: number,
  freeBytes: number,
  thisYear: number,
): Growth | null {
  const before = Array.from({ length: YEARS }, (_, back) => photosByYear.get(thisYear - 1 - back) ?? 0);
  const full = before.reduce((sum, photos) => sum + photos, 0) / YEARS;
  const yearly = (full > 0 ? full : (photosByYear.get(thisYear) ?? 0)) * bytesPerPhoto;
  if (yearly <= 0) return null;
  const years = freeBytes / yearly;
  return { yearly, fullIn: years > HORIZON ? null : thisYear + Math.floor(years) };
}
