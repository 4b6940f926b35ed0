// Why a typed text is no value of its field, as a sentence.

import { type WrongCodeProblem, codeListOf } from '@/core/fields/check-codes';
import type { CodeList } from '@/core/fields/code-lists';
import type { ValueProblem, ValueRemark } from '@/core/fields/values';

const SENTENCES: Record<ValueProblem, string> = {
  date: 'A date is written 2019-07-04T14:03:22+01:00, or as far as it is known: 2019-07 or 2019.',
  number: 'A number is wanted here.',
  'yes-or-no': 'True or False is wanted here.',
  rating: 'A rating is a whole number from −1 to 5.',
  position:
    'A position is a latitude and a longitude: 62.2270, -6.5890, or 62° 13′ 37″ N, 6° 35′ 20″ W, or as a geo: address.',
  direction: 'A direction is a number of degrees from 0 to 360, from north over east.',
};

const REMARKS: Record<ValueRemark, string> = {
  'notice-year': 'A notice has the year of publication in it: © 2026 and the owner.',
  'notice-name': 'A notice names the owner: © 2026 and who that is.',
  address: 'This is no web address: one begins with https:// and has no spaces.',
};

export const valueRemarkSentence = (remark: ValueRemark): string => REMARKS[remark];

export const valueProblemSentence = (problem: ValueProblem): string => SENTENCES[problem];

/** What is offered of a list that is not here as a whole. */
export const offeredSentence = ({ name, offered, formWords }: CodeList): string =>
  `Of the ${name} ${offered ?? 'some'} are offered here; any other of ${formWords} is kept as it is typed.`;

/** What is wrong with a code, in plain words. */
export function wrongCodeSentence({ key, code, problem }: WrongCodeProblem): string {
  const list = codeListOf(key);
  if (problem === 'form')
    return `“${code}” cannot be one of the ${list?.name ?? 'published values'}: they have ${list?.formWords ?? 'another form'}.`;
  return `“${code}” is not in the ${list?.name ?? 'published list'}.`;
}
