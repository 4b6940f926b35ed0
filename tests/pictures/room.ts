// The workers that see pictures, in Chromium, without the application around them: bundled as they are asked for, served
// with the headers the application has, fed with files of this machine.

import { readFile } from 'node:fs/promises';
import { createServer } from 'node:http';
import path from 'node:path';
import { build } from 'esbuild';
import type { FieldValues } from '@/core/fields/registry';
import type { PictureSettings } from '@/core/send-out/delivery-profile';
import type { PlacedDelivery } from '@/storage/file-tasks/deliver';
import { openBrowser } from '../e2e/browser';

const PAGE = `<!doctype html><script type="module">
import { workerPictures, fileTasks } from '/room-page.js';
window.pictures = workerPictures();
window.tasks = fileTasks();
window.ready = true;
</script>`;

/** What a page can ask of the workers; answers are small enough to cross to Node. */
const PAGE_SOURCE = `
import { workerPictures } from '@/workers/picture-client';
import { workerFileTasks } from '@/workers/file-task-client';
import { readPhoto } from '@/core/metadata/reading/reading';
import { blobSource } from '@/storage/drives/safe-write';
import { HandleDrive } from '@/storage/drives/handle-drive';
import { outputPixels } from '@/core/send-out/output-size';
import { NEW_SHEET_SETTINGS, pagesFor } from '@/core/send-out/sheet';
import { workerSheets } from '@/workers/sheet-client';
export { workerPictures };
export const fileTasks = workerFileTasks;

const fetched = async (name) => new File([await (await fetch('/file/' + encodeURIComponent(name))).blob()], name.split('/').pop());
const failed = (error) => ({ state: 'refused', code: error.problem?.code ?? error.name, reason: error.problem?.reason ?? error.message });

function read(bitmap, width, height) {
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d', { willReadFrequently: true });
  context.fillStyle = '#fff';
  context.fillRect(0, 0, width, height);
  context.imageSmoothingQuality = 'high';
  context.drawImage(bitmap, 0, 0, width, height);
  return context.getImageData(0, 0, width, height).data;
}

window.open = async (name, { wanted = { pixels: null }, to = null, spots = null, all = false }) => {
  const file = await fetched(name);
  const started = performance.now();
  try {
    const reading = await readPhoto(blobSource(file), name);
    const opened = await window.pictures.show(file, reading, wanted);
    const ms = performance.now() - started;
    const { bitmap, from, whole, full, pages } = opened;
    const pixels = to ? [...read(bitmap, to, to)] : spots ? spotsOf(bitmap, spots) : null;
    const bytes = all ? await base64(read(bitmap, bitmap.width, bitmap.height)) : null;
    const answer = { state: 'opened', from, whole, full, pages, width: bitmap.width, height: bitmap.height, pixels, bytes, ms, format: reading.format };
    bitmap.close();
    return answer;
  } catch (error) {
    return { ...failed(error), ms: performance.now() - started };
  }
};

const base64 = (bytes) => new Promise((resolve) => {
  const reader = new FileReader();
  reader.onload = () => resolve(reader.result.slice(reader.result.indexOf(',') + 1));
  reader.readAsDataURL(new Blob([bytes]));
});

function spotsOf(bitmap, spots) {
  const all = read(bitmap, bitmap.width, bitmap.height);
  return spots.flatMap(([x, y]) => [...all.slice((y * bitmap.width + x) * 4, (y * bitmap.width + x) * 4 + 4)]);
}

/** Sends a photo to a folder of the browser's own; answers with the file that came out. */
window.deliver = async (name, { to, picture, pixels, fields = {}, technical = false, overlay = null, expected = null, withoutBytes = false }) => {
  const file = await fetched(name);
  const photo = await readPhoto(blobSource(file), name);
  const root = await navigator.storage.getDirectory();
  const started = performance.now();
  try {
    const size = pixels ?? (photo.width ? outputPixels({ width: photo.width, height: photo.height }, picture.size, picture.ppi, picture.enlarge) : null);
    const marked = overlay && { ...overlay, pixels: new ImageData(new Uint8ClampedArray(overlay.width * overlay.height * 4).fill(255), overlay.width) };
    const sent = await window.tasks.deliver(
      { drive: new HandleDrive(root, 'room'), path: to, file, name, expected, photo, picture, pixels: picture.kind === 'made' ? size : null, fields, technical, overlay: marked },
      () => undefined,
    );
    const ms = performance.now() - started;
    if (sent.state !== 'placed') return sent;
    return { ...sent, ms, bytes: withoutBytes ? '' : await base64(await (await (await root.getFileHandle(sent.path)).getFile()).arrayBuffer()) };
  } catch (error) {
    return { state: 'failed', reason: error.problem ?? error.message, path: error.path };
  }
};

/** A contact sheet of one picture, many times. */
window.sheet = async (name, count) => {
  const bytes = await (await fetched(name)).arrayBuffer();
  const settings = NEW_SHEET_SETTINGS;
  const photos = Array.from({ length: count }, (_, index) => ({
    picture: new Blob([bytes], { type: 'image/jpeg' }), lines: ['F_' + index + '.jpg', 'Á slip, ð ø á'], rating: 0, marker: null,
  }));
  const started = performance.now();
  const pdf = await workerSheets().draw({ settings, photos, title: 'Sheet' }, () => undefined);
  return { bytes: pdf.size, pages: pagesFor(settings, count), ms: performance.now() - started };
};

window.preview = async (name, size) => {
  const file = await fetched(name);
  const reading = await readPhoto(blobSource(file), name);
  const started = performance.now();
  const { blob, problem } = await window.tasks.preview(file, reading, size);
  return { bytes: blob?.size ?? 0, problem, ms: performance.now() - started };
};
`;

