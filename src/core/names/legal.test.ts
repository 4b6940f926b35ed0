// Names against what the systems' own documents refuse. Sources, from memory: Microsoft, "Naming Files, Paths, and
// Namespaces"; POSIX.1-2017 3.170 (file name) and 3.282 (portable file name character set).

import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { BASE_LIMIT_BYTES, problemsOfName, legalName } from './legal';

/**
 * "The following reserved characters" and "characters whose integer representations are in the range from 1 through
 * 31".
 */
const WINDOWS_CHARACTERS = ['<', '>', ':', '"', '/', '\\', '|', '?', '*', '\u0001', '\u001f', '\u0000'];
/**
 * "The following reserved names"; "also avoid these names followed immediately by an extension"; superscript digits
 * count too.
 */
const WINDOWS_DEVICES = [
  'CON',
  'PRN',
  'AUX',
  'NUL',
  ...[0, 1, 2, 3, 4, 5, 6, 7, 8, 9].flatMap((digit) => [`COM${digit}`, `LPT${digit}`]),
  'COM¹',
  'COM²',
  'COM³',
  'LPT¹',
  'LPT²',
  'LPT³',
];
/** POSIX: letters, digits, full stop, low line, hyphen. */
const POSIX_PORTABLE = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789._-';

describe('names that every system takes', () => {
  it.each(WINDOWS_CHARACTERS)('a name with %j is pointed out, and made legal', (character) => {
    expect(problemsOfName(`a${character}b`)).toContain('character');
    expect(problemsOfName(legalName(`a${character}b`))).toEqual([]);
  });

  it.each(WINDOWS_DEVICES)('%s is a device, in any case and with any ending', (device) => {
    for (const name of [device, device.toLowerCase(), `${device}.tar`])
      expect(problemsOfName(name), name).toContain('device');
    expect(legalName(device.toLowerCase())).toBe(`_${device.toLowerCase()}`);
    expect(problemsOfName(`${device}X`)).toEqual([]);
  });

  it('no blank or full stop at an end ("Do not end a file or directory name with a space or a period")', () => {
    expect(
      [
        problemsOfName('a.'),
        problemsOfName('a '),
        problemsOfName(' a'),
        problemsOfName('.a'),
        problemsOfName('-rf'),
      ].every((flaws) => flaws.includes('edge')),
    ).toBe(true);
    expect(legalName(' .-Gjógv. ')).toBe('Gjógv');
  });

  it('every portable character stays as it is, and so do letters of the islands', () => {
    expect(legalName(`x${POSIX_PORTABLE}x`)).toBe(`x${POSIX_PORTABLE}x`);
    expect(legalName('Kvirrulýsið í Gøtu, æ')).toBe('Kvirrulýsið í Gøtu, æ');
  });

  it('one Unicode form: what is spelt with a combining accent becomes the letter', () => {
    expect(problemsOfName('Gjo\u0301gv')).toEqual(['form']);
    expect(legalName('Gjo\u0301gv')).toBe('Gj\u00f3gv');
  });

  it('a long name is cut at a whole letter within the bound', () => {
    const name = legalName('ð'.repeat(400));
    expect(new TextEncoder().encode(name).length).toBe(BASE_LIMIT_BYTES);
    expect(name).toBe('ð'.repeat(BASE_LIMIT_BYTES / 2));
    expect(problemsOfName('ð'.repeat(400))).toContain('long');
  });

  it('whatever is typed becomes a name without a flaw, or nothing; making it legal twice changes nothing', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 300 }), (typed) => {
        const name = legalName(typed);
        expect(name === '' ? [] : problemsOfName(name)).toEqual([]);
        expect(legalName(name)).toBe(name);
      }),
      { numRuns: 500 },
    );
  });
});
