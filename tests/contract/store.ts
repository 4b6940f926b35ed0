// A store that stands in, for tests: filled and looked into from behind, reached by its own keys.

import { afterAll } from 'vitest';
import { StoreStandIn } from '@/demo/store/stand-in';
import type { StorePlace } from '@/server/store/place';
import { StoreDrive } from '@/server/store/store-drive';
import { newFolder } from './host';

export const STORE_KEYS = { bucket: 'archive', accessKeyId: 'WEMBOTEST', secretAccessKey: 'a secret of this test' };

export interface TestStore {
  standIn: StoreStandIn;
  place: StorePlace;
}

const started: StoreStandIn[] = [];
afterAll(() => Promise.all(started.map((standIn) => standIn.stop())));

export async function testStore(more: Partial<StorePlace> = {}): Promise<TestStore> {
  const standIn = new StoreStandIn(newFolder(), STORE_KEYS);
  started.push(standIn);
  const endpoint = await standIn.start();
  return {
    standIn,
    place: { endpoint, region: 'faroe-1', prefix: 'photos', identity: null, sealsNames: false, ...STORE_KEYS, ...more },
  };
}

/** One after the other, in this process. */
export function inTurn() {
  let last: Promise<unknown> = Promise.resolve();
  return <T>(act: () => Promise<T>): Promise<T> => {
    const mine = last.then(act);
    last = mine.catch(() => undefined);
    return mine;
  };
}

export const storeDrive = ({ place }: TestStore): StoreDrive => new StoreDrive(place, inTurn());
