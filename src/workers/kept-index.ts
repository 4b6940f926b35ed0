// The saved index in the browser's private file system: one file a catalog. It is written beside and then put in place,
// and it says by itself whether it is whole; anything that goes wrong here only means that the index is built anew.

interface DirectFile {
  getSize(): number;
  read(into: Uint8Array<ArrayBuffer>, options: { at: number }): number;
  write(bytes: Uint8Array<ArrayBuffer>, options: { at: number }): number;
  truncate(size: number): void;
  flush(): void;
  close(): void;
}

/** What the platform's types for pages leave out. */
type DirectHandle = FileSystemFileHandle & {
  createSyncAccessHandle(): Promise<DirectFile>;
  move(folder: FileSystemDirectoryHandle, name: string): Promise<void>;
};

const FOLDER = 'wembo-index';
const fileName = (catalog: string): string => `${catalog}.bin`;

/** `null` where there is none. Read through an access handle: several times as quick as through a file (measured). */
export async function readIndex(catalog: string): Promise<Uint8Array<ArrayBuffer> | null> {
  const root = await navigator.storage.getDirectory();
  const folder = await root.getDirectoryHandle(FOLDER, { create: true });
  // handles stay in variables: one that nothing refers to can be collected while its access handle is awaited
  const handle = (await folder.getFileHandle(fileName(catalog)).catch(() => null)) as DirectHandle | null;
  if (!handle) return null;
  const file = await handle.createSyncAccessHandle();
  try {
    const bytes = new Uint8Array(file.getSize());
    file.read(bytes, { at: 0 });
    return bytes;
  } finally {
    file.close();
  }
}

/**
 * So much is written before others have their turn: tens of megabytes at once would hold the worker for a quarter of a
 * second.
 */
const SLICE = 4_000_000;
/** What came in meanwhile is answered first. */
export const othersTurn = () => new Promise<void>((resolve) => setTimeout(resolve, 0));

export async function writeIndex(catalog: string, bytes: Uint8Array<ArrayBuffer>): Promise<void> {
  const root = await navigator.storage.getDirectory();
  const folder = await root.getDirectoryHandle(FOLDER, { create: true });
  const handle = (await folder.getFileHandle(`${fileName(catalog)}.part`, { create: true })) as DirectHandle;
  const file = await handle.createSyncAccessHandle();
  try {
    file.truncate(0);
    for (let at = 0; at < bytes.length; at += SLICE) {
      file.write(bytes.subarray(at, at + SLICE), { at });
      await othersTurn();
    }
    file.flush();
  } finally {
    file.close();
  }
  await handle.move(folder, fileName(catalog));
}

export async function removeIndex(catalog: string): Promise<void> {
  const root = await navigator.storage.getDirectory();
  const folder = await root.getDirectoryHandle(FOLDER, { create: true });
  await folder.removeEntry(fileName(catalog)).catch(() => undefined); // there is none
}
