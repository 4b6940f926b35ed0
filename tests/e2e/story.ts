// Acts of which each needs what those before it left behind. They are one case: so every case runs alone and in any
// order, and a failure still says in which act it was.

import { it } from 'vitest';

type Step = (name: string, act: () => Promise<void>) => void;

export function story(title: string, tell: (step: Step) => void): void {
  const steps: { name: string; act: () => Promise<void> }[] = [];
  tell((name, act) => void steps.push({ name, act }));
  it(title, async () => {
    for (const { name, act } of steps)
      await act().catch((error: unknown) => {
        if (error instanceof Error) error.message = `“${name}”: ${error.message}`;
        throw error;
      });
  });
}
