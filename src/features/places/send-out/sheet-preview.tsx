'use client';

// One page of a sheet, laid out by the same rules as the PDF and drawn from the same description.

import { Button } from 'antd';
import { useEffect, useState } from 'react';
import {
  type MeasureText,
  type SheetPage,
  type SheetPhoto,
  type SheetSettings,
  layoutPage,
  perPage,
} from '@/core/send-out/sheet';
import { count } from '@/ui/format';
import styles from './send-out.module.css';
import { sheetSources } from './sheet-sources';

interface Props {
  settings: SheetSettings;
  photoIds: readonly string[];
  pages: number;
}

interface Shown {
  page: SheetPage;
  urls: (string | null)[];
}

export function SheetPreview({ settings, photoIds, pages }: Props) {
  const [asked, setAsked] = useState(0);
  const at = Math.min(asked, pages - 1);
  const shown = usePage(settings, photoIds, at, pages);
  return (
    <>
      <p className={styles.step}>
        <Button size="small" disabled={at === 0} onClick={() => setAsked(at - 1)} aria-label="Page before">
          ‹
        </Button>
        <span>
          page {count(at + 1)} of {count(pages)}
        </span>
        <Button size="small" disabled={at === pages - 1} onClick={() => setAsked(at + 1)} aria-label="Next page">
          ›
        </Button>
      </p>
      <div className={styles.sheet}>{shown && <Page shown={shown} label={`Page ${at + 1} of ${pages}`} />}</div>
    </>
  );
}

/** What is measured on a canvas in the face that is shown. */
const measured: MeasureText = (text, size, isBold) => {
  context ??= document.createElement('canvas').getContext('2d');
  if (!context) return 0;
  context.font = `${isBold ? 600 : 400} ${size * SCALE}px "IBM Plex Sans"`;
  return context.measureText(text).width / SCALE;
};
let context: CanvasRenderingContext2D | null = null;
/** Small letters are measured large: browsers round them to pixels. */
const SCALE = 10;

function usePage(settings: SheetSettings, photoIds: readonly string[], at: number, pages: number): Shown | null {
  const [shown, setShown] = useState<Shown | null>(null);
  const text = JSON.stringify(settings);
  useEffect(() => {
    let isCurrent = true;
    const urls: (string | null)[] = [];
    const own = photoIds.slice(at * perPage(settings), (at + 1) * perPage(settings));
    const lay = async () => {
      await document.fonts.ready;
      const { sources } = await sheetSources(own, settings, null, () => undefined);
      const photos = await Promise.all(
        sources.map(async ({ picture, ...photo }): Promise<SheetPhoto> => ({ ...photo, ...(await sizeOf(picture)) })),
      );
      if (!isCurrent) return;
      urls.push(...sources.map(({ picture }) => picture && URL.createObjectURL(picture)));
      setShown({ page: layoutPage(settings, at, pages, photos, measured), urls });
    };
    lay().catch((error: unknown) => console.error(error));
    return () => {
      isCurrent = false;
      for (const url of urls) if (url) URL.revokeObjectURL(url);
    };
    // the text says all of the settings
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [text, photoIds, at, pages]);
  return shown;
}

async function sizeOf(picture: Blob | null): Promise<{ width: number | null; height: number | null }> {
  if (!picture) return { width: null, height: null };
  const bitmap = await createImageBitmap(picture);
  const { width, height } = bitmap;
  bitmap.close();
  return { width, height };
}

function Page({ shown: { page, urls }, label }: { shown: Shown; label: string }) {
  return (
    <svg
      viewBox={`0 0 ${page.width} ${page.height}`}
      style={{ aspectRatio: `${page.width} / ${page.height}` }}
      role="img"
      aria-label={label}
    >
      {page.items.map((item, index) => {
        switch (item.kind) {
          case 'picture': {
            const url = urls[item.photo];
            return url ? <image key={index} href={url} {...boxOf(item)} /> : null;
          }
          case 'bar':
            return <rect key={index} fill={item.color} {...boxOf(item)} />;
          case 'text':
            return (
              <text
                key={index}
                x={item.x}
                y={item.y}
                fontSize={item.size}
                fontWeight={item.isBold ? 600 : 400}
                fontFamily="IBM Plex Sans"
                fill="#1e2427"
              >
                {item.text}
              </text>
            );
        }
      })}
    </svg>
  );
}

const boxOf = ({ x, y, width, height }: { x: number; y: number; width: number; height: number }) => ({
  x,
  y,
  width,
  height,
});
