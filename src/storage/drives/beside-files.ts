// What cameras write beside a photo or video and belongs to it: it goes where the photo goes.

import { isBesideName, isSidecarName } from '@/core/formats/containers/formats';
import { baseOf, foldName, folderIn, nameIn } from '@/core/names/file-names';
import type { Drive } from './drive';

/** Spoken notes and data of videos, which the catalog does not list, sidecars if asked: asked for once a folder. */
export class BesideFiles {
  private readonly folders = new Map<string, Promise<string[]>>();

  constructor(
    private readonly drive: Drive,
    private readonly withSidecars = false,
  ) {}

  async of(path: string): Promise<string[]> {
    const folder = folderIn(path);
    const listed = this.folders.get(folder) ?? this.list(folder);
    this.folders.set(folder, listed);
    const base = foldName(baseOf(nameIn(path)));
    return (await listed).filter((other) => foldName(baseOf(nameIn(other))) === base);
  }

  private async list(folder: string): Promise<string[]> {
    const found: string[] = [];
    for await (const { path } of this.drive.list({ ...(folder !== '' && { below: folder }), shallow: true }))
      if (isSidecarName(path) ? this.withSidecars : isBesideName(path)) found.push(path);
    return found;
  }
}
