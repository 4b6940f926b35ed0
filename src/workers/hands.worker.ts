import { HandleDrive } from '@/storage/drives/handle-drive';
import { writePackHere } from '@/storage/drives/practice';
import { directHands } from '@/storage/jobs/hands';
import { drawPreview } from './draw-preview';
import { serve } from './serve';

const hands = directHands(drawPreview);

serve<'read' | 'preview' | 'digest' | 'properties' | 'embed' | 'copy' | 'layPack'>(self, {
  read: ({ file, name }) => hands.read(file, name),
  preview: ({ file, reading }) => hands.preview(file, reading),
  digest: ({ file }, { onBytes, signal }) => hands.digest(file, onBytes, signal),
  properties: ({ file, name }) => hands.properties(file, name),
  embed: ({ root, path, fields }) => hands.embed({ drive: new HandleDrive(root), path, fields }),
  layPack: ({ root, pack }) => writePackHere(root, pack),
  copy: ({ root, path, file, expected }, { onBytes, signal }) => hands.copy({ drive: new HandleDrive(root), path, file, expected }, onBytes, signal),
});
