// Folders of all drives, those that are away too, with the photos in each and below it. A photo with several files counts
// once in each folder that has one of them, at whatever depth.

import { type AskedFolder, folderValue, foldersAbove, parseFolder } from '../query/folder-value';
import { foldText } from '../text/fold';
import { type Bits, bitsOfTable, hasBit } from './bit-set';
import { type Columns, listIn } from './columns';
import type { Match } from './search-context';

export interface FolderCount {
  /** As the search asks for it: `Studio:/2019`. */
  value: string;
  name: string;
  /** Photos right in it. */
  own: number;
  /** Photos in it and in all folders below. */
  below: number;
  hasFolders: boolean;
}

interface Node extends FolderCount {
  folders: Node[];
}

export class FolderTree {
  private readonly nodes = new Map<string, Node>();
  private readonly drives: Node[] = [];

  /** Time and memory go with the folders, and with the ways photos lie in them, not with the photos. */
  constructor(columns: Columns, live: Bits) {
    const column = columns.textColumn('driveFolders');
    const photos = new Uint32Array(column.numberCount);
    for (let slot = 0; slot < columns.size; slot++) if (hasBit(live, slot)) photos[column.number(slot)]! += 1;
    for (let number = 1; number < photos.length; number++)
      if (photos[number]) this.add(listIn(column.textOf(number)), photos[number] ?? 0);
    for (const { folders } of this.nodes.values()) folders.sort(byName);
    this.drives.sort(byName);
  }

  private add(values: readonly string[], photos: number): void {
    const within = new Set<Node>();
    for (const value of values) {
      const folder = parseFolder(value);
      if (!folder) continue;
      this.node(folder).own += photos;
      for (const path of foldersAbove(folder.path)) within.add(this.node({ ...folder, path }));
    }
    for (const node of within) node.below += photos;
  }

  private node(folder: AskedFolder): Node {
    const value = folderValue(folder);
    const known = this.nodes.get(value);
    if (known) return known;
    const name = folder.path === '' ? (folder.drive ?? '') : folder.path.slice(folder.path.lastIndexOf('/') + 1);
    const made: Node = { value, name, own: 0, below: 0, hasFolders: false, folders: [] };
    this.nodes.set(value, made);
    const above = foldersAbove(folder.path)[1];
    if (above === undefined) this.drives.push(made);
    else {
      const parent = this.node({ ...folder, path: above });
      parent.folders.push(made);
      parent.hasFolders = true;
    }
    return made;
  }

  /** The drives (for the empty text), and the folders in each of these. */
  open(values: readonly string[]): Record<string, FolderCount[]> {
    return Object.fromEntries(
      ['', ...values].map((value) => [
        value,
        (value === '' ? this.drives : (this.nodes.get(value)?.folders ?? [])).map(
          ({ folders: _, ...count }): FolderCount => count,
        ),
      ]),
    );
  }

  /** Folders in whose names or paths these letters stand, those with the most photos first. */
  named(letters: string, limit: number): FolderCount[] {
    const asked = foldText(letters);
    return [...this.nodes.values()]
      .filter(({ value }) => foldText(value).includes(asked))
      .sort((a, b) => b.below - a.below || byName(a, b))
      .slice(0, limit);
  }
}

const byName = (a: Node, b: Node): number =>
  a.name.localeCompare(b.name, 'en', { numeric: true }) || (a.value < b.value ? -1 : 1);

/**
 * Photos with a file in that folder, or below it too. Each way photos lie in folders is looked at once. Letters are
 * compared as they are: drives may tell folders apart by their case.
 */
export function folderBits({ drive, path, below }: AskedFolder & { below: boolean }, columns: Columns): Match {
  const column = columns.textColumn('driveFolders');
  const asked = path.normalize('NFC');
  const name = drive === null ? null : foldText(drive);
  const fits = (value: string): boolean => {
    const folder = parseFolder(value.normalize('NFC'));
    if (!folder || (name !== null && foldText(folder.drive ?? '') !== name)) return false;
    return folder.path === asked || (below && (asked === '' || folder.path.startsWith(`${asked}/`)));
  };
  const table = new Uint8Array(column.numberCount);
  for (let number = 1; number < table.length; number++) if (listIn(column.textOf(number)).some(fits)) table[number] = 1;
  return {
    predicate: (slot) => table[column.number(slot)] === 1,
    bits: () => bitsOfTable(column.raw, columns.size, table),
  };
}
