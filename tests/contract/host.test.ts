// The host as others meet it: who may ask, for what, how much; and what is told of what went wrong.

import { mkdirSync, readdirSync, symlinkSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { beforeEach, describe, expect, it } from 'vitest';
import { DriveError } from '@/storage/drives/drive';
import { bytesOf, once, replaceFile } from '@/storage/drives/safe-write';
import { HostClient } from '@/storage/host/host-client';
import { HostDrive, type HostFile } from '@/storage/host/host-drive';
import { HOST_ADDRESS, TOKEN_HEADER } from '@/storage/host/protocol';
import { HOST, TOKEN, type TestHost, answered, asSent, newFolder, testHost } from './host';

let host: TestHost;
let folder: string;
let served: string;

beforeEach(() => {
  host = testHost();
  folder = newFolder();
  writeFileSync(path.join(folder, 'x.jpg'), 'one');
  served = host.folders.add(folder).id;
});

const ask = (body: unknown, headers: Record<string, string> = {}) =>
  answered(
    host.server,
    asSent(
      new Request(`http://${HOST}${HOST_ADDRESS.ask}`, {
        method: 'POST',
        body: typeof body === 'string' ? body : JSON.stringify(body),
        headers: { [TOKEN_HEADER]: TOKEN },
      }),
      headers,
    ),
  );
const one = (kind: string, order: unknown) => ({ asks: [{ id: 'a-1', kind, order }] });
const open = () => one('open', { folder: served, path: 'x.jpg' });
/** The one line of an answer. */
const line = async (response: Response): Promise<unknown> => JSON.parse((await response.text()).trim());

describe('who may ask', () => {
  it('is this server’s own page, with the token of this start', async () => {
    const response = await ask(open());
    expect(response.status).toBe(200);
    expect(await line(response)).toMatchObject({ id: 'a-1', answer: { size: 3 } });
  });

  it.each<[string, number, Record<string, string>]>([
    ['a page of another port', 403, { origin: 'http://127.0.0.1:4321', 'sec-fetch-site': 'same-site' }],
    ['the same where the browser tells no origin', 403, { origin: '', 'sec-fetch-site': 'same-site' }],
    ['a page of another site', 403, { origin: 'http://evil.test', 'sec-fetch-site': 'cross-site' }],
    ['a page that hides where it is from', 403, { origin: 'null', 'sec-fetch-site': 'cross-site' }],
    ['a form or a program that is no page', 403, { origin: '', 'sec-fetch-site': '' }],
    ['a name that was made to lead here', 421, { host: 'evil.test:9362', origin: 'http://evil.test:9362' }],
    ['our address with a dot behind it', 421, { host: '127.0.0.1.:9362' }],
    ['our address without its port', 421, { host: '127.0.0.1' }],
    ['no address at all', 421, { host: '' }],
    ['a page that has no token', 401, { [TOKEN_HEADER]: '' }],
    ['a page with the token of an earlier start', 401, { [TOKEN_HEADER]: 'a-token-of-last-week' }],
    ['a token that only begins right', 401, { [TOKEN_HEADER]: `${TOKEN}-and-more` }],
    ['a token in a cookie, which every port is sent', 401, { [TOKEN_HEADER]: '', cookie: `${TOKEN_HEADER}=${TOKEN}` }],
  ])('is not %s', async (_, status, headers) => {
    for (const address of [HOST_ADDRESS.ask, HOST_ADDRESS.bytes, HOST_ADDRESS.part]) {
      const request = new Request(`http://${HOST}${address}`, {
        method: 'POST',
        body: '{}',
        headers: { [TOKEN_HEADER]: TOKEN },
      });
      const response = await answered(host.server, asSent(request, headers));
      expect([address, response.status]).toEqual([address, status]);
      expect(await response.text()).not.toContain(folder);
    }
  });

  it('a film is played by a ticket, which is for one file, and for no other site', async () => {
    const drive = new HostDrive(host.client, served, 'drive');
    const address = await ((await drive.open('x.jpg')) as HostFile).address();
    const get = (headers: Record<string, string> = {}, at = address) =>
      answered(host.server, asSent(new Request(`http://${HOST}${at}`), { origin: '', ...headers }));
    expect([(await get()).status, await (await get()).text()]).toEqual([200, 'one']);
    const part = await get({ range: 'bytes=1-' });
    expect([part.status, part.headers.get('content-range'), await part.text()]).toEqual([206, 'bytes 1-2/3', 'ne']);
    expect((await get({ range: 'bytes=3-' })).status).toBe(416);
    expect((await get({ 'sec-fetch-site': 'same-site' })).status).toBe(403);
    expect((await get({}, `${HOST_ADDRESS.media}?ticket=guessed`)).status).toBe(401);
    writeFileSync(path.join(folder, 'x.jpg'), 'other');
    expect((await get()).status).toBe(404);
  });
});

describe('what may be asked', () => {
  it.each([
    ['a folder that is not served', { folder: '0123456789abcdef', path: 'x.jpg' }, 'no-permission'],
    ['a path out of the folder', { path: '../x.jpg' }, 'bad-name'],
    ['an absolute path', { path: '/etc/passwd' }, 'bad-name'],
    ['what lies behind a link', { path: 'link/passwd' }, 'not-found'],
  ])('is not %s: nothing is told of where anything lies', async (_, order, problem) => {
    symlinkSync('/etc', path.join(folder, 'link'));
    const text = await (await ask(one('open', { folder: served, ...order }))).text();
    expect(JSON.parse(text)).toMatchObject({ failure: { drive: { problem } } });
    expect(text).not.toMatch(new RegExp(`${folder}|ENOENT|ELOOP|node:|at .*\\.ts`));
  });

  it.each([
    ['no JSON', '{'],
    ['no questions', { asks: [] }],
    [
      'more questions than are taken',
      { asks: Array.from({ length: 201 }, (_, at) => ({ id: `a-${at}`, kind: 'folders', order: {} })) },
    ],
    ['a body without end', 'x'.repeat(49 * 1024 * 1024)],
  ])('%s is refused before anything is done', async (_, body) => {
    expect((await ask(body)).status).toBe(400);
  });

  it.each(['toString', '__proto__', 'delete', ''])(
    'a question “%s” that there is not is answered as failed',
    async (kind) => {
      expect(await line(await ask(one(kind, {})))).toMatchObject({ failure: { drive: { problem: 'failed' } } });
    },
  );

  it('an order of another shape fails by itself; those beside it are answered', async () => {
    const asks = [
      { id: 'a-1', kind: 'open', order: { folder: served, path: 7 } },
      { id: 'a-2', kind: 'open', order: { folder: served, path: 'x.jpg' } },
    ];
    const lines = (await (await ask({ asks })).text())
      .trim()
      .split('\n')
      .map((text) => JSON.parse(text) as object);
    expect(lines).toHaveLength(2);
    expect(lines).toContainEqual(expect.objectContaining({ id: 'a-1', failure: expect.anything() as unknown }));
    expect(lines).toContainEqual(expect.objectContaining({ id: 'a-2', answer: expect.anything() as unknown }));
  });

  it('a piece is put nowhere but into a part, and only where that ends', async () => {
    const piece = (head: Partial<Parameters<HostClient['sendPiece']>[0]>) =>
      host.client
        .sendPiece(
          { folder: served, path: 'y.jpg', part: '', at: 0, isLast: '0', modifiedMs: null, ...head },
          new TextEncoder().encode('part'),
        )
        .catch((error: unknown) => (error as DriveError).problem);
    expect(await piece({ part: 'x.jpg' })).toBe('bad-name');
    expect(await piece({ path: '../y.jpg' })).toBe('bad-name');
    const part = await piece({});
    expect(await piece({ part, at: 2 })).toBe('changed-meanwhile');
    expect(await piece({ part, at: 4, isLast: '1' })).toBe(part);
    expect(readdirSync(folder).sort()).toEqual(['x.jpg', part].sort());
  });
});

describe('a page that asks', () => {
  it('is told when the host cannot be reached, and when it does not know the page', async () => {
    const gone = new HostClient(host.client.access, () => Promise.reject(new TypeError('no connection')));
    await expect(gone.ask('folders', {})).rejects.toMatchObject({ problem: 'host-gone' });
    await expect(
      gone.bytes({ folder: served, path: 'x.jpg', size: 3, modifiedMs: 0, start: 0, end: 3 }),
    ).rejects.toMatchObject({ problem: 'host-gone' });
    const unknown = new HostClient({ ...host.client.access, token: 'another' }, (request) =>
      answered(host.server, asSent(request)),
    );
    await expect(unknown.ask('folders', {})).rejects.toMatchObject({ problem: 'host-closed' });
  });

  it('asks at the same time in few requests, and reads many heads in one', async () => {
    for (let at = 0; at < 60; at++) writeFileSync(path.join(folder, `${at}.jpg`), 'x'.repeat(20_000 + at));
    const drive = new HostDrive(host.client, served, 'drive');
    host.sent.length = 0;
    const files = await Promise.all(Array.from({ length: 60 }, (_, at) => drive.open(`${at}.jpg`)));
    const heads = await Promise.all(files.map((file) => bytesOf(file.slice(0, 100))));
    expect(heads.map(({ length }) => length)).toEqual(Array.from({ length: 60 }, () => 100));
    expect(host.sent.map(({ url }) => new URL(url).pathname)).toEqual([HOST_ADDRESS.ask, HOST_ADDRESS.bytes]);
  });

  it('has a short file with one question, and a sidecar replaced with one', async () => {
    const drive = new HostDrive(host.client, served, 'drive');
    host.sent.length = 0;
    expect(await bytesOf(await drive.open('x.jpg'))).toEqual(new TextEncoder().encode('one'));
    await replaceFile(drive, 'x.jpg', new TextEncoder().encode('two'), new TextEncoder().encode('one'));
    expect(host.sent).toHaveLength(2);
  });

  it('names two browsers on one folder one after the other', async () => {
    const other = new HostDrive(
      new HostClient({ ...host.client.access, owner: 'another browser' }, (request) =>
        answered(host.server, asSent(request)),
      ),
      served,
      'another id',
    );
    const said: string[] = [];
    const act = (drive: HostDrive, name: string) =>
      drive.alone(async () => {
        said.push(`${name} begins`);
        await new Promise((resolve) => setTimeout(resolve, 20));
        said.push(`${name} ends`);
      });
    await Promise.all([act(new HostDrive(host.client, served, 'drive'), 'one'), act(other, 'two')]);
    expect(said).toEqual(['one begins', 'one ends', 'two begins', 'two ends']);
  });

  it('a listing that is left is not gone on with', async () => {
    for (let at = 0; at < 300; at++) {
      mkdirSync(path.join(folder, `${at}`));
      writeFileSync(path.join(folder, `${at}/x.jpg`), 'x');
    }
    const stop = new AbortController();
    const drive = new HostDrive(host.client, served, 'drive');
    const listed = async () => {
      let seen = 0;
      for await (const _ of drive.list({ signal: stop.signal })) if ((seen += 1) === 5) stop.abort(new Error('enough'));
      return seen;
    };
    await expect(listed()).rejects.toThrow('enough');
  });
});

describe('folders that are served', () => {
  it('are remembered, with every link in them followed, and no others', () => {
    const link = path.join(newFolder(), 'link');
    symlinkSync(folder, link);
    expect(host.folders.add(link).path).toBe(host.folders.add(folder).path);
    expect(host.folders.all()).toHaveLength(1);
    expect(() => host.folders.add(path.join(folder, 'x.jpg'))).toThrow('not-found');
    expect(() => host.folders.add('relative')).toThrow('bad-name');
    host.folders.remove(served);
    expect(() => host.folders.rootOf(served)).toThrow('no-permission');
  });

  it('say in which drives they lie, by their marks', () => {
    mkdirSync(path.join(folder, '_wembo'));
    writeFileSync(
      path.join(folder, '_wembo/drive.json'),
      JSON.stringify({ format: 'wembo-drive', version: 1, id: 'drive-0001', name: 'x', createdAt: 1 }),
    );
    mkdirSync(path.join(folder, 'a/b'), { recursive: true });
    expect(host.folders.add(path.join(folder, 'a/b')).above).toEqual([{ id: 'drive-0001', path: 'a/b' }]);
  });
});

describe('who gives names on a drive', () => {
  it('is not held up by what waits until he is done, however much that is', async () => {
    const drive = new HostDrive(host.client, served, 'drive');
    const text = (words: string) => new TextEncoder().encode(words);
    const waiting: Promise<void>[] = [];
    await drive.alone(async () => {
      for (let at = 0; at < 8; at++) {
        waiting.push(replaceFile(drive, `${at}.xmp`, text('words'), null));
        await new Promise((resolve) => setTimeout(resolve, 20)); // in a request of its own
      }
      const part = await drive.createPart('y.jpg', once(text('two')));
      await part.finish('y.jpg', 'free'); // its lease runs out otherwise, and it is refused
    });
    await Promise.all(waiting);
    expect(readdirSync(folder).sort()).toEqual([
      ...Array.from({ length: 8 }, (_, at) => `${at}.xmp`),
      'x.jpg',
      'y.jpg',
    ]);
  });
});
