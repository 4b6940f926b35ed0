// A folder as a value of the search: `Studio:/2019/Klaksvík`, with its drive, or `/2019/Klaksvík`, on any. What has no
// slash at its beginning asks for words of the path.

export interface AskedFolder {
  /** The drive's name; `null` for any. */
  drive: string | null;
  /** Without a slash at either end; empty for the drive itself. */
  path: string;
}

/** `null` where it names no folder. */
export function parseFolder(value: string): AskedFolder | null {
  const colon = value.startsWith('/') ? -1 : value.indexOf(':/');
  if (colon < 0 && !value.startsWith('/')) return null;
  return {
    drive: colon < 0 ? null : value.slice(0, colon),
    path: value.slice(colon < 0 ? 1 : colon + 2).replace(/^\/+|\/+$/g, ''),
  };
}

export const folderValue = ({ drive, path }: AskedFolder): string => `${drive === null ? '' : `${drive}:`}/${path}`;

/** The path with every folder above it, its own first, the root last. */
export function foldersAbove(path: string): string[] {
  const above = [path];
  for (let at = path; at !== '';) {
    at = at.slice(0, Math.max(0, at.lastIndexOf('/')));
    above.push(at);
  }
  return above;
}
