// Which folders of this machine the server may serve: chosen by the person, at the start or in the interface. This list
// is all that the server keeps, beside the stores that were set up (store/kept-stores.ts).

import { createHash } from 'node:crypto';
import fs from 'node:fs';
import path from 'node:path';
import { z } from 'zod';
import { DriveError } from '@/storage/drives/drive';
import type { ServedFolder } from '@/storage/host/protocol';
import { statePlace, writeStateFile } from '../state-files';
import { diskErrorOf } from './confined';
import { folderName } from './disk-drive';
import { marksAbove } from './marks';
import { isWritable } from './volumes';

const FORMAT = 'wembo-served-folders';
const FOLDERS_LIMIT = 1000;
const listFile = z.object({
  format: z.literal(FORMAT),
  version: z.literal(1),
  folders: z.array(z.string().min(1).max(4096)).max(FOLDERS_LIMIT),
});

/** As the start (tools/setup/run.mjs) hands them over. */
export function foldersNamed(env: NodeJS.ProcessEnv = process.env): string[] {
  const named = z.array(z.string()).safeParse(JSON.parse(env.WEMBO_DRIVES ?? '[]'));
  return named.success ? named.data : [];
}

/** The same folder has the same id at every start. */
const idOf = (root: string): string => createHash('sha256').update(root).digest('hex').slice(0, 16);

export class ServedFolders {
  private roots: Map<string, string> | null = null;
  private readonly atStart = new Set<string>();

  /** @param named folders that were named at the start; one that is no folder is left out */
  constructor(
    private readonly place: string = statePlace('served-folders.json'),
    named: readonly string[] = [],
  ) {
    for (const folder of named)
      try {
        this.atStart.add(this.add(folder).id);
      } catch {
        // it was there when the start looked; now nothing is
      }
  }

  private get known(): Map<string, string> {
    this.roots ??= new Map(this.read().map((root) => [idOf(root), root]));
    return this.roots;
  }

  private read(): string[] {
    try {
      return listFile.parse(JSON.parse(fs.readFileSync(this.place, 'utf8'))).folders.filter(path.isAbsolute);
    } catch {
      return []; // none yet, or not ours: folders are chosen anew, nothing of them is lost
    }
  }

  private write(): void {
    writeStateFile(this.place, { format: FORMAT, version: 1, folders: [...this.known.values()].sort() });
  }

  /** @throws DriveError `no-permission` for a folder that is not served */
  rootOf(id: string): string {
    const root = this.known.get(id);
    if (root === undefined) throw new DriveError('no-permission', '');
    return root;
  }

  all(): ServedFolder[] {
    return [...this.known].map(([id, root]) => this.told(id, root));
  }

  private told(id: string, root: string): ServedFolder {
    const there = fs.lstatSync(root, { throwIfNoEntry: false });
    return {
      id,
      kind: 'folder',
      path: root,
      name: folderName(root),
      isThere: there?.isDirectory() ?? false,
      isWritable: isWritable(root),
      isAtStart: this.atStart.has(id),
      above: marksAbove(root),
    };
  }

  /** From now on this folder is served. @throws DriveError where it is no folder */
  add(asked: string): ServedFolder {
    try {
      if (!path.isAbsolute(asked)) throw new DriveError('bad-name', asked);
      const root = fs.realpathSync.native(asked);
      if (!fs.statSync(root).isDirectory()) throw new DriveError('not-found', asked);
      const id = idOf(root);
      if (!this.known.has(id)) {
        if (this.known.size >= FOLDERS_LIMIT) throw new DriveError('full', asked);
        this.known.set(id, root);
        this.write();
      }
      return this.told(id, root);
    } catch (error) {
      throw diskErrorOf(error, asked);
    }
  }

  remove(id: string): void {
    if (this.known.delete(id)) this.write();
  }
}
