/** A drive by its id, also one that is no drive of the catalog any more. */
export const driveName = (drives: readonly { id: string; name: string }[], driveId: string): string =>
  drives.find(({ id }) => id === driveId)?.name ?? 'a drive that is gone';
