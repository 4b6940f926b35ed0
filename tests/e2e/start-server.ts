import { type ChildProcess, spawn } from 'node:child_process';
import { PATIENCE_MS } from './patience';

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
