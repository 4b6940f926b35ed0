// Bags that were made here, finished or not: what lies in them is given away as it is, and is neither a photo of the
// catalog nor a copy of one.

import { INFO_FILE, infoValues, readBagInfo } from '@/core/bagit/tag-files';
import { folderIn, joinedPath, nameIn } from '@/core/names/file-names';
import type { Drive } from '../drives/drive';
import { readIfThere } from '../drives/safe-write';

/** Who made it, as a bag says of itself. */
export const MADE_HERE = ['Bag-Software-Agent', 'Wembo'] as const;

export async function isMadeHere(drive: Drive, folder: string): Promise<boolean> {
  const bytes = await readIfThere(drive, joinedPath(folder, INFO_FILE)).catch(() => null);
  const [label, agent] = MADE_HERE;
  return bytes !== null && infoValues(readBagInfo(new TextDecoder().decode(bytes)).info, label).includes(agent);
}

export const isBagInfo = (path: string): boolean => nameIn(path) === INFO_FILE && folderIn(path) !== '';

/** Folders that are such bags. @param infos paths of which `isBagInfo` holds */
export async function bagsMadeHere(drive: Drive, infos: readonly string[]): Promise<string[]> {
  const folders: string[] = [];
  for (const path of infos) if (await isMadeHere(drive, folderIn(path))) folders.push(folderIn(path));
  return folders;
}
