import type { FieldValues } from '../fields/registry';

/**
 * Whether two readings say the same moment, to the second, of whatever zone: a hint that they may be one frame, and no
 * more.
 */
export function sameFrameTime(one: FieldValues, other: FieldValues): boolean {
  const digits = ({ captured }: FieldValues) => (typeof captured === 'string' ? captured.slice(0, 19) : '');
  return digits(one).length === 19 && digits(one) === digits(other);
}
