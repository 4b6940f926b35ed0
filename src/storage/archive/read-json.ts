// A file of the archive folder as JSON. What is read comes from outside and is `unknown` until its schema has read it;
// a newer version is refused and left as it is.

import { z } from 'zod';
import type { Drive } from '../drives/drive';
import { readIfThere } from '../drives/safe-write';

/** `newer`: written by a later version, and left as it is. `broken`: nobody can read it any more. */
export type ArchiveFileProblem = 'newer' | 'broken';

/** A file of the archive folder that is there and could not be understood. */
export class ArchiveFileError extends Error {
  constructor(
    readonly path: string,
    readonly reason: string,
    readonly problem: ArchiveFileProblem = 'broken',
  ) {
    super(`${path}: ${reason}`);
    this.name = 'ArchiveFileError';
  }
}

export async function readJson<T>(drive: Drive, name: string, schema: z.ZodType<T>, newest = 1): Promise<T | null> {
  const bytes = await readIfThere(drive, name);
  return bytes && parseJson(name, new TextDecoder().decode(bytes), schema, newest);
}

export function parseJson<T>(name: string, text: string, schema: z.ZodType<T>, newest: number): T {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new ArchiveFileError(name, 'is not JSON');
  }
  const version = z.object({ version: z.number() }).safeParse(value);
  if (version.success && version.data.version > newest)
    throw new ArchiveFileError(
      name,
      `has version ${version.data.version}; this Wembo reads version ${newest}`,
      'newer',
    );
  const parsed = schema.safeParse(value);
  if (!parsed.success) throw new ArchiveFileError(name, z.prettifyError(parsed.error));
  return parsed.data;
}
