// The same reading in the browser's workers: the core bundled as a worker, the files picked in an input as a person
// would.

import { createServer } from 'node:http';
import { build } from 'esbuild';
import { openBrowser, removeProfile } from '../tests/e2e/browser';

const WORKER = `
import { readPhoto } from './src/core/reading/reading';
self.onmessage = async ({ data: { files, onlyBytes } }) => {
  let read = 0;
  for (const file of files) {
    if (onlyBytes) {
      read += (await file.slice(0, onlyBytes).arrayBuffer()).byteLength > 0 ? 1 : 0;
      continue;
    }
    const source = { size: file.size, read: async (offset, length) => new Uint8Array(await file.slice(offset, offset + length).arrayBuffer()) };
    const reading = await readPhoto(source, file.name);
    if (reading.fields.headline && reading.fields.position) read += 1;
  }
  self.postMessage(read);
};`;

const PAGE = `<!doctype html><input type="file" multiple><script>
window.run = async (count, onlyBytes) => {
  const files = [...document.querySelector('input').files];
  const started = performance.now();
  const read = await Promise.all(Array.from({ length: count }, (_, index) => new Promise((resolve, reject) => {
    const worker = new Worker('/worker.js');
    worker.onmessage = ({ data }) => resolve(data);
    worker.onerror = (event) => reject(new Error(event.message));
    worker.postMessage({ files: files.filter((_, at) => at % count === index), onlyBytes });
  })));
  return { seconds: (performance.now() - started) / 1000, read: read.reduce((sum, one) => sum + one, 0) };
};</script>`;

export interface BrowserTimes {
  workers: number;
  /** Reading the metadata of all files. */
  seconds: number;
  /** Only fetching the head of each file: what the platform costs by itself. */
  onlyBytesSeconds: number;
}

export async function benchInBrowser(files: string[], headBytes: number): Promise<BrowserTimes> {
  const bundle = await build({
    stdin: { contents: WORKER, resolveDir: process.cwd(), loader: 'ts' },
    bundle: true,
    write: false,
    format: 'iife',
    minify: true,
  });
  const script = bundle.outputFiles[0]?.text ?? '';
  const server = createServer((request, response) => {
    response.setHeader('content-type', request.url === '/worker.js' ? 'text/javascript' : 'text/html');
    response.end(request.url === '/worker.js' ? script : PAGE);
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const address = server.address();
  const origin = `http://127.0.0.1:${typeof address === 'object' ? address?.port : 0}`;
  const browser = await openBrowser({ origin });
  try {
    await browser.page.goto(origin);
    await browser.page.setInputFiles('input', files);
    const workers = 2;
    const median = async (onlyBytes: number) => {
      const seconds: number[] = [];
      for (let round = 0; round < 3; round++) {
        const result = await browser.page.evaluate(
          ([count, bytes]) =>
            (
              window as unknown as { run: (count: number, bytes: number) => Promise<{ seconds: number; read: number }> }
            ).run(count, bytes),
          [workers, onlyBytes] as const,
        );
        if (result.read !== files.length) throw new Error('not every file was read');
        seconds.push(result.seconds);
      }
      return seconds.sort((a, b) => a - b)[1] ?? NaN;
    };
    return { workers, onlyBytesSeconds: await median(headBytes), seconds: await median(0) };
  } finally {
    await browser.close();
    removeProfile(browser.profile);
    server.close();
  }
}
