import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';
import { PATIENCE_MS } from './tests/e2e/patience.ts';

export default defineConfig({
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  test: {
    // as many as our smallest machine has cores; by default one core would stay idle there
    maxWorkers: 2,
    testTimeout: PATIENCE_MS,
    hookTimeout: 2 * PATIENCE_MS,
    projects: [
      {
        extends: true,
        test: {
          name: 'unit',
          include: ['src/**/*.test.ts', 'tests/contract/**/*.test.ts', 'tests/storm/**/*.test.ts'],
        },
      },
      {
        extends: true,
        test: { name: 'reference', include: ['tests/reference/**/*.test.ts'] },
      },
      {
        extends: true,
        // the workers that see pictures, in Chromium
        test: { name: 'pictures', include: ['tests/pictures/**/*.test.ts'] },
      },
      {
        extends: true,
        test: {
          name: 'e2e',
          include: ['tests/e2e/**/*.test.ts'],
          globalSetup: ['tests/e2e/server.ts'],
          setupFiles: ['tests/e2e/last-look.ts'],
          testTimeout: 3 * PATIENCE_MS,
          expect: { poll: { timeout: PATIENCE_MS } },
          // after the others, two browsers at a time
          sequence: { groupOrder: 1 },
        },
      },
    ],
  },
});
