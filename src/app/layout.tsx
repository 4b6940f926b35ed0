import '@fontsource/ibm-plex-sans/400.css';
import '@fontsource/ibm-plex-sans/500.css';
import '@fontsource/ibm-plex-sans/600.css';
import '@fontsource/ibm-plex-mono/400.css';
import '@fontsource/ibm-plex-mono/500.css';
import './globals.css';
import { AntdRegistry } from '@ant-design/nextjs-registry';
import type { Metadata } from 'next';
import { connection } from 'next/server';
import { type ReactNode, Suspense } from 'react';
import { ApplicationFrame } from '@/features/frame/frame';

export const metadata: Metadata = {
  title: 'Wembo',
  description: 'A reading room for a lifetime of photographs.',
  icons: { icon: '/icon.svg' },
};

export default async function Layout({ children }: { children: ReactNode }) {
  await connection(); // drawn for each request: the policy of each has its own nonce (proxy.ts)
  return (
    <html lang="en" suppressHydrationWarning>
      <body>
        <AntdRegistry>
          <Suspense>
            <ApplicationFrame>{children}</ApplicationFrame>
          </Suspense>
        </AntdRegistry>
      </body>
    </html>
  );
}
