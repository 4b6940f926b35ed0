// Chromium as a person's browser: a profile of its own, leave to write files for the application's origin, and folders
// dropped on the window through the DevTools protocol, since no dialog can be answered without a screen.

import { execFileSync, spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { type BrowserContext, type Page, chromium } from 'playwright-core';
import { PATIENCE_MS } from './patience';

export const CHROMIUM = process.env.CHROMIUM ?? '/usr/bin/chromium';

export interface Browser {
  context: BrowserContext;
  page: Page;
  profile: string;
  close: () => Promise<void>;
}

export interface BrowserOptions {
  origin: string;
  /** An earlier profile, for opening the same browser again. */
  profile?: string;
  width?: number;
  height?: number;
  /** Whether the browser looks up files that are written, as it does by default. */
  lookup?: boolean;
}

/** Told of a page before it is closed, so that a failed test can say what the screen said. */
let beforeClosing: (page: Page) => Promise<void> = async () => undefined;
export const onClosing = (look: typeof beforeClosing): void => void (beforeClosing = look);

const ARGUMENTS = [
  '--no-sandbox',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

export async function openBrowser({
  origin,
  lookup = false,
  profile = newProfile(origin, lookup),
  width = 1280,
  height = 800,
}: BrowserOptions): Promise<Browser> {
  const context = await chromium.launchPersistentContext(profile, {
    executablePath: CHROMIUM,
    headless: true,
    args: ARGUMENTS,
    viewport: { width, height },
  });
  const page = context.pages()[0] ?? (await context.newPage());
  page.setDefaultTimeout(PATIENCE_MS);
  return {
    context,
    page,
    profile,
    close: () =>
      beforeClosing(page)
        .catch(() => undefined)
        .then(() => context.close())
        .catch(() => undefined),
  };
}

/**
 * Files may be written without a question. The browser's lookup of written files is off unless asked for: without a
 * network it waits for 5 seconds at about every sixth file (measured: 40 files three times in 28 s with it, 0.8 s
 * without).
 */
function newProfile(origin: string, lookup: boolean): string {
  const profile = mkdtempSync(path.join(tmpdir(), 'wembo-profile-'));
  mkdirSync(path.join(profile, 'Default'));
  const allow = { [`${origin},*`]: { setting: 1 } };
  writeFileSync(
    path.join(profile, 'Default', 'Preferences'),
    JSON.stringify({
      safebrowsing: { enabled: lookup },
      profile: {
        default_content_setting_values: { file_system_read_guard: 1, file_system_write_guard: 1 },
        content_settings: { exceptions: { file_system_read_guard: allow, file_system_write_guard: allow } },
      },
    }),
  );
  return profile;
}

/**
 * The same browser, closed in good order and opened again, as one is that was in use before. Chromium lists the sites
 * that store something, writes the list within half a minute of the first visit, and empties at its next start what is
 * not in it (seen in version 156): a new site whose browser is killed in that time has nothing left there, whatever was
 * written.
 */
export async function usedBefore({ close, profile }: Browser, origin: string): Promise<Browser> {
  await close();
  return openBrowser({ origin, profile });
}

/**
 * Finds the browser's processes now, so that they can be ended at once, as by a power cut: no page is asked, no file
 * closed.
 */
export function killerOf({ profile }: Browser): () => void {
  const processes = execFileSync('pgrep', ['-f', profile], { encoding: 'utf8' }).trim().split('\n');
  return () => void spawnSync('kill', ['-9', ...processes]);
}

export const removeProfile = (profile: string): void => rmSync(profile, { recursive: true, force: true });

/** Drops a folder of the disk on the window. */
export async function dropFolder({ context, page }: Pick<Browser, 'context' | 'page'>, folder: string): Promise<void> {
  const devtools = await context.newCDPSession(page);
  for (const type of ['dragEnter', 'dragOver', 'drop'] as const) {
    await devtools.send('Input.dispatchDragEvent', {
      type,
      x: 640,
      y: 400,
      data: { items: [], files: [folder], dragOperationsMask: 1 },
    });
  }
  await devtools.detach();
}
