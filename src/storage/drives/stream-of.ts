/** Pieces ready before they are taken. */
const AHEAD = 2;

/** As fast as it is taken; who takes no more ends the pieces. */
export function streamOf(pieces: AsyncIterable<Uint8Array<ArrayBuffer>>): ReadableStream<Uint8Array<ArrayBuffer>> {
  const iterator = pieces[Symbol.asyncIterator]();
  return new ReadableStream<Uint8Array<ArrayBuffer>>(
    {
      pull: async (controller) => {
        // one that was asked and gives nothing need not be asked again
        let next = await iterator.next();
        while (!next.done && next.value.length === 0) next = await iterator.next();
        if (next.done) controller.close();
        else controller.enqueue(next.value);
      },
      cancel: () => void iterator.return?.(),
    },
    { highWaterMark: AHEAD },
  );
}
