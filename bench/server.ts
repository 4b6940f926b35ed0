// The built application, started for a measurement.

import { spawn } from 'node:child_process';
import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';

const PORT = 3987;
export const BENCH_KEY = 'the-key-of-a-measurement';
export const ORIGIN = `http://127.0.0.1:${PORT}`;

/** Runs `work` while the application answers at `ORIGIN`. Rejects when it does not start: was it built? */
export async function withApplication<T>(work: () => Promise<T>): Promise<T> {
  const server = spawn('node_modules/.bin/next', ['start', '--hostname', '127.0.0.1', '--port', String(PORT)], {
    stdio: 'ignore',
    env: {
      ...process.env,
      WEMBO_HOST: `127.0.0.1:${PORT}`,
      WEMBO_TOKEN: BENCH_KEY,
      WEMBO_STATE: mkdtempSync(path.join(tmpdir(), 'wembo-bench-state-')),
    },
  });
  try {
    for (
      let tries = 0;
      !(await fetch(ORIGIN).then(
        ({ ok }) => ok,
        () => false,
      ));
      tries++
    ) {
      if (tries > 100) throw new Error('the application did not start; was it built?');
      await new Promise((resolve) => setTimeout(resolve, 200));
    }
    return await work();
  } finally {
    server.kill('SIGTERM');
  }
}
