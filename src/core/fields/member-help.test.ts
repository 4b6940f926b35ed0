import { describe, expect, it } from 'vitest';
import { MEMBER_HELP } from './member-help';
import { FIELDS } from './registry';
import { STRUCTURES, type StructureName } from './structures';

/** A sentence that ends, or ends in an example. */
const SENTENCE = /^\S.{8,}(?:\.|Example: [^.]+.*)$/;

describe('help where one fills in', () => {
  it.each(Object.keys(STRUCTURES) as StructureName[])('every member of %s has a sentence, and no other has', (name) => {
    expect(Object.keys(MEMBER_HELP[name]).sort()).toEqual(STRUCTURES[name].map(({ key }) => key).sort());
    for (const text of Object.values(MEMBER_HELP[name])) expect(text).toMatch(SENTENCE);
  });

  it('every field has one', () => {
    for (const { key, help } of FIELDS) expect(help, key).toMatch(SENTENCE);
  });
});
