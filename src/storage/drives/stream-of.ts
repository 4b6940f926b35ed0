import type { LazyBytes } from './drive';

/** Read at a time of a file that goes somewhere in pieces. */
const PIECE_BYTES = 1024 * 1024;

/** All bytes of a file, in pieces. Rejects where it ends before its length. */
export async function* piecesOf(file: LazyBytes): AsyncGenerator<Uint8Array<ArrayBuffer>> {
  for (let at = 0; at < file.size; at += PIECE_BYTES) {
    const end = Math.min(file.size, at + PIECE_BYTES);
    const piece = new Uint8Array(await file.slice(at, end).arrayBuffer());
    if (piece.length !== end - at) throw new Error(`ends at ${at + piece.length} of ${file.size} bytes`);
    yield piece;
  }
}

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
