import type { SurveyedFrame } from '@/storage/jobs/source-survey';

/** The frames of a run in clock order, whichever end was marked first. */
export function runOf(all: readonly SurveyedFrame[], mark: { first: string; last: string } | null): SurveyedFrame[] {
  if (!mark) return [];
  const [one, other] = [
    all.findIndex(({ frame }) => frame.key === mark.first),
    all.findIndex(({ frame }) => frame.key === mark.last),
  ];
  return one < 0 || other < 0 ? [] : all.slice(Math.min(one, other), Math.max(one, other) + 1);
}
