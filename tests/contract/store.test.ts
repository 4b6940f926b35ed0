// A store elsewhere when things go wrong: it is slow, says nothing, loses, bends, or has another object by now.

import { createHash } from 'node:crypto';
import { readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import type { Trouble } from '@/demo/store/stand-in';
import { KeptStores } from '@/server/store/kept-stores';
import { PART_BYTES } from '@/server/store/store';
import { DriveError, type Drive } from '@/storage/drives/drive';
import { bytesOf, once, readIfThere, replaceFile } from '@/storage/drives/safe-write';
import { newSha256 } from '@/storage/drives/sha256';
import { copyVerified } from '@/storage/file-tasks/verified-copy';
import { HostDrive } from '@/storage/host/host-drive';
import { newFolder, testHost } from './host';
import { STORE_KEYS, type TestStore, storeDrive, testStore } from './store';

const problem = (error: unknown) => (error instanceof DriveError ? error.problem : String(error));
const sha256 = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex');
/** Bytes that repeat nowhere near. */
function noise(length: number): Uint8Array<ArrayBuffer> {
  const bytes = new Uint8Array(length);
  for (let at = 0, state = 1; at < length; at++) {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    bytes[at] = state >>> 24;
  }
  return bytes;
}
const copied = async (drive: Drive, name: string, bytes: Uint8Array<ArrayBuffer>) =>
  (
    await copyVerified(new Blob([bytes]), name, [{ drive, path: name }], {
      newDigest: newSha256,
      onBytes: () => undefined,
    })
  ).placed[0];
const put = async (drive: Drive, name: string, bytes: Uint8Array<ArrayBuffer>) =>
  (await drive.createPart(name, once(bytes))).finish(name, 'free');
/** Meets what fits once, so many times. */
function meets({ standIn }: TestStore, trouble: Trouble, method: string, times = 1, fits = ''): () => number {
  let left = times;
  standIn.trouble = (asked) =>
    asked.method === method && `${asked.key}?${asked.query}`.includes(fits) && left-- > 0 ? trouble : null;
  return () => times - Math.max(0, left);
}

describe('a large file on its way into a store', () => {
  const bytes = noise(3 * PART_BYTES + 12_345);

  it('goes on where it broke off: parts that are there are not sent again', async () => {
    const store = await testStore();
    const drive = storeDrive(store);
    // three attempts a part: the third part never arrives
    const met = meets(store, 'no-answer', 'PUT', 3, 'partNumber=3');
    expect(await put(drive, 'a/film.mp4', bytes).catch(problem)).toBe('store-silent');
    expect(met()).toBe(3);
    expect(store.standIn.contents).toEqual([]);
    const before = store.standIn.asked.length;
    await put(drive, 'a/film.mp4', bytes);
    const sent = store.standIn.asked.slice(before).filter((line) => /^PUT .*wembo-part.*partNumber/.test(line));
    expect(sent.map((line) => /partNumber=(\d)/.exec(line)?.[1])).toEqual(['3', '4']);
    expect(store.standIn.contents).toEqual(['photos/a/film.mp4']);
    expect(sha256(store.standIn.bytesOf('photos/a/film.mp4'))).toBe(sha256(bytes));
  });

  it('that is another by now is sent as it is now', async () => {
    const store = await testStore();
    const drive = storeDrive(store);
    meets(store, 'no-answer', 'PUT', 3, 'partNumber=3');
    await put(drive, 'film.mp4', bytes).catch(problem);
    const other = bytes.slice();
    other[5] = (other[5] ?? 0) ^ 1;
    await put(drive, 'film.mp4', other);
    expect(sha256(store.standIn.bytesOf('photos/film.mp4'))).toBe(sha256(other));
  });

  it('comes in pieces from a page, sealed or not, and is what it was', async () => {
    for (const how of ['none', 'new'] as const) {
      const host = testHost();
      const { identity: _, sealsNames: _names, ...store } = (await testStore()).place;
      const sealing = how === 'new' ? { how, passphrase: null, sealsNames: true } : { how };
      const { served } = await host.client.ask('serveStore', { store, sealing });
      const drive = new HostDrive(host.client, served.id, 'drive');
      expect(await copied(drive, 'film.mp4', bytes)).toMatchObject({ state: 'placed', outcome: 'copied' });
      const file = await drive.open('film.mp4');
      expect([file.size, sha256(await bytesOf(file))]).toEqual([bytes.length, sha256(bytes)]);
      const part = file.slice(PART_BYTES - 7, PART_BYTES + 70_000);
      expect(await bytesOf(part)).toEqual(bytes.slice(PART_BYTES - 7, PART_BYTES + 70_000));
    }
  });
});

describe('a store that does not do what it should', () => {
  it.each(['no-answer', 'busy'] as const)('%s once: it is asked again', async (trouble) => {
    const store = await testStore();
    const met = meets(store, trouble, 'PUT');
    expect(await copied(storeDrive(store), 'x.jpg', noise(100))).toMatchObject({ outcome: 'copied' });
    expect(met()).toBe(1);
  });

  it.each([
    ['never answers', 'no-answer', 'GET', 'store-silent'],
    ['gives other bytes back', 'other-bytes', 'GET', 'read-back-differs'],
    ['breaks off in the middle', 'cut-short', 'GET', 'store-silent'],
    ['says yes and keeps nothing', 'forgets', 'PUT', 'not-found'],
  ] as const)('that %s: nothing counts as copied, and no name is given', async (_, trouble, method, told) => {
    const store = await testStore();
    const met = meets(store, trouble, method, 100);
    const placed = await copied(storeDrive(store), 'x.jpg', noise(100)).catch((error: unknown) => ({
      state: 'failed',
      problem: problem(error),
    }));
    expect(placed).toMatchObject({ state: 'failed', problem: told });
    expect(met()).toBeGreaterThan(0);
    expect(store.standIn.contents.filter((key) => key.endsWith('/x.jpg'))).toEqual([]);
  });

  it.each([
    ['a wrong secret', { secretAccessKey: 'another' }, 'store-refuses'],
    ['a key that it does not know', { accessKeyId: 'SOMEBODY' }, 'store-refuses'],
    ['a bucket that is not there', { bucket: 'other-bucket' }, 'no-bucket'],
    ['an address where nobody is', { endpoint: 'http://127.0.0.1:9' }, 'store-silent'],
  ])('%s is told by its name', async (_, wrong, told) => {
    const { place } = await testStore();
    const { identity: __, sealsNames: _names, ...address } = { ...place, ...wrong };
    expect(await testHost().client.ask('lookAtStore', { store: address }).catch(problem)).toBe(told);
  });

  it('has another object by now: what was told of the old one is not read as the new one', async () => {
    const store = await testStore();
    const drive = storeDrive(store);
    await put(drive, 'x.jpg', noise(1000));
    const file = await drive.open('x.jpg');
    store.standIn.put('photos/x.jpg', Buffer.from(noise(1001).subarray(1)));
    expect(await bytesOf(file.slice(0, 10)).catch(problem)).toBe('changed-meanwhile');
    // told of the path, and not of a key
    expect(await drive.open('y.jpg').catch((error: DriveError) => error.path)).toBe('y.jpg');
  });

  it('whose ETags are no MD5 has what it copied read in full', async () => {
    const store = await testStore();
    const drive = storeDrive(store);
    const plain = store.standIn.put.bind(store.standIn);
    let made = 0;
    store.standIn.put = (key, bytes) => plain(key, bytes, `sealed-by-the-store-${(made += 1)}`);
    await put(drive, 'x.jpg', noise(1000));
    expect(await readIfThere(drive, 'x.jpg')).toEqual(noise(1000));
    store.standIn.put = (key, bytes) =>
      plain(key, key.endsWith('/y.jpg') ? Buffer.from(noise(1001).subarray(1)) : bytes, `other-${(made += 1)}`);
    expect(await put(drive, 'y.jpg', noise(1000)).catch(problem)).toBe('read-back-differs');
  });

  it('bytes that rot there are told by their digest, sealed by their tag', async () => {
    const store = await testStore();
    await put(storeDrive(store), 'x.jpg', noise(1000));
    store.standIn.rot('photos/x.jpg', 500);
    expect(sha256((await readIfThere(storeDrive(store), 'x.jpg')) ?? new Uint8Array())).not.toBe(sha256(noise(1000)));
  });
});

describe('a name that is given anew', () => {
  it('interrupted between copy and removal is gone on with; what only has the name is left alone', async () => {
    const store = await testStore();
    const drive = storeDrive(store);
    await put(drive, 'a.jpg', noise(1000));
    const met = meets(store, 'no-answer', 'DELETE', 3, 'photos/a.jpg');
    expect(await drive.move('a.jpg', 'b.jpg').catch(problem)).toBe('store-silent');
    expect(met()).toBe(3);
    expect(store.standIn.contents).toEqual(['photos/a.jpg', 'photos/b.jpg']);
    await drive.move('a.jpg', 'b.jpg');
    expect(store.standIn.contents).toEqual(['photos/b.jpg']);
    await put(drive, 'c.jpg', noise(1001).subarray(1));
    expect(await drive.move('c.jpg', 'b.jpg').catch(problem)).toBe('exists');
    expect(await drive.move('b.jpg', 'b.jpg').catch(problem)).toBe('exists');
    expect(await readIfThere(drive, 'b.jpg')).toEqual(noise(1000));
    expect(await readIfThere(drive, 'c.jpg')).toEqual(noise(1001).subarray(1));
  });
});

describe('what else lies in a bucket', () => {
  it('is listed page by page; keys that no drive can have are told, and marks of folders are folders', async () => {
    const store = await testStore();
    const drive = storeDrive(store);
    for (let at = 0; at < 2100; at++) store.standIn.put(`photos/many/${at}.jpg`, Buffer.from('x'));
    for (const key of ['photos/a//b.jpg', 'photos/../c.jpg', 'photos/empty/', 'other/x.jpg', 'photos.jpg'])
      store.standIn.put(key, Buffer.from(''));
    for (const name of ['drive', 'kits', 'settings'])
      store.standIn.put(`photos/inner/_wembo/${name}.json`, Buffer.from('{}'));
    const [files, unlisted, folders, archives] = [[] as string[], [] as string[], [] as string[], [] as string[]];
    for await (const { path: file } of drive.list({
      onUnlisted: (place) => unlisted.push(place),
      onFolder: (place) => folders.push(place),
      onArchive: (place) => archives.push(place),
    }))
      files.push(file);
    expect([files.length, new Set(files).size]).toEqual([2100, 2100]);
    expect(archives).toEqual(['inner']);
    expect(unlisted).toEqual(['a//b.jpg']); // `..` is hidden, as all that begins with a dot
    expect(folders).toContain('empty');
  });
});

describe('a sealed store', () => {
  const sealed = async (passphrase: string | null) => {
    const host = testHost();
    const store = await testStore();
    const { identity: _, sealsNames: _names, ...address } = store.place;
    const { served, identity } = await host.client.ask('serveStore', {
      store: address,
      sealing: { how: 'new', passphrase, sealsNames: false },
    });
    const drive = new HostDrive(host.client, served.id, 'drive');
    await put(drive, '_wembo/drive.json', noise(300));
    await put(drive, 'Gjógv/áarbát.jpg', noise(70_000));
    return { store, address, identity: identity ?? '', drive, id: served.id, host };
  };

  it('is opened elsewhere by its passphrase, or the key from its sheet; by no other', async () => {
    const { address, identity, store } = await sealed('twelve herrings swim');
    for (const [secret, told] of [
      ['twelve herrings swim', null],
      [identity.toLowerCase(), null],
      ['twelve herrings sank', 'sealed'],
      [`AGE-SECRET-KEY-1${'Q'.repeat(58)}`, 'sealed'],
    ] as const) {
      const elsewhere = testHost();
      expect(await elsewhere.client.ask('lookAtStore', { store: address })).toEqual({
        holds: 'drive',
        sealed: 'by-passphrase',
      });
      const opened = await elsewhere.client
        .ask('serveStore', { store: address, sealing: { how: 'open', secret } })
        .catch(problem);
      if (told !== null) expect(opened).toBe(told);
      else {
        if (typeof opened === 'string') throw new Error(opened);
        const drive = new HostDrive(elsewhere.client, opened.served.id, 'again');
        expect(await readIfThere(drive, 'Gjógv/áarbát.jpg')).toEqual(noise(70_000));
      }
    }
    expect(store.standIn.contents).toEqual([
      'photos/Gjógv/áarbát.jpg.age',
      'photos/READ-ME.txt',
      'photos/_wembo/drive.json.age',
      'photos/wembo-key.age',
    ]);
    const told = store.standIn.contents.map((key) => store.standIn.bytesOf(key).toString('latin1')).join('\n');
    expect(told).not.toContain(identity);
  });

  it('without a passphrase its key lies nowhere in it; it is not set up a second time, and not unsealed', async () => {
    const { address, store, host } = await sealed(null);
    expect(store.standIn.contents).not.toContain('photos/wembo-key.age');
    expect(await host.client.ask('lookAtStore', { store: address })).toEqual({ holds: 'drive', sealed: 'by-key' });
    for (const [sealing, told] of [
      [{ how: 'new', passphrase: null, sealsNames: false }, 'exists'],
      [{ how: 'none' }, 'sealed'],
      [{ how: 'open', secret: 'some passphrase' }, 'sealed'],
    ] as const)
      expect(await host.client.ask('serveStore', { store: address, sealing }).catch(problem)).toBe(told);
  });

  it('one that was bent, cut short or swapped is damaged, and no byte of the bent chunk is given out', async () => {
    const { store, drive } = await sealed(null);
    const key = 'photos/Gjógv/áarbát.jpg.age';
    store.standIn.rot(key, 66_000);
    const file = await drive.open('Gjógv/áarbát.jpg');
    expect(await bytesOf(file).catch(problem)).toBe('failed');
    expect(await bytesOf(file.slice(0, 65_536))).toEqual(noise(65_536));
    const whole = store.standIn.bytesOf(key);
    store.standIn.put(key, whole.subarray(0, whole.length - 20));
    const cut = await drive.open('Gjógv/áarbát.jpg');
    expect(await bytesOf(cut).catch(problem)).toBe('failed');
    store.standIn.put(key, Buffer.from('no age file at all, of some length or other'));
    expect(await drive.open('Gjógv/áarbát.jpg').catch(problem)).toBe('sealed');
    const unlisted: string[] = [];
    for await (const _ of drive.list({ onUnlisted: (place) => unlisted.push(place) })) continue;
    expect(unlisted).toEqual(['Gjógv/áarbát.jpg']);
  });
});

describe('what is kept of stores on this machine', () => {
  it('is read by its owner alone, survives a start, and is not lost where it cannot be read', async () => {
    const place = path.join(newFolder(), 'stores.json');
    const at = { ...(await testStore()).place };
    const id = new KeptStores(place).add(at, false);
    expect(statSync(place).mode & 0o777).toBe(0o600);
    expect(new KeptStores(place).placeOf(id)).toMatchObject(at);
    writeFileSync(place, readFileSync(place, 'utf8').slice(0, -20));
    expect(new KeptStores(place).all()).toEqual([]);
    expect(readdirSync(path.dirname(place)).filter((name) => name.includes('unreadable'))).toHaveLength(1);
  });

  it('that cannot be read, of a later version say, stays beside what is added and removed: it may hold a key', async () => {
    const place = path.join(newFolder(), 'stores.json');
    const id = new KeptStores(place).add((await testStore()).place, false);
    const file = JSON.parse(readFileSync(place, 'utf8')) as { stores: unknown[] };
    const later = { kind: 'of a later version', key: 'AGE-SECRET-KEY-1' };
    writeFileSync(place, JSON.stringify({ ...file, stores: [later, ...file.stores] }));
    const again = new KeptStores(place);
    again.setShare(id, 1000);
    expect(again.all().map(([known]) => known)).toEqual([id]);
    again.remove(id);
    expect(JSON.parse(readFileSync(place, 'utf8'))).toMatchObject({ stores: [later] });
  });

  it('a share of a day holds back what is sent after it, until the next day', async () => {
    let day = 3;
    const stores = new KeptStores(path.join(newFolder(), 'stores.json'), () => new Date(2026, 4, day));
    const id = stores.add((await testStore()).place, false);
    const isHeld = () => {
      try {
        stores.holdShare(id);
        return false;
      } catch (error) {
        return problem(error) === 'share-sent';
      }
    };
    stores.noteSent(id, 5000);
    expect(isHeld()).toBe(false); // no share, nothing counted
    stores.setShare(id, 1000);
    stores.noteSent(id, 999);
    expect([isHeld(), stores.sentToday(id)]).toEqual([false, 999]);
    stores.noteSent(id, 500);
    expect([isHeld(), stores.sentToday(id)]).toEqual([true, 1499]);
    day = 4;
    expect([isHeld(), stores.sentToday(id)]).toEqual([false, 0]);
  });

  it('photos beyond the share wait, from a page and from a folder of this machine; words and records do not', async () => {
    const host = testHost();
    const { identity: _, sealsNames: _names, ...store } = (await testStore()).place;
    const { served } = await host.client.ask('serveStore', { store, sealing: { how: 'none' } });
    await host.client.ask('setShare', { folder: served.id, dailyBytes: 1000 });
    const drive = new HostDrive(host.client, served.id, 'drive');
    await put(drive, 'a.jpg', noise(2000));
    expect(await put(drive, 'b.jpg', noise(10)).catch(problem)).toBe('share-sent');
    await put(drive, '_wembo/long.json', noise(10));
    await replaceFile(drive, 'a.xmp', noise(10), null);
    const folder = newFolder();
    writeFileSync(path.join(folder, 'c.jpg'), noise(10));
    const from = new HostDrive(host.client, host.folders.add(folder).id, 'from');
    const { size, lastModified } = await from.open('c.jpg');
    const copy = host.client.ask('copy', {
      file: { folder: from.folder, path: 'c.jpg', size, modifiedMs: lastModified },
      target: { folder: served.id, mark: null, path: 'c.jpg' },
      expected: null,
    });
    expect(await copy.catch(problem)).toBe('share-sent');
    const { sentToday } = await host.client.ask('storeFacts', { folder: served.id });
    expect(sentToday).toBe(2010);
  });

  it('a part that cannot be taken away does not undo the name it was given', async () => {
    const store = await testStore();
    meets(store, 'no-answer', 'DELETE', 3);
    await put(storeDrive(store), 'x.jpg', noise(100));
    expect(await readIfThere(storeDrive(store), 'x.jpg')).toEqual(noise(100));
    const left: string[] = [];
    for await (const _ of storeDrive(store).list({ onLeftover: (part) => left.push(part) })) continue;
    expect(left).toHaveLength(1);
  });

  it('the page is never told what opens a store', async () => {
    const host = testHost();
    const { identity: _, sealsNames: _names, ...store } = (await testStore()).place;
    const { served } = await host.client.ask('serveStore', { store, sealing: { how: 'none' } });
    const told = JSON.stringify([
      await host.client.ask('folders', {}),
      await host.client.ask('storeFacts', { folder: served.id }),
    ]);
    expect(told).toContain(STORE_KEYS.bucket);
    expect(told).not.toContain(STORE_KEYS.secretAccessKey);
  });
});
