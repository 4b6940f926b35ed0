// What axe finds to complain about on a page.

import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Page } from 'playwright-core';

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

export async function complaints(page: Page): Promise<string[]> {
  await page.evaluate(axe);
  return page.evaluate(async () => {
    const { violations } = await (
      window as unknown as {
        axe: {
          run: (
            context: unknown,
            options: unknown,
          ) => Promise<{ violations: { id: string; nodes: { html: string }[] }[] }>;
        };
      }
    ).axe.run(document, {
      runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'],
      resultTypes: ['violations'], // what is in order is not described
    });
    return violations.map(
      ({ id, nodes }) =>
        `${id}: ${nodes
          .map(({ html }) => html.slice(0, 160))
          .slice(0, 3)
          .join(' | ')}`,
    );
  });
}
