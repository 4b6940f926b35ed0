// The host, answering in this process: its client's requests reach its handlers as a browser would send them.

import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { HostServer } from '@/server/host/host-server';
import { HostLocks } from '@/server/host/locks';
import { ServedFolders } from '@/server/host/served-folders';
import { KeptStores } from '@/server/store/kept-stores';
import { StoreDesk } from '@/server/store/store-desk';
import { HostClient } from '@/storage/host/host-client';
import { HostDrive } from '@/storage/host/host-drive';
import { HOST_ADDRESS } from '@/storage/host/protocol';

export const HOST = '127.0.0.1:9362';
export const TOKEN = 'a-token-of-this-test';

/** Of scrypt, so that no test waits for seconds. */
const QUICK_WORK_FACTOR = 10;

export const newFolder = (): string => mkdtempSync(path.join(tmpdir(), 'wembo-host-'));

export interface TestHost {
  server: HostServer;
  folders: ServedFolders;
  client: HostClient;
  /** Each request that was sent. */
  sent: Request[];
}

export function testHost(locks = new HostLocks()): TestHost {
  const folders = new ServedFolders(path.join(newFolder(), 'served-folders.json'));
  const stores = new StoreDesk(new KeptStores(path.join(newFolder(), 'stores.json')), QUICK_WORK_FACTOR);
  const server = new HostServer({ host: HOST, token: TOKEN }, folders, locks, null, stores);
  const sent: Request[] = [];
  const access = { origin: `http://${HOST}`, token: TOKEN, owner: 'browser' };
  const client = new HostClient(access, (request) => {
    sent.push(request);
    return answered(server, asSent(request));
  });
  return { server, folders, client, sent };
}

/** With what a browser adds. */
export const asSent = (request: Request, more: Record<string, string> = {}): Request => {
  const headers = new Headers(request.headers);
  for (const [name, value] of Object.entries({
    host: HOST,
    origin: `http://${HOST}`,
    'sec-fetch-site': 'same-origin',
    ...more,
  }))
    if (value === '') headers.delete(name);
    else headers.set(name, value);
  return new Request(request, { headers });
};

export function answered(server: HostServer, request: Request): Promise<Response> {
  const { pathname } = new URL(request.url);
  if (pathname === HOST_ADDRESS.ask) return server.ask(request);
  if (pathname === HOST_ADDRESS.bytes) return server.bytes(request);
  if (pathname === HOST_ADDRESS.part) return server.part(request);
  return server.media(request);
}

export function hostDrive(host = testHost(), folder = newFolder()): HostDrive {
  return new HostDrive(host.client, host.folders.add(folder).id, 'drive');
}
