/** A range of a file, in bytes. */
export interface Range {
  offset: number;
  length: number;
}
