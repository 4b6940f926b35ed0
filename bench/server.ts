// The built application, started for a measurement.

import { spawn } from 'node:child_process';

const PORT = 3987;
export const ORIGIN = `http://127.0.0.1:${PORT}`;

/** Runs `work` while the application answers at `ORIGIN`. Rejects when it does not start: was it built? */
export async function withApplication<T>(work: () => Promise<T>): Promise<T> {
  const server = spawn('node_modules/.bin/next', ['start', '--hostname', '127.0.0.1', '--port', String(PORT)], {
    stdio: 'ignore',
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
