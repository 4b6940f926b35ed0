import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { Speed } from './speed';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

const never = new AbortController().signal;
const isHeld = async (speed: Speed, signal = never) => {
  let done = false;
  void speed.hold(signal).then(() => (done = true));
  await vi.advanceTimersByTimeAsync(0);
  return {
    get isHeld() {
      return !done;
    },
  };
};

it('waits until so many bytes are due, and not at all without a limit', async () => {
  const speed = new Speed(1000);
  speed.hear(3000);
  const held = await isHeld(speed);
  await vi.advanceTimersByTimeAsync(2900);
  expect(held.isHeld).toBe(true);
  await vi.advanceTimersByTimeAsync(200);
  expect(held.isHeld).toBe(false);
  speed.hear(1_000_000);
  const again = await isHeld(speed);
  expect(again.isHeld).toBe(true);
  speed.limitTo(null);
  await vi.advanceTimersByTimeAsync(300);
  expect(again.isHeld).toBe(false);
});

it('counts from when it was set, and anew for each part of a job', async () => {
  const speed = new Speed(null);
  speed.hear(1_000_000);
  speed.limitTo(1000);
  expect((await isHeld(speed)).isHeld).toBe(false);
  speed.hear(0);
  speed.hear(500);
  const held = await isHeld(speed);
  await vi.advanceTimersByTimeAsync(600);
  expect(held.isHeld).toBe(false);
});

it('is left at once by what is cancelled', async () => {
  const speed = new Speed(1);
  speed.hear(1_000_000);
  const abort = new AbortController();
  const held = speed.hold(abort.signal).catch(() => 'cancelled');
  abort.abort();
  await vi.advanceTimersByTimeAsync(300);
  expect(await held).toBe('cancelled');
});
