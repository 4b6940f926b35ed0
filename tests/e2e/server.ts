// The built application, started once for all interface tests, with the demo archive.

import type { ChildProcess } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { TestProject } from 'vitest/node';
import { startServer } from './start-server';

const KEY = randomUUID();
const PORT = Number(process.env.TEST_PORT ?? 3977);

declare module 'vitest' {
  interface ProvidedContext {
    origin: string;
    /** Of the link that the server prints at its start. */
    key: string;
  }
}

let server: ChildProcess | null = null;
const state = mkdtempSync(path.join(tmpdir(), 'wembo-state-'));

export async function setup(project: TestProject): Promise<void> {
  server = await startServer(PORT, { WEMBO_DEMO: '1', WEMBO_TOKEN: KEY, WEMBO_STATE: state });
  project.provide('origin', `http://127.0.0.1:${PORT}`);
  project.provide('key', KEY);
}

export async function teardown(): Promise<void> {
  server?.kill('SIGTERM');
  rmSync(state, { recursive: true, force: true });
}