export interface RoomOpened {
  state: 'opened';
  from: string;
  whole: boolean;
  full: { width: number; height: number } | null;
  pages: number;
  width: number;
  height: number;
  pixels: number[] | null;
  /** In base 64. */
  bytes: string | null;
  ms: number;
  format: string;
}
export type RoomAnswer = RoomOpened | { state: 'refused'; code: string; reason?: string; ms: number };

export interface OpenOptions {
  wanted?: {
    pixels: number | null;
    quick?: boolean;
    region?: { left: number; top: number; width: number; height: number };
    page?: number;
  };
  /** Drawn into a square of so many pixels, whose RGBA comes back. */
  to?: number;
  /** Or the RGBA of these spots (x, y). */
  spots?: [number, number][];
  /** Or the RGBA of all of it, as `bytes`. */
  all?: boolean;
}

export interface RoomDelivery {
  /** The name it gets. */
  to: string;
  picture: PictureSettings;
  pixels?: { width: number; height: number };
  fields?: FieldValues;
  technical?: boolean;
  /** A white box, laid over the picture. */
  overlay?: { width: number; height: number; left: number; top: number };
  expected?: string;
  /** What came out is not handed over. */
  withoutBytes?: boolean;
}

export type RoomDelivered =
  | (PlacedDelivery & { ms: number; /** In base 64. */ bytes: string })
  | { state: 'refused'; problem: { code: string; reason?: string } }
  | { state: 'failed'; reason: string; path?: string };

export interface RoomSheet {
  bytes: number;
  pages: number;
  ms: number;
}

export interface PictureRoom {
  deliver(file: string, options: RoomDelivery): Promise<RoomDelivered>;
  open(file: string, options?: OpenOptions): Promise<RoomAnswer>;
  preview(file: string, size: 'small' | 'large'): Promise<{ bytes: number; problem: unknown; ms: number }>;
  /** A contact sheet of one picture, so many times. */
  sheet(file: string, count: number): Promise<RoomSheet>;
  page: Awaited<ReturnType<typeof openBrowser>>['page'];
  /** The folder of its browser, by which its processes are known. */
  profile: string;
  close(): Promise<void>;
}

