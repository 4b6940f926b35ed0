// Dates put right: a clock that was wrong, a zone that was not said, a scan whose date is known in part. What was
// written at first stays as the date digitised, where nothing stands there; photos keep the distances they had.

import { type Described, type FieldEdit, planSet } from '../fields/edits';
import { capturedIn } from '../fields/values';
import { type Captured, clockSeconds, parseCaptured, shiftCaptured } from '../time/captured';
import { isoOfSeconds } from '../time/civil';

export type DateAct =
  /** All clocks go so much ahead. */
  | { kind: 'shift'; seconds: number }
  /** The earliest gets this date and time, the others keep their distance from it. */
  | { kind: 'first'; at: string }
  /** All get this date, in full or in part. */
  | { kind: 'set'; to: string }
  /** The digits stay, and are said to be of this zone; `null` for none. */
  | { kind: 'zone'; offset: string | null }
  /** The moment stays, and is said in this zone. */
  | { kind: 'in-zone'; offset: string };

export interface DatesPlan {
  edits: FieldEdit[];
  /** Photos that have no date, or none with a time, where one is needed. */
  without: number;
}

const ZONE = /^(?:Z|[+-](?:0\d|1[0-4]):[0-5]\d)$/;

export const isZoneText = (text: string): boolean => ZONE.test(text);

/** `null` where the act itself is not understood. */
export function planDates(photos: readonly Described[], act: DateAct): DatesPlan | null {
  const changed = changerOf(photos, act);
  if (!changed) return null;
  const plan: DatesPlan = { edits: [], without: 0 };
  for (const photo of photos) {
    const before = capturedIn(photo.fields);
    const after = changed(before);
    if (!after) {
      plan.without += 1;
      continue;
    }
    const edits = planSet([photo], 'captured', textOf(after));
    if (edits.length > 0 && before && clockSeconds(before) !== null && photo.fields.digitised === undefined)
      edits.push(...planSet([photo], 'digitised', photo.fields.captured));
    plan.edits.push(...edits);
  }
  return plan;
}

const textOf = ({ written, offset }: Captured): string => written + (written.length >= 19 ? (offset ?? '') : '');

/** What becomes of a date; `null` for one that the act cannot do anything with. */
function changerOf(
  photos: readonly Described[],
  act: DateAct,
): ((captured: Captured | null) => Captured | null) | null {
  const withTime = (change: (captured: Captured) => Captured) => (captured: Captured | null) =>
    captured && clockSeconds(captured) !== null ? change(captured) : null;
  switch (act.kind) {
    case 'shift':
      return Number.isFinite(act.seconds)
        ? withTime((captured) => shiftCaptured(captured, act.seconds) ?? captured)
        : null;
    case 'set': {
      const to = parseCaptured(act.to);
      return to && (() => to);
    }
    case 'first': {
      const to = parseCaptured(act.at);
      const earliest = photos
        .map(({ fields }) => clockSeconds(capturedIn(fields)))
        .filter((seconds) => seconds !== null);
      const target = clockSeconds(to);
      if (!to || target === null) return null;
      const by = target - earliest.reduce((one, other) => Math.min(one, other), Infinity);
      return withTime((captured) => ({
        written: (shiftCaptured(captured, by) ?? captured).written,
        offset: to.offset ?? captured.offset,
      }));
    }
    case 'zone':
      return act.offset === null || isZoneText(act.offset)
        ? withTime(({ written }) => ({ written, offset: act.offset }))
        : null;
    case 'in-zone': {
      if (!isZoneText(act.offset)) return null;
      return (captured) => {
        const seconds = clockSeconds(captured);
        if (!captured || seconds === null || captured.offset === null) return null;
        return {
          written:
            isoOfSeconds(seconds - offsetSeconds(captured.offset) + offsetSeconds(act.offset)) +
            captured.written.slice(19),
          offset: act.offset,
        };
      };
    }
  }
}

function offsetSeconds(offset: string): number {
  const found = /^([+-])(\d{2}):(\d{2})$/.exec(offset);
  return found ? (found[1] === '-' ? -1 : 1) * (Number(found[2]) * 3600 + Number(found[3]) * 60) : 0;
}

/** `+1:30`, `-0:00:45`, `2 h`, `3 days`, `90 min`, `45 s`, one after the other; seconds, or `null` for what is none. */
export function parseShift(text: string): number | null {
  const clock = /^\s*([+−-])?\s*(\d{1,5}):(\d{2})(?::(\d{2}))?\s*$/.exec(text);
  if (clock) return signOf(clock[1]) * (Number(clock[2]) * 3600 + Number(clock[3]) * 60 + Number(clock[4] ?? 0));
  const parts = /^\s*([+−-])?\s*((?:\d+\s*(?:d|days?|h|hours?|min|minutes?|s|seconds?)\s*)+)$/i.exec(text);
  if (!parts) return null;
  const UNITS: Record<string, number> = { d: 86_400, h: 3600, m: 60, s: 1 };
  return (
    signOf(parts[1]) *
    [...(parts[2] ?? '').matchAll(/(\d+)\s*([dhms])/gi)].reduce(
      (sum, [, number, unit]) => sum + Number(number) * (UNITS[(unit ?? '').toLowerCase()] ?? 0),
      0,
    )
  );
}

const signOf = (sign: string | undefined): number => (sign === '-' || sign === '−' ? -1 : 1);
