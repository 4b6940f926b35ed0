// Each way a folder comes to Wembo: what holds for one holds for the other.

import type { Page } from 'playwright-core';
import { inject } from 'vitest';
import { type Browser, dropFolder } from './browser';
import { chooseServed, nameAndCatalog, openApplication } from './person';

interface Way {
  open: (page: Page) => Promise<void>;
  /** As far as the question what it is called. */
  offer: (browser: Browser, folder: string) => Promise<void>;
}

export const WAYS: Record<string, Way> = {
  'dropped on the page': { open: (page) => openApplication(page, inject('origin')), offer: dropFolder },
  'served by this machine': {
    open: (page) => openApplication(page, inject('origin'), inject('key')),
    offer: ({ page }, folder) => chooseServed(page, folder),
  },
};

/** Until it is cataloged. */
export async function connectBy(way: Way, browser: Browser, folder: string, name: string): Promise<void> {
  await way.offer(browser, folder);
  await nameAndCatalog(browser.page, name);
}
