// What the screen said when a test failed: without it a failure on another machine cannot be understood.

import { beforeEach } from 'vitest';
import { onClosing } from './browser';

beforeEach(({ task }) => {
  onClosing(async (page) => {
    if (task.result?.state !== 'fail') return;
    const text = await page.locator('body').innerText({ timeout: 5000 });
    console.error(`The screen at the end of “${task.name}” (${page.url()}):\n${text}`);
  });
});
