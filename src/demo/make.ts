// Makes the demo archive in `.demo/`: paints on all cores, writes the files and the index. What is there already and
// was made by the same generator is left. Usage: npm run demo-data [-- FOLDER]

import { fork } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import type { MadeFile } from './archive/frames';
import { type DriveKey, SHOOTS } from './archive/shoots';

const HERE = path.dirname(fileURLToPath(import.meta.url));
const OUT = path.resolve(process.argv[2] ?? path.join(HERE, '../../.demo'));

const DRIVES: { key: DriveKey; id: string; name: string }[] = [
  { key: 'studio', id: 'demo-studio-0001', name: 'Studio' },
  { key: 'attic', id: 'demo-attic-00002', name: 'Attic 2004–2011' },
  { key: 'card', id: 'demo-card-000003', name: 'Card HS-7' },
];

/** Second copies that the archive had before: this folder of the studio lies on the attic drive too. */
const COPIED = { from: 'studio', folder: '2019/', to: 'attic' } as const;

/** Whatever the generator is made of, in one digest. */
function generatorKey(): string {
  const hash = createHash('sha256');
  const sources = (folder: string): string[] => readdirSync(folder, { withFileTypes: true }).flatMap((entry) => (entry.isDirectory() ? sources(path.join(folder, entry.name)) : [path.join(folder, entry.name)]));
  const core = ['fields/registry.ts', 'fields/values.ts', 'xmp/packet.ts', 'xmp/sidecar.ts', 'xmp/xml-tree.ts', 'exif/exif-tags.ts'].map((file) => path.join(HERE, '../core', file));
  for (const file of [...sources(HERE).sort(), ...core]) hash.update(readFileSync(file));
  return hash.digest('hex');
}

async function paintAll(onFrame: (shoot: number, files: MadeFile[]) => void): Promise<void> {
  const waiting = SHOOTS.flatMap(({ frames }, shoot) => Array.from({ length: frames }, (_, frame) => ({ shoot, frame })));
  const total = waiting.length;
  let done = 0;
  const lane = () =>
    new Promise<void>((resolve, reject) => {
      const painter = fork(path.join(HERE, 'painter.ts'), { execArgv: ['--import', 'tsx'], serialization: 'advanced' });
      const next = () => {
        const frame = waiting.shift();
        if (frame) painter.send(frame);
        else {
          painter.kill();
          resolve();
        }
      };
      painter.on('message', (message) => {
        const { shoot, files } = message as { shoot: number; files: { path: string; bytes: Uint8Array }[] };
        onFrame(shoot, files.map((file) => ({ path: file.path, bytes: Buffer.from(file.bytes) })));
        process.stdout.write(`\rpainting the demo archive: ${++done} of ${total} photos`);
        next();
      });
      painter.on('error', reject);
      painter.on('exit', (code) => code && reject(new Error(`a painter ended with ${code}`)));
      next();
    });
  await Promise.all(Array.from({ length: Math.max(1, availableParallelism()) }, lane));
  process.stdout.write('\n');
}

async function make(): Promise<void> {
  const key = generatorKey();
  const keyFile = path.join(OUT, 'made-by.txt');
  if (existsSync(keyFile) && readFileSync(keyFile, 'utf8') === key) {
    console.log('The demo archive is there already.');
    return;
  }
  rmSync(OUT, { recursive: true, force: true });
  const put = (drive: string, file: string, bytes: Buffer) => {
    const target = path.join(OUT, drive, file);
    mkdirSync(path.dirname(target), { recursive: true });
    writeFileSync(target, bytes);
  };
  await paintAll((shoot, files) => {
    const drive = SHOOTS[shoot]?.drive ?? 'studio';
    for (const file of files) {
      put(drive, file.path, file.bytes);
      if (drive === COPIED.from && file.path.startsWith(COPIED.folder)) put(COPIED.to, file.path, file.bytes);
    }
  });
  put('attic', '07-2004 Klaksvik/FJC_0216.JPG', Buffer.alloc(0)); // a file that never finished writing, as old cards leave them
  const list = (drive: string, folder = ''): { path: string; bytes: number; from: string }[] =>
    readdirSync(path.join(OUT, drive, folder), { withFileTypes: true })
      .sort((a, b) => (a.name < b.name ? -1 : 1))
      .flatMap((entry) => {
        const inside = folder ? `${folder}/${entry.name}` : entry.name;
        return entry.isDirectory() ? list(drive, inside) : [{ path: inside, bytes: statSync(path.join(OUT, drive, inside)).size, from: `${drive}/${inside}` }];
      });
  const drives = DRIVES.map(({ key: drive, id, name }) => ({ id, name, takenOut: false, files: list(drive) }));
  writeFileSync(path.join(OUT, 'index.json'), `${JSON.stringify({ format: 'wembo-demo', version: 1, drives }, null, 1)}\n`);
  writeFileSync(keyFile, key);
}

await make();
