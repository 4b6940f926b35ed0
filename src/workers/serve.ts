// The worker's side of the protocol: runs a handler for each request, and answers exactly once.

import { failureOf } from '@/storage/drives/failure';
import type { FromWorker, RequestKind, Requests, ToWorker } from './protocol';

export interface Call {
  signal: AbortSignal;
  onBytes: (bytes: number) => void;
}

export type Handlers<K extends RequestKind> = {
  [P in K]: (order: Requests[P]['order'], call: Call) => Promise<Requests[P]['answer']>;
};

interface Scope {
  onmessage: ((event: MessageEvent<ToWorker>) => void) | null;
  postMessage(message: FromWorker, options?: { transfer: Transferable[] }): void;
}

export function serve<K extends RequestKind>(scope: Scope, handlers: Handlers<K>): void {
  const running = new Map<number, AbortController>();
  scope.onmessage = ({ data }) => {
    if (data.kind === 'cancel') {
      running.get(data.id)?.abort();
      return;
    }
    const { id, kind, order } = data;
    const controller = new AbortController();
    running.set(id, controller);
    const call: Call = {
      signal: controller.signal,
      onBytes: (bytes) => scope.postMessage({ id, kind: 'bytes', bytes }),
    };
    const handler = handlers[kind as K] as (order: unknown, call: Call) => Promise<unknown>;
    handler(order, call)
      .then((answer) => scope.postMessage({ id, kind: 'done', answer }, { transfer: bitmapsIn(answer) }))
      .catch((error: unknown) => scope.postMessage({ id, kind: 'failed', failure: failureOf(error) }))
      .finally(() => running.delete(id));
  };
}

/** Decoded pictures change hands; they are not copied. */
const bitmapsIn = (answer: unknown): Transferable[] =>
  typeof ImageBitmap === 'undefined' || typeof answer !== 'object' || answer === null
    ? []
    : Object.values(answer).filter((value): value is ImageBitmap => value instanceof ImageBitmap);
