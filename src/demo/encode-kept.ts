// Encodes the pictures of the demo that are kept as they are, since set-up has no encoder for them: HEIC by heif-enc
// (Debian's libheif-examples), and a video, a slow pan over a painting, as H.264 by Chromium.
// Usage: npx tsx src/demo/encode-kept.ts

import { execFileSync } from 'node:child_process';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';
import { chromium } from 'playwright-core';
import { VIDEO_EPOCH_SECONDS } from '@/core/time/civil';
import { filesOfFrame } from './archive/frames';
import { paintingName } from './archive/paintings';
import { type Shoot, type ShootView, frameName, takenAt, viewsOf } from './archive/shoot';
import { SHOOTS } from './archive/shoots';

const HERE = path.dirname(fileURLToPath(import.meta.url));
const CHROMIUM = process.env.CHROMIUM ?? '/usr/bin/chromium';

const pictureFile = (shoot: Shoot, name: string) => path.join(HERE, 'pictures', shoot.drive, name);

async function encodeHeic(shoot: Shoot, view: ShootView, frame: number): Promise<void> {
  const painted = pictureFile(shoot, `${frameName(shoot, frame)}.jpg`);
  if (!existsSync(painted)) return; // encoded already
  const [jpeg] = await filesOfFrame({ ...shoot, format: 'jpeg' }, view, frame, readFileSync(painted));
  const folder = mkdtempSync(path.join(tmpdir(), 'wembo-heic-'));
  const source = path.join(folder, 'x.jpg');
  writeFileSync(source, jpeg!.bytes);
  const target = pictureFile(shoot, paintingName(shoot, frame));
  execFileSync('heif-enc', ['-q', '45', '-o', target, source], { stdio: 'inherit' });
  rmSync(folder, { recursive: true });
  rmSync(painted);
}

const [WIDTH, HEIGHT, PER_SECOND, FRAMES] = [960, 540, 25, 75];

const PAGE = `
import { BufferTarget, CanvasSource, Mp4OutputFormat, Output } from 'mediabunny';
window.encode = async () => {
  const picture = await createImageBitmap(await (await fetch('/picture')).blob());
  const canvas = new OffscreenCanvas(${WIDTH}, ${HEIGHT});
  const context = canvas.getContext('2d');
  const output = new Output({ format: new Mp4OutputFormat(), target: new BufferTarget() });
  const source = new CanvasSource(canvas, { codec: 'avc', bitrate: 450_000, keyFrameInterval: 1 });
  output.addVideoTrack(source, { frameRate: ${PER_SECOND} });
  await output.start();
  for (let frame = 0; frame < ${FRAMES}; frame++) {
    const share = frame / ${FRAMES - 1};
    const width = picture.width * (0.8 - 0.1 * share);
    const height = (width * ${HEIGHT}) / ${WIDTH};
    const [left, top] = [(picture.width - width) * share, (picture.height - height) / 2];
    context.drawImage(picture, left, top, width, height, 0, 0, ${WIDTH}, ${HEIGHT});
    await source.add(frame / ${PER_SECOND}, 1 / ${PER_SECOND});
  }
  await output.finalize();
  return [...new Uint8Array(output.target.buffer)];
};`;

async function encodeVideo(shoot: Shoot, view: ShootView, frame: number, picture: string): Promise<void> {
  const target = pictureFile(shoot, paintingName(shoot, frame));
  if (existsSync(target)) return;
  const built = await build({
    stdin: { contents: PAGE, resolveDir: process.cwd(), loader: 'ts' },
    bundle: true,
    write: false,
    format: 'esm',
  });
  const answers: Record<string, [string, string | Buffer]> = {
    '/': ['text/html', '<script type="module" src="/page.js"></script>'],
    '/page.js': ['text/javascript', built.outputFiles[0]?.text ?? ''],
    '/picture': ['image/jpeg', readFileSync(picture)],
  };
  const server = createServer(({ url = '/' }, response) => {
    const [type, body] = answers[url] ?? ['text/plain', ''];
    response.setHeader('content-type', type).end(body);
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const address = server.address();
  const browser = await chromium.launch({ executablePath: CHROMIUM, args: ['--no-sandbox'] });
  const page = await browser.newPage();
  await page.goto(`http://127.0.0.1:${typeof address === 'object' ? address?.port : 0}`);
  await page.waitForFunction(() => 'encode' in window);
  const bytes = Buffer.from(await page.evaluate(() => (window as unknown as { encode(): Promise<number[]> }).encode()));
  writeFileSync(target, dated(bytes, takenAt(shoot, view, frame)!.utc));
  await browser.close();
  server.close();
}

/** The movie header's time of creation and of change, in seconds of UTC since 1904 (ISO/IEC 14496-12, 8.2.2). */
function dated(video: Buffer, taken: Date): Buffer {
  const header = video.indexOf('mvhd', 0, 'latin1');
  for (const at of [header + 8, header + 12]) video.writeUInt32BE(taken.getTime() / 1000 + VIDEO_EPOCH_SECONDS, at);
  return video;
}

for (const shoot of SHOOTS)
  for (const view of viewsOf(shoot))
    for (const frame of view.frames) {
      if (shoot.format === 'heic') await encodeHeic(shoot, view, frame);
      // panned over what the same camera took next
      const next = pictureFile(shoot, `${frameName(shoot, frame + 1)}.jpg`);
      if (shoot.format === 'mp4') await encodeVideo(shoot, view, frame, next);
    }
