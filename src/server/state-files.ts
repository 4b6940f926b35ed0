// What the server keeps of its own accord: a few files in one folder of the person's, by the XDG Base Directory
// Specification 0.8; `WEMBO_STATE` names another folder.

import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';

export const statePlace = (name: string, env: NodeJS.ProcessEnv = process.env): string =>
  path.join(env.WEMBO_STATE ?? path.join(env.XDG_CONFIG_HOME ?? path.join(os.homedir(), '.config'), 'wembo'), name);

/** Written beside and then put in place; the person's own account alone reads it. */
export function writeStateFile(place: string, value: unknown): void {
  fs.mkdirSync(path.dirname(place), { recursive: true, mode: 0o700 });
  fs.writeFileSync(`${place}.new`, `${JSON.stringify(value, null, 1)}\n`, { mode: 0o600 });
  fs.renameSync(`${place}.new`, place);
}
