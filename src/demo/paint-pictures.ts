// Paints the pictures of the demo archive into `src/demo/pictures/`, on all cores: those that are not there yet, or
// all.
// Usage: npm run paint-pictures [-- --all | -- MOTIF …]

import { fork } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Painting } from './archive/paintings';
import { paintingName } from './archive/paintings';
import { SHOOTS, VIEWS } from './archive/shoots';

const HERE = path.dirname(fileURLToPath(import.meta.url));
const PICTURES = path.join(HERE, 'pictures');
const asked = process.argv.slice(2);

const fileOf = (number: number, frame: number) =>
  path.join(PICTURES, SHOOTS[number]!.drive, paintingName(SHOOTS[number]!, frame));
const wanted = VIEWS.filter(
  ({ number, frames }) =>
    asked.includes('--all') ||
    asked.includes(SHOOTS[number]!.motif) ||
    frames.some((frame) => !existsSync(fileOf(number, frame))),
);

async function paint(): Promise<void> {
  // the longest work first, so that no core is left with a panorama at the end
  const waiting = wanted.toSorted((a, b) => b.frames.length - a.frames.length);
  const total = waiting.length;
  let done = 0;
  const painting = () =>
    new Promise<void>((resolve, reject) => {
      const painter = fork(path.join(HERE, 'painter.ts'), { execArgv: ['--import', 'tsx'], serialization: 'advanced' });
      const next = () => {
        const view = waiting.shift();
        if (view) painter.send({ number: view.number, view: view.view });
        else {
          painter.kill();
          resolve();
        }
      };
      painter.on('message', (message) => {
        const { drive, paintings } = message as { drive: string; paintings: Painting[] };
        mkdirSync(path.join(PICTURES, drive), { recursive: true });
        for (const { name, bytes } of paintings) writeFileSync(path.join(PICTURES, drive, name), bytes);
        process.stdout.write(`\rpainting: ${++done} of ${total} views`);
        next();
      });
      painter.on('error', reject);
      painter.on('exit', (code) => code && reject(new Error(`a painter ended with ${code}`)));
      next();
    });
  await Promise.all(Array.from({ length: Math.max(1, availableParallelism()) }, painting));
  process.stdout.write('\n');
}

/** Pictures no shoot has any more. */
function clearLeft(): void {
  const kept = new Set(VIEWS.flatMap(({ number, frames }) => frames.map((frame) => fileOf(number, frame))));
  for (const drive of readdirSync(PICTURES))
    for (const name of readdirSync(path.join(PICTURES, drive)))
      if (!kept.has(path.join(PICTURES, drive, name))) rmSync(path.join(PICTURES, drive, name));
}

await paint();
clearLeft();
