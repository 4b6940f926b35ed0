// A failure on its way between the page, its workers and the host: codes and values cross intact.

import type { PictureProblem } from '@/core/problems/problem';
import { Undecodable } from '@/core/problems/undecodable';
import { DriveError, type DriveProblem } from './drive';

export interface SentFailure {
  name: string;
  message: string;
  drive?: { problem: DriveProblem; path: string };
  picture?: PictureProblem;
}

export function failureOf(error: unknown): SentFailure {
  const failure: SentFailure =
    error instanceof Error || error instanceof DOMException
      ? { name: error.name, message: error.message }
      : { name: 'Error', message: String(error) };
  if (error instanceof DriveError) failure.drive = { problem: error.problem, path: error.path };
  if (error instanceof Undecodable) failure.picture = error.problem;
  return failure;
}

export function errorOf({ name, message, drive, picture }: SentFailure): Error {
  if (picture) return new Undecodable(picture);
  if (drive) return new DriveError(drive.problem, drive.path);
  const error = new Error(message);
  error.name = name;
  return error;
}
