// Text as it is compared: no case, no accents, letters that have no decomposition spelt out as people type them.

const SPELT: Record<string, string> = { ð: 'd', đ: 'd', þ: 'th', ø: 'o', æ: 'ae', œ: 'oe', ß: 'ss', ł: 'l', ħ: 'h', ı: 'i' };

export function foldText(text: string): string {
  return text
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .toLowerCase()
    .replace(/[ðđþøæœßłħı]/g, (letter) => SPELT[letter] ?? letter);
}

/** The words of a text, folded: runs of letters and digits. */
export const wordsOf = (text: string): string[] => foldText(text).split(/[^\p{L}\p{N}]+/u).filter((word) => word !== '');
