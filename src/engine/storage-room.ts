export interface StorageRoom {
  persisted: boolean;
  usedBytes: number;
  quotaBytes: number;
}

/** How much of the browser's storage is used, and whether it may clear it by itself. @param ask asks it not to */
export async function storageRoom(ask: boolean): Promise<StorageRoom> {
  const persisted = (await navigator.storage.persisted()) || (ask && (await navigator.storage.persist()));
  const { usage = 0, quota = 0 } = await navigator.storage.estimate();
  return { persisted, usedBytes: usage, quotaBytes: quota };
}
