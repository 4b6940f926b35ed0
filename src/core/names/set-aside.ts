// Set aside: a file lies in the archive folder of its drive, below the day it was set aside, with its whole old path,
// so that a person can put it back without any program of ours.

export const SET_ASIDE_FOLDER = '_wembo/set-aside';

const FORM = /^_wembo\/set-aside\/(\d{4}-\d{2}-\d{2})\/(.+)$/;

export interface Aside {
  /** ISO date. */
  day: string;
  /** Where it lay before. */
  from: string;
}

export function asideOf(path: string): Aside | null {
  const found = FORM.exec(path);
  return found?.[1] && found[2] ? { day: found[1], from: found[2] } : null;
}

export const pathAside = (path: string, day: string): string => `${SET_ASIDE_FOLDER}/${day}/${path}`;
