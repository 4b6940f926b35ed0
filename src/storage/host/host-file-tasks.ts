// The file tasks where the files lie on the host: done there, without the bytes passing through the page. What needs the
// browser, drawing above all, and what goes between the host and a drive of the browser's, stays with the page's workers.

import { MarkedDrive } from '../archive/marked-drive';
import type { Drive } from '../drives/drive';
import { type FileTasks, isDrawnAtOnce } from '../file-tasks/file-tasks';
import type { Target } from '../file-tasks/verified-copy';
import { fromBase64 } from '../drives/base64';
import { HostDrive, HostFile } from './host-drive';

type Done = Pick<FileTasks, 'read' | 'digest' | 'properties' | 'readTrack' | 'embed' | 'takeIn' | 'copy' | 'preview'>;

/** Where a path lies on the host; `null` on any other drive. */
function placeOn(drive: Drive, path: string) {
  const folder = drive instanceof MarkedDrive ? drive.inner : drive;
  const mark = drive instanceof MarkedDrive ? drive.id : null;
  return folder instanceof HostDrive ? { client: folder.client, place: { folder: folder.folder, mark, path } } : null;
}

function placesOn(targets: readonly Target[]) {
  const places = targets.map(({ drive, path }) => placeOn(drive, path)?.place ?? null);
  return places.every((place) => place !== null) ? places : null;
}

export function withHost<T extends Done>(tasks: T): T {
  const done: Done = {
    ...tasks,
    read: (file, name, signal) =>
      file instanceof HostFile
        ? file.client.ask('read', { file: file.facts }, { signal })
        : tasks.read(file, name, signal),
    digest: (file, onBytes, signal) =>
      file instanceof HostFile
        ? file.client.ask('digest', { file: file.facts }, { onBytes, signal })
        : tasks.digest(file, onBytes, signal),
    properties: (file, name) =>
      file instanceof HostFile ? file.client.ask('properties', { file: file.facts }) : tasks.properties(file, name),
    readTrack: (file, signal) =>
      file instanceof HostFile
        ? file.client.ask('readTrack', { file: file.facts }, { signal })
        : tasks.readTrack(file, signal),
    embed: (order) => {
      const on = placeOn(order.drive, order.path);
      return on
        ? on.client.ask('embed', { place: on.place, fields: order.fields, expected: order.expected })
        : tasks.embed(order);
    },
    copy: (order, onBytes, signal) => {
      const on = placeOn(order.drive, order.path);
      const { file, expected } = order;
      return on && file instanceof HostFile
        ? on.client.ask('copy', { file: file.facts, target: on.place, expected }, { onBytes, signal })
        : tasks.copy(order, onBytes, signal);
    },
    takeIn: async (order, onBytes, signal) => {
      const { file, isPhoto } = order;
      const targets = file instanceof HostFile ? placesOn(order.targets) : null;
      if (!(file instanceof HostFile) || !targets) return tasks.takeIn(order, onBytes, signal);
      const taken = await file.client.ask('takeIn', { file: file.facts, targets, isPhoto }, { onBytes, signal });
      const drawn =
        taken.read && isDrawnAtOnce(taken.read.reading)
          ? await tasks.preview(file, taken.read.reading, 'small', signal)
          : null;
      if (drawn?.problem) taken.read?.reading.problems.push(drawn.problem);
      return { ...taken, preview: drawn?.blob ?? null, bytes: taken.bytes === null ? null : fromBase64(taken.bytes) };
    },
  };
  return { ...tasks, ...done };
}
