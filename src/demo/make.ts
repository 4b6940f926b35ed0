// Makes the demo archive in `.demo/` from the pictures that ship with it (painted by paint-pictures.ts): writes their
// metadata, the drives and the index. What is there already and was made by the same generator is left. Usage: npm run
// demo-data [-- FOLDER]

import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { DRIVES, type LaidFile, layOut, proofOf } from './archive/drives';
import { filesOfFrame } from './archive/frames';
import { paintingName } from './archive/paintings';
import { PHOTOS, SHOOTS } from './archive/shoots';
import { viewsOf } from './archive/shoot';
import { endEncoders } from './archive/wide-formats';

const HERE = path.dirname(fileURLToPath(import.meta.url));
const OUT = path.resolve(process.argv[2] ?? path.join(HERE, '../../.demo'));

/** Files that the application asks for at a time. */
const PACK_FILES = 40;

function put(file: string, bytes: Buffer): void {
  const target = path.join(OUT, file);
  mkdirSync(path.dirname(target), { recursive: true });
  writeFileSync(target, bytes);
}

const proven = <T>(proof: T | null) => (proof ? { proof } : {});

/** Whatever the generator is made of, in one digest. */
function generatorKey(): string {
  const hash = createHash('sha256');
  const sources = (folder: string): string[] =>
    readdirSync(folder, { withFileTypes: true }).flatMap((entry) =>
      entry.isDirectory() ? sources(path.join(folder, entry.name)) : [path.join(folder, entry.name)],
    );
  const isSource = (file: string) => !file.endsWith('.test.ts');
  for (const file of [...sources(HERE), ...sources(path.join(HERE, '../core'))].filter(isSource).sort())
    hash.update(readFileSync(file));
  return hash.digest('hex');
}

/** Every frame's files, from its picture. */
async function develop(): Promise<LaidFile[]> {
  const files: LaidFile[] = [];
  for (const shoot of SHOOTS) {
    for (const view of viewsOf(shoot)) {
      for (const frame of view.frames) {
        const painting = readFileSync(path.join(HERE, 'pictures', shoot.drive, paintingName(shoot, frame)));
        files.push(
          ...(await filesOfFrame(shoot, view, frame, painting)).map((file) => ({ ...file, drive: shoot.drive })),
        );
      }
    }
    process.stdout.write(`\rmaking the demo archive: ${files.length} files`);
  }
  process.stdout.write('\n');
  return files;
}

async function make(): Promise<void> {
  const key = generatorKey();
  const keyFile = path.join(OUT, 'made-by.txt');
  if (existsSync(keyFile) && readFileSync(keyFile, 'utf8') === key) {
    console.log('The demo archive is there already.');
    return;
  }
  rmSync(OUT, { recursive: true, force: true });
  const began = performance.now();
  const files = await layOut(await develop());
  await endEncoders();
  const drives = [];
  for (const { key: drive, id, name, takenOut, card = false } of DRIVES) {
    const own = files.filter((one) => one.drive === drive).sort((a, b) => (a.path < b.path ? -1 : 1));
    const packs: { from: string; files: object[] }[] = [];
    for (let from = 0; from < own.length; from += PACK_FILES) {
      const part = own.slice(from, from + PACK_FILES);
      for (const file of part) put(`${drive}/${file.path}`, file.bytes);
      const pack: string = `packs/${drive}-${String(packs.length).padStart(2, '0')}.bin`;
      put(pack, Buffer.concat(part.map(({ bytes }) => bytes)));
      packs.push({
        from: pack,
        files: await Promise.all(
          part.map(async (file) => ({ path: file.path, bytes: file.bytes.length, ...proven(await proofOf(file)) })),
        ),
      });
    }
    drives.push({ id, name, folder: drive, takenOut, card, packs });
  }
  writeFileSync(
    path.join(OUT, 'index.json'),
    `${JSON.stringify({ format: 'wembo-demo', version: 3, drives }, null, 1)}\n`,
  );
  writeFileSync(keyFile, key);
  console.log(`${PHOTOS} photos, ${files.length} files, made in ${((performance.now() - began) / 1000).toFixed(0)} s`);
}

await make();
