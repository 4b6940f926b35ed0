import type { PictureProblem } from './problem';

/** A file whose picture cannot be decoded, and why: crosses from a decoder to whoever wanted to see it. */
export class Undecodable extends Error {
  override name = 'Undecodable';
  constructor(readonly problem: PictureProblem) {
    super(problem.code);
  }
}

/** What kept a picture from being decoded, whatever was thrown. */
export const pictureProblemOf = (error: unknown): PictureProblem =>
  error instanceof Undecodable
    ? error.problem
    : { code: 'picture/refused', reason: error instanceof Error ? error.message : String(error) };
