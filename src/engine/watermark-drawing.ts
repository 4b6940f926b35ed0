// A watermark as pixels: the sign and the words, white with a dark edge so that they are seen on snow and on tar.

import { fillInWhatIsSaid } from '@/core/describe/fill-ins';
import { overlayCorner } from '@/core/send-out/watermark';
import type { Overlay } from '@/storage/file-tasks/deliver';
import type { DrawOverlay } from '@/storage/jobs/delivering';

const FONT = '500 100px "IBM Plex Sans"';
/** Of the height of the words. */
const EDGE = 0.06;
const GAP = 0.3;

export const drawWatermark: DrawOverlay = async (watermark, facts, picture) => {
  const words = fillInWhatIsSaid(watermark.text, facts);
  const sign = watermark.picture ? await signOf(watermark.picture) : null;
  if (words === '' && !sign) return null;
  const height = Math.max(8, Math.round(watermark.size * Math.min(picture.width, picture.height)));
  const signWidth = sign ? Math.round((sign.width * height) / sign.height) : 0;
  const gap = sign && words !== '' ? Math.round(GAP * height) : 0;
  const wordsWidth = words === '' ? 0 : Math.ceil(await widthOf(words, height));
  const whole = Math.min(picture.width, signWidth + gap + wordsWidth);
  const canvas = new OffscreenCanvas(Math.max(1, whole), Math.min(height, picture.height));
  const context = canvas.getContext('2d', { willReadFrequently: true });
  if (!context) throw new Error('no drawing context');
  context.globalAlpha = watermark.opacity;
  if (sign) context.drawImage(sign, 0, 0, signWidth, height);
  sign?.close();
  if (words !== '') drawWords(context, words, signWidth + gap, height);
  const pixels = context.getImageData(0, 0, canvas.width, canvas.height);
  return { pixels, ...overlayCorner(watermark.place, canvas, picture) } satisfies Overlay;
};

function drawWords(context: OffscreenCanvasRenderingContext2D, words: string, left: number, height: number): void {
  context.font = fontOf(height);
  context.textBaseline = 'middle';
  context.lineJoin = 'round';
  context.lineWidth = Math.max(1, height * EDGE);
  context.strokeStyle = 'rgb(0 0 0 / 45%)';
  context.fillStyle = '#fff';
  const at = [left + height * EDGE, height / 2] as const;
  context.strokeText(words, ...at);
  context.fillText(words, ...at);
}

/** Letters take seven tenths of their line. */
const fontOf = (height: number): string => FONT.replace('100px', `${Math.round(height * 0.7)}px`);

async function widthOf(words: string, height: number): Promise<number> {
  await document.fonts.load(fontOf(height), words);
  const context = new OffscreenCanvas(1, 1).getContext('2d');
  if (!context) throw new Error('no drawing context');
  context.font = fontOf(height);
  return context.measureText(words).width + 2 * height * EDGE;
}

const signOf = async (address: string): Promise<ImageBitmap> => createImageBitmap(await (await fetch(address)).blob());
