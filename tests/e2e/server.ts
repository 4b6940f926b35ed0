// The built application, started once for all interface tests, with the demo archive.

import type { ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { TestProject } from 'vitest/node';
import { StoreStandIn } from '../../src/demo/store/stand-in';
import { startServer } from './start-server';
import { STORE_KEYS } from './store-keys';

const KEY = randomUUID();
const PORT = Number(process.env.TEST_PORT ?? 3977);

declare module 'vitest' {
  interface ProvidedContext {
    origin: string;
    /** Of the link that the server prints at its start. */
    key: string;
    /** Where the store that stands in for one elsewhere is reached, with `STORE_KEYS`. */
    store: string;
  }
}

let server: ChildProcess | null = null;
const store = new StoreStandIn(mkdtempSync(path.join(tmpdir(), 'wembo-store-')), STORE_KEYS);
const state = mkdtempSync(path.join(tmpdir(), 'wembo-state-'));

export async function setup(project: TestProject): Promise<void> {
  const endpoint = await store.start();
  server = await startServer(PORT, {
    WEMBO_DEMO: '1',
    WEMBO_TOKEN: KEY,
    WEMBO_STATE: state,
    WEMBO_STORE: JSON.stringify({ endpoint, region: 'faroe-1', prefix: 'survey', ...STORE_KEYS }),
  });
  project.provide('store', endpoint);
  project.provide('origin', `http://127.0.0.1:${PORT}`);
  project.provide('key', KEY);
}

export async function teardown(): Promise<void> {
  server?.kill('SIGTERM');
  await store.stop();
  rmSync(state, { recursive: true, force: true });
}
