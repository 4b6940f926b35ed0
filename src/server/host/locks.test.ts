import { expect, it } from 'vitest';
import { HostLocks } from './locks';

const locksAt = (clock: { now: number }) => new HostLocks(() => clock.now, 5);

it('gives a folder to one at a time, and to the next when it is given back', async () => {
  const locks = locksAt({ now: 0 });
  const lease = (await locks.take('a', 'chromium')) ?? '';
  expect(await locks.take('a', 'firefox')).toBeNull();
  expect(await locks.take('b', 'firefox')).not.toBeNull();
  const waiting = locks.take('a', 'firefox');
  locks.give('a', lease);
  expect(await waiting).not.toBeNull();
});

it('takes a lease of the same browser for one that was left behind: it asks one tab at a time', async () => {
  const locks = locksAt({ now: 0 });
  const left = (await locks.take('a', 'chromium')) ?? '';
  const now = (await locks.take('a', 'chromium')) ?? '';
  expect(() => locks.use('a', left)).toThrow('changed-meanwhile');
  locks.give('a', left); // it is not its own any more
  expect(() => locks.use('a', now)).not.toThrow();
});

it('ends a lease that nobody used for long, and no act that comes later passes by it', async () => {
  const clock = { now: 0 };
  const locks = locksAt(clock);
  const lease = (await locks.take('a', 'chromium')) ?? '';
  clock.now = 80_000;
  locks.use('a', lease);
  clock.now = 160_000;
  expect(await locks.take('a', 'firefox')).toBeNull();
  clock.now = 171_000;
  expect(await locks.take('a', 'firefox')).not.toBeNull();
  expect(() => locks.use('a', lease)).toThrow('changed-meanwhile');
});

it('the host’s own work waits for a lease, and a lease for it, however long that takes', async () => {
  const clock = { now: 0 };
  const locks = locksAt(clock);
  const lease = (await locks.take('a', 'chromium')) ?? '';
  let begun = false;
  let end = () => {};
  const work = locks.alone('a', () => {
    begun = true;
    return new Promise<void>((resolve) => (end = resolve));
  });
  await new Promise((resolve) => setTimeout(resolve, 20));
  expect(begun).toBe(false);
  locks.give('a', lease);
  await new Promise((resolve) => setTimeout(resolve, 20));
  expect(begun).toBe(true);
  clock.now = 1e9;
  expect(await locks.take('a', 'chromium')).toBeNull();
  end();
  await work;
  expect(await locks.take('a', 'chromium')).not.toBeNull();
});
