// Setting up a store: what lies in it is looked at first, and nothing of it is written over. Where everything is to be
// sealed, a key is made; sealed by a passphrase it lies in the store itself, so that passphrase and bucket are enough
// to get everything back.

import { generateX25519Identity } from 'age-encryption';
import { DRIVE_FILE } from '@/storage/archive/archive-files';
import { DriveError } from '@/storage/drives/drive';
import { bytesOf } from '@/storage/drives/safe-write';
import { nameIn } from '@/core/names/file-names';
import {
  type FoundStore,
  type HOST_ORDERS,
  type HostAnswers,
  type ServedFolder,
  type StoreAddress,
  type StoreFacts,
  storeAddress,
} from '@/storage/host/protocol';
import { readStrangersPage, strangersPage } from './strangers-page';
import type { z } from 'zod';
import type { KeptStores } from './kept-stores';
import { type StorePlace, storeAddressOf } from './place';
import { openKey, sealKey } from './sealing';
import { Store } from './store';
import { KEY_OBJECT, StoreDrive } from './store-drive';

/** What of a sealed store is read without a key. */
const STRANGERS_PAGE = 'READ-ME.txt';
/** A key sealed by a passphrase is some hundred bytes, the page two thousand. */
const SHORT_BYTES = 64 * 1024;

type Order = z.output<(typeof HOST_ORDERS)['serveStore']>;
type Address = Omit<StorePlace, 'identity' | 'sealsNames'>;

export class StoreDesk {
  /** @param workFactor of scrypt, as a power of two; that of the age tool where none is named */
  constructor(
    readonly stores: KeptStores,
    private readonly workFactor?: number,
  ) {}

  private at(address: Address) {
    const all = address.prefix === '' ? '' : `${address.prefix}/`;
    return { store: new Store({ ...address, identity: null, sealsNames: false }), key: (name: string) => all + name };
  }

  async lookAt(address: Address): Promise<FoundStore> {
    const { store, key } = this.at(address);
    const isThere = async (name: string) => (await store.headIfThere(key(name))) !== null;
    if (await isThere(DRIVE_FILE)) return { holds: 'drive', sealed: null };
    if (await isThere(KEY_OBJECT)) return { holds: 'drive', sealed: 'by-passphrase' };
    if (await this.pageAt(address)) return { holds: 'drive', sealed: 'by-key' };
    for await (const _ of store.list(key(''))) return { holds: 'other', sealed: null };
    return { holds: 'nothing', sealed: null };
  }

  /** The last of setting up: without it and without a key in the store there is nothing yet. */
  private async putPage(address: Address, hasPassphrase: boolean, sealsNames: boolean): Promise<void> {
    const { store, key } = this.at(address);
    await store.put(key(STRANGERS_PAGE), new TextEncoder().encode(strangersPage(hasPassphrase, sealsNames)));
  }

  /** What the page for strangers says; `null` where there is none of ours. */
  private async pageAt(address: Address) {
    const bytes = await this.short(address, STRANGERS_PAGE);
    return bytes && readStrangersPage(new TextDecoder().decode(bytes));
  }

  /** An object that stands beside the drive; `null` where there is none, or a long one. */
  private async short(address: Address, name: string): Promise<Uint8Array | null> {
    const { store, key } = this.at(address);
    const object = await store.headIfThere(key(name));
    return object && object.sizeBytes <= SHORT_BYTES ? store.read(object, 0, object.sizeBytes) : null;
  }

  async serve({ store: address, sealing }: Order): Promise<HostAnswers['serveStore']> {
    const found = await this.lookAt(address);
    let identity: string | null = null;
    let sealsNames = false;
    if (sealing.how === 'none' && found.sealed) throw new DriveError('sealed', '');
    if (sealing.how === 'new') {
      ({ sealsNames } = sealing);
      identity = await this.makeKey(address, found, sealing);
    }
    if (sealing.how === 'open') {
      const page = await this.pageAt(address);
      sealsNames = page?.sealsNames ?? false;
      identity = await this.openBy(address, sealsNames, sealing.secret.trim());
      if (!page) await this.putPage(address, found.sealed === 'by-passphrase', sealsNames); // it was interrupted there
    }
    const hasPassphrase = sealing.how === 'new' ? sealing.passphrase !== null : found.sealed === 'by-passphrase';
    const id = this.stores.add({ ...address, identity, sealsNames }, hasPassphrase);
    return { served: servedStore(id, address), identity: sealing.how === 'new' ? identity : null };
  }

  private async makeKey(
    address: Address,
    { holds }: FoundStore,
    { passphrase, sealsNames }: Order['sealing'] & { how: 'new' },
  ): Promise<string> {
    if (holds !== 'nothing') throw new DriveError('exists', '');
    const { store, key } = this.at(address);
    const identity = await generateX25519Identity();
    if (passphrase !== null) await store.put(key(KEY_OBJECT), await sealKey(identity, passphrase, this.workFactor));
    await this.putPage(address, passphrase !== null, sealsNames);
    return identity;
  }

  /** By the key from its sheet, or the passphrase. Rejects with `sealed` where it is another. */
  private async openBy(address: Address, sealsNames: boolean, secret: string): Promise<string> {
    const identity = secret.toUpperCase().startsWith('AGE-SECRET-KEY-')
      ? secret.toUpperCase()
      : await openKey(await this.sealedKey(address), secret);
    const drive = new StoreDrive({ ...address, identity, sealsNames }, (act) => act());
    try {
      await bytesOf(await drive.open(DRIVE_FILE));
    } catch (error) {
      if (!(error instanceof DriveError) || error.problem !== 'not-found') throw error; // not marked yet
    }
    return identity;
  }

  private async sealedKey(address: Address): Promise<Uint8Array> {
    const sealed = await this.short(address, KEY_OBJECT);
    if (!sealed) throw new DriveError('sealed', '');
    return sealed;
  }

  served(): ServedFolder[] {
    return this.stores.all().map(([id, store]) => servedStore(id, store));
  }

  facts(id: string): StoreFacts {
    const { endpoint, bucket, prefix, identity, hasPassphrase, dailyBytes } = this.kept(id);
    const sentToday = this.stores.sentToday(id);
    return { endpoint, bucket, prefix, isSealed: identity !== null, hasPassphrase, dailyBytes, sentToday };
  }

  keyOf(id: string): string | null {
    return this.kept(id).identity;
  }

  private kept(id: string) {
    const store = this.stores.placeOf(id);
    if (!store) throw new DriveError('no-permission', '');
    return store;
  }
}

/** The store that the demo starts beside itself, as its start hands it over. */
export function standIn(env: NodeJS.ProcessEnv = process.env): StoreAddress | null {
  return env.WEMBO_STORE ? storeAddress.parse(JSON.parse(env.WEMBO_STORE)) : null;
}

/** Whether it answers is found out when its mark is read. */
function servedStore(id: string, address: Address): ServedFolder {
  const path = storeAddressOf(address);
  return { id, kind: 'store', path, name: nameIn(path), isThere: true, isWritable: true, isAtStart: false, above: [] };
}
