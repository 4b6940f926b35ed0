import { expect, it } from 'vitest';
import { inTurn } from './in-turn';

it('acts wait for those before them, and one that fails does not hold up the next', async () => {
  const seen: string[] = [];
  const slow = inTurn(async () => {
    await new Promise((resolve) => setTimeout(resolve, 10));
    seen.push('slow');
    return 1;
  });
  const failing = inTurn(async () => {
    seen.push('failing');
    throw new Error('no');
  });
  const last = inTurn(async () => void seen.push('last'));
  await expect(failing).rejects.toThrow('no');
  await last;
  expect([await slow, seen]).toEqual([1, ['slow', 'failing', 'last']]);
});
