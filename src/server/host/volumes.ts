// What of this machine's disks one may choose a folder on: file systems with their names and room, and the folders in a
// folder. On Linux the mounts are read from the kernel and the names from /dev/disk; elsewhere there are only the places
// where disks are known to appear.

import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { isPhotoName } from '@/core/formats/containers/formats';
import { DriveError } from '@/storage/drives/drive';
import type { BrowsedFolder, Volume } from '@/storage/host/protocol';
import { diskErrorOf, namesOf } from './confined';
import { nameOnMark } from './marks';

/** Folders told of one folder. */
const FOLDERS_TOLD = 2000;
/** Names looked at to tell whether there are photos. */
const NAMES_LOOKED_AT = 5000;

/** File systems that hold a person's files; all others are the system's own. */
const OF_DISKS = new Set(
  'ext2 ext3 ext4 xfs btrfs zfs f2fs vfat exfat ntfs ntfs3 fuseblk hfs hfsplus apfs iso9660 udf nfs nfs4 cifs smb3 smbfs fuse.sshfs bcachefs jfs reiserfs overlay'.split(
    ' ',
  ),
);
const OF_THE_SYSTEM = /^\/(proc|sys|dev|run(?!\/media)|boot|snap|var\/lib\/docker)(\/|$)/;

export interface Mount {
  path: string;
  device: string;
  fileSystem: string;
}

/** The lines of /proc/self/mountinfo (proc(5)): the fifth field is the place, what follows ` - ` kind and device. */
export function parseMounts(text: string): Mount[] {
  return text.split('\n').flatMap((line) => {
    const [before = '', after = ''] = line.split(' - ');
    const place = before.split(' ')[4];
    const [fileSystem, device] = after.split(' ');
    return place && fileSystem && device ? [{ path: unescaped(place), device: unescaped(device), fileSystem }] : [];
  });
}

/** Blanks, tabs and line ends are written in octal. */
const unescaped = (text: string): string =>
  text.replace(/\\([0-7]{3})/g, (_, digits: string) => String.fromCharCode(parseInt(digits, 8)));

const readOr = <T>(read: () => T, otherwise: T): T => {
  try {
    return read();
  } catch {
    return otherwise;
  }
};

function mounts(): Mount[] {
  const text = readOr(() => fs.readFileSync('/proc/self/mountinfo', 'utf8'), '');
  const last = new Map<string, Mount>(); // what is mounted later hides what was there
  for (const mount of parseMounts(text))
    if (OF_DISKS.has(mount.fileSystem) && !OF_THE_SYSTEM.test(mount.path)) last.set(mount.path, mount);
  return [...last.values()].filter(({ path: place }) => readOr(() => fs.statSync(place).isDirectory(), false));
}

/** Where disks appear on systems that tell no mounts. */
function placesOfDisks(): Mount[] {
  const at = (place: string): Mount => ({ path: place, device: '', fileSystem: '' });
  if (process.platform === 'win32')
    return [...'CDEFGHIJKLMNOPQRSTUVWXYZ']
      .map((letter) => at(`${letter}:\\`))
      .filter(({ path: p }) => fs.existsSync(p));
  const named = readOr(() => fs.readdirSync('/Volumes'), []).map((name) => at(`/Volumes/${name}`));
  return [at('/'), ...named];
}

/** By what a device is known: label or uuid. */
function namesOfDevices(kind: 'by-label' | 'by-uuid'): Map<string, string> {
  const folder = `/dev/disk/${kind}`;
  return new Map(
    readOr(() => fs.readdirSync(folder), []).map((name) => [
      readOr(() => fs.realpathSync(`${folder}/${name}`), ''),
      name.replace(/\\x([0-9a-f]{2})/g, (_, digits: string) => String.fromCharCode(parseInt(digits, 16))),
    ]),
  );
}

