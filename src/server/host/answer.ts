// What the host does with the folders it serves, by question. All of it waits for the disk: it runs in threads
// (`host.worker.ts`), or right where it is called, in tests. The work itself is what the page does with its own drives.

import { createHash } from 'node:crypto';
import type { FieldValues } from '@/core/fields/registry';
import { MarkedDrive } from '@/storage/archive/marked-drive';
import { fromBase64, toBase64 } from '@/storage/drives/base64';
import type { Drive, OpenedFile } from '@/storage/drives/drive';
import { failureOf } from '@/storage/drives/failure';
import { bytesOf, replaceFiles } from '@/storage/drives/safe-write';
import { directFileTasks } from '@/storage/file-tasks/file-tasks';
import {
  COMES_ALONG_BYTES,
  HOST_ORDERS,
  type HostAnswers,
  type HostKind,
  type HostPart,
} from '@/storage/host/protocol';
import type { z } from 'zod';
import type { Lock, ServedDrive } from '../served-drive';
import type { StorePlace } from '../store/place';
import { DiskDrive } from './disk-drive';

/** Questions about what lies in folders that are served; all others the server answers at its desk. */
export const DISK_KINDS = [
  'list',
  'open',
  'finish',
  'remove',
  'move',
  'makeFolder',
  'replace',
  'read',
  'digest',
  'properties',
  'readTrack',
  'copy',
  'takeIn',
  'embed',
] as const satisfies HostKind[];
export type DiskKind = (typeof DISK_KINDS)[number];
export type ReadOrder<K extends HostKind> = z.output<(typeof HOST_ORDERS)[K]>;

/** Where what is served lies: a folder of this machine, or a store. */
export type Root = string | StorePlace;

export interface AnswerTools<K extends DiskKind> {
  /** Where a folder that is served lies. @throws DriveError `no-permission` for any other */
  rootOf: (folder: string) => Root;
  lockOf: (folder: string) => Lock;
  onBytes: (bytes: number) => void;
  onPart: (part: HostPart<K>) => void;
  signal: AbortSignal;
}

type Answerers = { [K in DiskKind]: (order: ReadOrder<K>, tools: AnswerTools<K>) => Promise<HostAnswers[K]> };

/** Held in memory by each of the threads, so that a file is read once to be copied. */
const HELD_BYTES = 32 * 1024 * 1024;

const fileTasks = directFileTasks(
  {},
  {
    newDigest: async () => {
      const hash = createHash('sha256');
      return { update: (bytes) => void hash.update(bytes), hex: () => hash.digest('hex') };
    },
    heldBytes: HELD_BYTES,
  },
);

type Reached = Pick<AnswerTools<DiskKind>, 'rootOf' | 'lockOf'>;

export async function servedDrive(folder: string, { rootOf, lockOf }: Reached): Promise<ServedDrive> {
  const root = rootOf(folder);
  if (typeof root === 'string') return new DiskDrive(root, lockOf(folder));
  // a thread that works on disks alone does without the client of a store (29 MB, a quarter of a second)
  const { StoreDrive } = await import('../store/store-drive');
  return new StoreDrive(root, lockOf(folder));
}

const driveOf = async ({ folder, mark }: { folder: string; mark: string | null }, tools: Reached): Promise<Drive> => {
  const drive = await servedDrive(folder, tools);
  return mark === null ? drive : new MarkedDrive(drive, mark);
};

/** The file that was opened, as long as it is that still. */
export const sameFile = async (
  { folder, path, size, modifiedMs }: ReadOrder<'read'>['file'],
  tools: Reached,
): Promise<OpenedFile> => (await servedDrive(folder, tools)).same({ path, sizeBytes: size, modifiedMs });

/** Whoever holds the lease has the lock already. */
const named = (drive: Drive, lease: string | null, act: () => Promise<void>): Promise<void> =>
  lease === null ? drive.alone(act) : act();

const ANSWERERS: Answerers = {
  list: async ({ folder, below, shallow }, tools) => {
    for await (const listed of (await servedDrive(folder, tools)).listFolders(below, shallow)) {
      tools.signal.throwIfAborted();
      tools.onPart(listed);
      await othersTurn();
    }
    return null;
  },
  open: async ({ folder, path }, tools) => {
    const file = await (await servedDrive(folder, tools)).open(path);
    const comesAlong = file.size > 0 && file.size <= COMES_ALONG_BYTES;
    return {
      size: file.size,
      modifiedMs: file.lastModified,
      bytes: comesAlong ? toBase64(await bytesOf(file)) : null,
    };
  },
  finish: async ({ folder, part, path, over, lease }, tools) => {
    const drive = await servedDrive(folder, tools);
    await named(drive, lease, async () => drive.finish(part, path, over));
    return null;
  },
  remove: async ({ folder, path }, tools) => {
    await (await servedDrive(folder, tools)).remove(path);
    return null;
  },
  move: async ({ folder, from, to, lease }, tools) => {
    const drive = await servedDrive(folder, tools);
    await named(drive, lease, () => drive.move(from, to));
    return null;
  },
  makeFolder: async ({ folder, path }, tools) => {
    await (await servedDrive(folder, tools)).makeFolder(path);
    return null;
  },
  replace: async ({ files, ...place }, tools) => {
    const drive = await driveOf(place, tools);
    const replaced = await replaceFiles(
      drive,
      files.map(({ path, bytes, expected }) => ({
        path,
        bytes: fromBase64(bytes),
        expected: expected === null ? null : fromBase64(expected),
      })),
    );
    return replaced.map((error) => error && failureOf(error));
  },
  read: async ({ file }, tools) => fileTasks.read(await sameFile(file, tools), file.path),
  digest: async ({ file }, tools) => fileTasks.digest(await sameFile(file, tools), tools.onBytes, tools.signal),
  properties: async ({ file }, tools) => fileTasks.properties(await sameFile(file, tools), file.path),
  readTrack: async ({ file }, tools) => fileTasks.readTrack(await sameFile(file, tools)),
  copy: async ({ file, target, expected }, tools) =>
    fileTasks.copy(
      {
        drive: await driveOf(target, tools),
        path: target.path,
        file: await sameFile(file, tools),
        name: file.path,
        expected,
      },
      tools.onBytes,
      tools.signal,
    ),
  takeIn: async ({ file, targets, isPhoto }, tools) => {
    const { bytes, ...taken } = await fileTasks.takeIn(
      {
        file: await sameFile(file, tools),
        name: file.path,
        targets: await Promise.all(
          targets.map(async (target) => ({ drive: await driveOf(target, tools), path: target.path })),
        ),
        isPhoto,
      },
      tools.onBytes,
      tools.signal,
    );
    return { read: taken.read, digests: taken.digests, placed: taken.placed, bytes: bytes && toBase64(bytes) };
  },
  embed: async ({ place, fields, expected }, tools) =>
    fileTasks.embed({ drive: await driveOf(place, tools), path: place.path, fields: fields as FieldValues, expected }),
};

/** What is to be stopped is heard of. */
const othersTurn = () => new Promise<void>((resolve) => setImmediate(resolve));

export const answer = <K extends DiskKind>(
  kind: K,
  order: ReadOrder<K>,
  tools: AnswerTools<K>,
): Promise<HostAnswers[K]> => ANSWERERS[kind](order, tools);

export const isDiskKind = (kind: string): kind is DiskKind => (DISK_KINDS as readonly string[]).includes(kind);
