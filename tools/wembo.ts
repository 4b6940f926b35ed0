// The core on the command line: how it is tried against files from outside.
//   npm run --silent wembo -- inspect FILE...      one JSON line a file
// A file that cannot be read gives a line with its problem, and the exit code 1 when any such file was met.

import { open } from 'node:fs/promises';
import type { ByteSource } from '../src/core/bytes/source';
import { type PhotoReading, readPhoto } from '../src/core/reading/reading';

async function inspect(file: string): Promise<boolean> {
  try {
    const handle = await open(file);
    try {
      const { size } = await handle.stat();
      const source: ByteSource = {
        size,
        read: async (offset, lengthBytes) => {
          const { buffer, bytesRead } = await handle.read(new Uint8Array(lengthBytes), 0, lengthBytes, offset);
          return buffer.subarray(0, bytesRead);
        },
      };
      const reading = await readPhoto(source, file);
      console.log(JSON.stringify(lineOf(file, size, reading)));
      return true;
    } finally {
      await handle.close();
    }
  } catch (error) {
    console.log(JSON.stringify({ file, problems: [{ code: 'file/unreadable', reason: error instanceof Error ? error.message : String(error) }] }));
    return false;
  }
}

function lineOf(file: string, bytes: number, { previews, ...reading }: PhotoReading) {
  return { file, bytes, ...reading, preview: previews[0] ?? null };
}

const [command, ...files] = process.argv.slice(2);
if (command !== 'inspect' || files.length === 0) {
  console.error('Usage: wembo inspect FILE...');
  process.exit(2);
}
const read: boolean[] = [];
for (const file of files) read.push(await inspect(file));
process.exitCode = read.every(Boolean) ? 0 : 1;
