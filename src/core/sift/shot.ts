// What of a photo tells which set it belongs to.

import { isRawFormat } from '../formats/containers/formats';
import type { FieldValues } from '../fields/registry';
import { capturedIn } from '../fields/values';
import type { PhotoReading } from '../metadata/reading/reading';
import { clockSecondsWithFraction } from '../time/captured';
import { givenSet } from './given-set';
import type { Shot } from './sets';

/** @param stems drive, folder and base name of each of its files, without regard to case */
export function shotOf(
  { camera, exposure, format }: Pick<PhotoReading, 'camera' | 'exposure' | 'format'>,
  fields: FieldValues,
  stems: string[],
  overlaps: Shot['overlaps'],
): Shot {
  const captured = capturedIn(fields);
  const { seconds, fNumber, iso, focalMm, biasEv } = exposure;
  return {
    body: [camera.make, camera.model, camera.serial].join(' '),
    at: clockSecondsWithFraction(captured),
    fraction: /\.\d/.test(captured?.written ?? ''),
    seconds,
    fNumber,
    iso,
    focalMm,
    biasEv,
    stems,
    raw: isRawFormat(format),
    given: givenSet(fields),
    overlaps,
  };
}
