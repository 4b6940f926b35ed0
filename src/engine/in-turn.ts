// What a person does comes one after the other, however quick: each act reads what the one before it left.

let last: Promise<unknown> = Promise.resolve();

export function inTurn<T>(act: () => Promise<T>): Promise<T> {
  const mine = last.then(act);
  last = mine.catch(() => undefined);
  return mine;
}
