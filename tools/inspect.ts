// What `wembo inspect` says of a file.

import { positionIn } from '../src/core/fields/values';
import { digestBoth } from '../src/core/metadata/picture-digest/image-digest';
import { readPhoto, turned } from '../src/core/metadata/reading/reading';
import { newDigest } from './node-digest';
import { fileSource } from './node-source';

/** The sentence of an error, whatever was thrown. */
export const reasonOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));

/**
 * Width and height are as stored; `orientation` says how to turn them; `gps` is the position as numbers: degrees of
 * WGS-84, metres above sea. What is absent is `null`.
 */
export async function inspectLine(file: string, withDigest: boolean): Promise<object> {
  try {
    const source = fileSource(file);
    try {
      const {
        format,
        orientation,
        captured,
        camera,
        lens,
        exposure,
        fields,
        sources,
        disagreements,
        previews,
        profile,
        seconds,
        shutterCount,
        problems,
        ...reading
      } = await readPhoto(source, file);
      const [width, height] = turned(orientation, reading.width, reading.height);
      const digest = withDigest ? { digest: await digestBoth(source, file, newDigest, () => undefined) } : {};
      return {
        file,
        format,
        bytes: source.size,
        modifiedMs: source.modifiedMs,
        width,
        height,
        orientation,
        captured,
        camera,
        lens,
        exposure,
        shutterCount,
        profile,
        seconds,
        gps: positionIn(fields),
        fields,
        sources,
        disagreements,
        preview: previews[0] ?? null,
        ...digest,
        problems,
      };
    } finally {
      source.close();
    }
  } catch (error) {
    return { file, failed: true, problems: [{ code: 'file/unreadable', reason: reasonOf(error) }] };
  }
}
