'use client';

// The sheet with the key of a sealed store, to be printed.

import { Button } from 'antd';
import { useRef } from 'react';
import { keySheetText } from '@/messages/store';
import { dayWords } from '@/ui/format';
import styles from './connecting.module.css';

interface Props {
  endpoint: string;
  bucket: string;
  prefix: string;
  identity: string;
  hasPassphrase: boolean;
}

/** In a frame of its own, so that nothing else of the page is printed with it. */
export function KeySheetView(props: Props) {
  const frame = useRef<HTMLIFrameElement>(null);
  const text = keySheetText({ ...props, madeOn: dayWords(Date.now()) });
  const html = `<!doctype html><html lang="en"><title>Key sheet</title><style>pre { font: 11px/1.5 monospace } @media print { pre { font-size: 11pt } }</style><pre>${escapedHtml(text)}</pre></html>`;
  return (
    <section aria-label="Key sheet" className={styles.sheet}>
      <iframe ref={frame} title="The sheet with the key" srcDoc={html} sandbox="allow-same-origin allow-modals" />
      <Button onClick={() => frame.current?.contentWindow?.print()}>Print the sheet</Button>
    </section>
  );
}

const escapedHtml = (text: string): string => text.replace(/[&<>"]/g, (letter) => `&#${letter.charCodeAt(0)};`);
