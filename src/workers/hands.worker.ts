import { HandleDrive } from '@/storage/drives/handle-drive';
import { writePackHere } from '@/storage/drives/practice';
import { directHands } from '@/storage/jobs/hands';
import { drawPreview } from './draw-preview';
import { serve } from './serve';

const hands = directHands(drawPreview);

serve<'read' | 'preview' | 'digest' | 'properties' | 'readTrack' | 'embed' | 'copy' | 'takeIn' | 'layPack'>(self, {
  read: ({ file, name }) => hands.read(file, name),
  preview: ({ file, reading, size }) => hands.preview(file, reading, size),
  digest: ({ file }, { onBytes, signal }) => hands.digest(file, onBytes, signal),
  properties: ({ file, name }) => hands.properties(file, name),
  readTrack: ({ file }) => hands.readTrack(file),
  embed: ({ root, path, fields }) => hands.embed({ drive: new HandleDrive(root), path, fields }),
  layPack: ({ root, pack }) => writePackHere(root, pack),
  takeIn: ({ file, name, targets, isPhoto }, { onBytes, signal }) => hands.takeIn({ file, name, targets: targets.map(({ root, path }) => ({ drive: new HandleDrive(root), path })), isPhoto }, onBytes, signal),
  copy: ({ root, path, file, expected }, { onBytes, signal }) => hands.copy({ drive: new HandleDrive(root), path, file, expected }, onBytes, signal),
});
