import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  test: {
    // as many as our smallest machine has cores; by default one core would stay idle there
    maxWorkers: 2,
    projects: [
      {
        extends: true,
        test: {
          name: 'unit',
          testTimeout: 60_000,
          include: ['src/**/*.test.ts', 'tests/contract/**/*.test.ts', 'tests/storm/**/*.test.ts'],
        },
      },
      { extends: true, test: { name: 'reference', include: ['tests/reference/**/*.test.ts'], testTimeout: 60_000 } },
      {
        extends: true,
        test: {
          name: 'e2e',
          include: ['tests/e2e/**/*.test.ts'],
          globalSetup: ['tests/e2e/server.ts'],
          setupFiles: ['tests/e2e/last-look.ts'],
          testTimeout: 180_000,
          hookTimeout: 120_000,
          // after the others, two browsers at a time
          sequence: { groupOrder: 1 },
        },
      },
    ],
  },
});