const isRemovable = (device: string): boolean =>
  readOr(() => {
    const block = fs.realpathSync(`/sys/class/block/${path.basename(fs.realpathSync(device))}`);
    const whole = fs.existsSync(`${block}/partition`) ? path.dirname(block) : block;
    return fs.readFileSync(`${whole}/removable`, 'utf8').trim() === '1' || whole.includes('/usb');
  }, false);

export const isWritable = (place: string): boolean =>
  readOr(() => (fs.accessSync(place, fs.constants.W_OK), true), false);

function volumeAt(mount: Mount, labels: Map<string, string>, uuids: Map<string, string>): Volume {
  const { bsize, blocks, bavail } = readOr<Pick<fs.StatsFs, 'bsize' | 'blocks' | 'bavail'>>(
    () => fs.statfsSync(mount.path),
    {
      bsize: 0,
      blocks: 0,
      bavail: 0,
    },
  );
  const device = readOr(() => fs.realpathSync(mount.device), mount.device);
  return {
    path: mount.path,
    label: labels.get(device) ?? null,
    uuid: uuids.get(device) ?? null,
    fileSystem: mount.fileSystem || null,
    sizeBytes: bsize * blocks,
    freeBytes: bsize * bavail,
    isRemovable: isRemovable(mount.device),
  };
}

export function volumes(): Volume[] {
  const found = mounts();
  const [labels, uuids] = [namesOfDevices('by-label'), namesOfDevices('by-uuid')];
  return (found.length > 0 ? found : placesOfDisks())
    .map((mount) => volumeAt(mount, labels, uuids))
    .sort((a, b) => (a.path < b.path ? -1 : 1));
}

/** The volume on which a folder lies: its room as the folder has it, its name where the system tells one. */
export function volumeOf(folder: string): Volume {
  const isIn = ({ path: place }: Mount) => folder === place || folder.startsWith(place === '/' ? '/' : `${place}/`);
  const [mount = { device: '', fileSystem: '' }] = mounts()
    .filter(isIn)
    .sort((a, b) => b.path.length - a.path.length);
  return volumeAt({ ...mount, path: folder }, namesOfDevices('by-label'), namesOfDevices('by-uuid'));
}

export const homeFolder = (): string => os.homedir();

/** The folders in a folder; of files only how many photos. Links are shown, and followed when they are opened. */
export function browse(asked: string): BrowsedFolder {
  try {
    if (!path.isAbsolute(asked) || asked.includes('\0')) throw new DriveError('bad-name', asked);
    const place = fs.realpathSync.native(asked);
    const entries = fs.readdirSync(place, { withFileTypes: true });
    const folders = entries
      .filter((entry) => !entry.name.startsWith('.') && isFolder(place, entry))
      .map(({ name }) => name)
      .sort((a, b) => a.localeCompare(b, 'en'));
    return {
      path: place,
      parent: path.dirname(place) === place ? null : path.dirname(place),
      folders: folders.slice(0, FOLDERS_TOLD),
      more: Math.max(0, folders.length - FOLDERS_TOLD),
      drive: nameOnMark(place),
      isWritable: isWritable(place),
      photos: entries.slice(0, NAMES_LOOKED_AT).filter((entry) => entry.isFile() && isPhotoName(entry.name)).length,
    };
  } catch (error) {
    throw diskErrorOf(error, asked);
  }
}

const isFolder = (place: string, entry: fs.Dirent): boolean =>
  entry.isDirectory() ||
  (entry.isSymbolicLink() && readOr(() => fs.statSync(path.join(place, entry.name)).isDirectory(), false));

export function makeFolderAt(asked: string, name: string): string {
  const [only, ...more] = namesOf(name);
  if (!only || more.length > 0 || !path.isAbsolute(asked)) throw new DriveError('bad-name', name);
  try {
    const made = path.join(fs.realpathSync.native(asked), only);
    fs.mkdirSync(made);
    return made;
  } catch (error) {
    throw diskErrorOf(error, name);
  }
}
