import { writePackHere } from '@/storage/connections/practice';
import { directFileTasks } from '@/storage/file-tasks/file-tasks';
import { drawPreview } from './draw-preview';
import { decodeMade, makePicture } from './make-delivery';
import { openedDrive, openedFile, openedWhole } from './handing';
import { serve } from './serve';

const fileTasks = directFileTasks({ makePreview: drawPreview, makePicture, decodeMade });

serve<
  | 'read'
  | 'preview'
  | 'digest'
  | 'checksums'
  | 'properties'
  | 'readTrack'
  | 'embed'
  | 'copy'
  | 'takeIn'
  | 'layPack'
  | 'deliver'
  | 'zip'
>(self, {
  deliver: ({ drive, file, ...order }, { onBytes, signal }) =>
    fileTasks.deliver({ ...order, file: openedWhole(file), drive: drive && openedDrive(drive) }, onBytes, signal),
  zip: ({ drive, path, entries }, { onBytes, signal }) =>
    fileTasks.zip(
      {
        drive: openedDrive(drive),
        path,
        entries: entries.map(({ file, ...entry }) => ({ ...entry, file: openedFile(file) })),
      },
      onBytes,
      signal,
    ),
  read: ({ file, name }) => fileTasks.read(openedWhole(file), name),
  preview: ({ file, reading, size }) => fileTasks.preview(openedWhole(file), reading, size),
  digest: ({ file }, { onBytes, signal }) => fileTasks.digest(openedWhole(file), onBytes, signal),
  checksums: ({ file, algorithms }, { onBytes, signal }) =>
    fileTasks.checksums(openedWhole(file), algorithms, onBytes, signal),
  properties: ({ file, name }) => fileTasks.properties(openedWhole(file), name),
  readTrack: ({ file }) => fileTasks.readTrack(openedWhole(file)),
  embed: ({ drive, path, fields, expected }) => fileTasks.embed({ drive: openedDrive(drive), path, fields, expected }),
  layPack: ({ root, pack }) => writePackHere(root, pack),
  takeIn: ({ file, name, targets, isPhoto }, { onBytes, signal }) =>
    fileTasks.takeIn(
      {
        file: openedWhole(file),
        name,
        targets: targets.map(({ drive, path }) => ({ drive: openedDrive(drive), path })),
        isPhoto,
      },
      onBytes,
      signal,
    ),
  copy: ({ drive, path, file, name, expected }, { onBytes, signal }) =>
    fileTasks.copy({ drive: openedDrive(drive), path, file: openedFile(file), name, expected }, onBytes, signal),
});
