// The built application, started once for all interface tests, with the demo archive.

import { type ChildProcess, spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { TestProject } from 'vitest/node';
import { PATIENCE_MS } from './patience';

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

/** The application on a port, when it answers. */
export async function startServer(port: number, env: Record<string, string>): Promise<ChildProcess> {
  const started = spawn('node_modules/.bin/next', ['start', '--hostname', '127.0.0.1', '--port', String(port)], {
    stdio: 'ignore',
    env: { ...process.env, WEMBO_HOST: `127.0.0.1:${port}`, NEXT_TELEMETRY_DISABLED: '1', ...env },
  });
  const until = Date.now() + PATIENCE_MS;
  for (;;) {
    const answers = await fetch(`http://127.0.0.1:${port}`).then(
      (response) => response.ok,
      () => false,
    );
    if (answers) return started;
    if (Date.now() > until || started.exitCode !== null)
      throw new Error('the application did not start; was it built? (npm test builds it)');
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
}

export async function setup(project: TestProject): Promise<void> {
  server = await startServer(PORT, { WEMBO_DEMO: '1', WEMBO_TOKEN: KEY, WEMBO_STATE: state });
  project.provide('origin', `http://127.0.0.1:${PORT}`);
  project.provide('key', KEY);
}

export async function teardown(): Promise<void> {
  server?.kill('SIGTERM');
  rmSync(state, { recursive: true, force: true });
}
