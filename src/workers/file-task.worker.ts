import type { Drive } from '@/storage/drives/drive';
import { HandleDrive } from '@/storage/drives/handle-drive';
import { MarkedDrive } from '@/storage/archive/marked-drive';
import { writePackHere } from '@/storage/connections/practice';
import { directFileTasks } from '@/storage/file-tasks/file-tasks';
import { drawPreview } from './draw-preview';
import { decodeMade, makePicture } from './make-delivery';
import type { HandedDrive } from './protocol';
import { serve } from './serve';

const fileTasks = directFileTasks({ makePreview: drawPreview, makePicture, decodeMade });

function opened({ root, id, marked }: HandedDrive): Drive {
  const folder = new HandleDrive(root, id);
  return marked ? new MarkedDrive(folder, id) : folder;
}

serve<
  | 'read'
  | 'preview'
  | 'digest'
  | 'properties'
  | 'readTrack'
  | 'embed'
  | 'copy'
  | 'takeIn'
  | 'layPack'
  | 'deliver'
  | 'zip'
>(self, {
  deliver: ({ drive, ...order }, { onBytes, signal }) =>
    fileTasks.deliver({ ...order, drive: drive && opened(drive) }, onBytes, signal),
  zip: ({ drive, ...order }, { onBytes, signal }) => fileTasks.zip({ ...order, drive: opened(drive) }, onBytes, signal),
  read: ({ file, name }) => fileTasks.read(file, name),
  preview: ({ file, reading, size }) => fileTasks.preview(file, reading, size),
  digest: ({ file }, { onBytes, signal }) => fileTasks.digest(file, onBytes, signal),
  properties: ({ file, name }) => fileTasks.properties(file, name),
  readTrack: ({ file }) => fileTasks.readTrack(file),
  embed: ({ drive, path, fields, expected }) => fileTasks.embed({ drive: opened(drive), path, fields, expected }),
  layPack: ({ root, pack }) => writePackHere(root, pack),
  takeIn: ({ file, name, targets, isPhoto }, { onBytes, signal }) =>
    fileTasks.takeIn(
      { file, name, targets: targets.map(({ drive, path }) => ({ drive: opened(drive), path })), isPhoto },
      onBytes,
      signal,
    ),
  copy: ({ drive, path, file, name, expected }, { onBytes, signal }) =>
    fileTasks.copy({ drive: opened(drive), path, file, name, expected }, onBytes, signal),
});