const bundled = async (options: { entry?: string; source?: string }): Promise<string> => {
  const built = await build({
    ...(options.entry
      ? { entryPoints: [options.entry] }
      : { stdin: { contents: options.source ?? '', resolveDir: process.cwd(), loader: 'ts' } }),
    bundle: true,
    write: false,
    format: 'esm',
    alias: { '@': './src' },
    external: ['/decoders/*'],
    logLevel: 'error',
    banner: { js: 'globalThis.process ??= { env: {} };' },
  });
  return built.outputFiles[0]?.text ?? '';
};

/** Bundled into one file each, workers lie beside each other. */
const WORKERS: Record<string, string> = {
  '/picture.worker.ts': 'src/workers/picture.worker.ts',
  '/file-task.worker.ts': 'src/workers/file-task.worker.ts',
  '/sheet.worker.ts': 'src/workers/sheet.worker.ts',
  '/decoding.worker.ts': 'src/workers/decoding/decoding.worker.ts',
};

export async function openRoom(): Promise<PictureRoom> {
  const scripts = new Map<string, Promise<string>>();
  const script = (url: string): Promise<string> => {
    const known = scripts.get(url);
    if (known) return known;
    const made = url === '/room-page.js' ? bundled({ source: PAGE_SOURCE }) : bundled({ entry: WORKERS[url] ?? '' });
    scripts.set(url, made);
    return made;
  };
  const server = createServer((request, response) => {
    response.setHeader('Cross-Origin-Opener-Policy', 'same-origin');
    response.setHeader('Cross-Origin-Embedder-Policy', 'require-corp');
    const url = decodeURIComponent(new URL(request.url ?? '/', 'http://room').pathname);
    const answer = async (): Promise<[string, string | Buffer]> => {
      if (url === '/') return ['text/html', PAGE];
      if (url.startsWith('/fonts/')) return ['font/woff', await readFile(path.join('public', url))];
      if (url.startsWith('/decoders/'))
        return [
          url.endsWith('.wasm') ? 'application/wasm' : 'text/javascript',
          await readFile(path.join('public', url)),
        ];
      if (url.startsWith('/file/')) return ['application/octet-stream', await readFile(url.slice('/file/'.length))];
      return ['text/javascript', await script(url)];
    };
    answer().then(
      ([type, body]) => response.setHeader('content-type', type).end(body),
      (error: unknown) => response.writeHead(404).end(String(error)),
    );
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const address = server.address();
  const origin = `http://127.0.0.1:${typeof address === 'object' ? address?.port : 0}`;
  const browser = await openBrowser({ origin });
  await browser.page.goto(origin);
  await browser.page.waitForFunction(() => 'ready' in window);
  interface Room {
    open(name: string, options: OpenOptions): Promise<RoomAnswer>;
    preview(name: string, size: string): Promise<{ bytes: number; problem: unknown; ms: number }>;
    deliver(name: string, options: RoomDelivery): Promise<RoomDelivered>;
    sheet(name: string, count: number): Promise<RoomSheet>;
  }
  return {
    page: browser.page,
    profile: browser.profile,
    sheet: (file, count) =>
      browser.page.evaluate(([name, told]) => (window as unknown as Room).sheet(name, told), [file, count] as const),
    open: (file, options = {}) =>
      browser.page.evaluate(([name, told]) => (window as unknown as Room).open(name, told), [file, options] as const),
    preview: (file, size) =>
      browser.page.evaluate(([name, told]) => (window as unknown as Room).preview(name, told), [file, size] as const),
    deliver: (file, options) =>
      browser.page.evaluate(([name, told]) => (window as unknown as Room).deliver(name, told), [
        file,
        options,
      ] as const),
    close: async () => {
      await browser.page.context().close();
      server.close();
    },
  };
}
