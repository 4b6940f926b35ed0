// What is wrong with a track file, as a sentence. The file's name stands beside it on the screen.

import type { Dropped } from '@/core/locate/tracks/track';
import type { TrackProblem } from '@/core/problems/problem';

export function trackProblemSentence(problem: TrackProblem): string {
  switch (problem.code) {
    case 'too-large':
      return `The track is larger than ${Math.round(problem.limit / 1_048_576)} MB. It was not read.`;
    case 'not-a-track':
      return 'This is no track: neither GPX, KML, GeoJSON, NMEA 0183 nor a table with columns for time, latitude and longitude. It was left out.';
    case 'doctype':
      return 'The file carries a document type, which no track needs and which can be used to do harm. It was not read.';
    case 'not-well-formed':
      return `The file is not well-formed (${problem.detail}). The points before that were read.`;
    case 'no-timed-points':
      return problem.withoutTime > 0
        ? `None of its ${problem.withoutTime} points says when it was; photos cannot be matched to it. It was left out.`
        : 'There is no point with a time in it. It was left out.';
  }
}

/** What of a track was left out; `null` where nothing was. */
export function droppedSentence({ withoutTime, unreadable, zoneless }: Dropped): string | null {
  const parts = [
    withoutTime > 0 ? `${withoutTime} points without a time left out` : null,
    unreadable > 0 ? `${unreadable} that could not be read left out` : null,
    zoneless > 0 ? `${zoneless} times without a zone taken as UTC` : null,
  ].filter((part) => part !== null);
  return parts.length > 0 ? `${parts.join(', ')}.` : null;
}
