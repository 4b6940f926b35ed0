'use client';

import { useEffect, useEffectEvent, useState } from 'react';
import { useSession } from './use-session';

export interface Asked<T> {
  /** The question it answers, perhaps not the newest. */
  of: string;
  answer: T;
}

/**
 * The answer of a worker to a question, asked anew when the question or the index is another. One to an older question
 * that comes late is dropped; until the new one is there, the one before stays. A worker that died answers nothing: it
 * is filled, and asked again.
 * @param question tells this question from others; `null` for none, which has no answer
 * @param ask puts it; sees what the last drawing saw
 * @param calmMs so long the question must stand before it is put
 */
export function useAsked<T>(question: string | null, ask: () => Promise<T>, calmMs = 0): Asked<T> | null {
  const version = useSession((state) => state.indexVersion);
  const ready = useSession((state) => state.stage.state === 'ready');
  const [found, setFound] = useState<Asked<T> | null>(null);
  const put = useEffectEvent(ask);
  useEffect(() => {
    if (question === null || !ready) return;
    let current = true;
    const now = () =>
      void put().then(
        (answer) => current && setFound({ of: question, answer }),
        () => {},
      );
    const timer = calmMs > 0 ? setTimeout(now, calmMs) : null;
    if (timer === null) now();
    return () => {
      current = false;
      if (timer !== null) clearTimeout(timer);
    };
  }, [question, version, ready, calmMs]);
  return question === null ? null : found;
}
