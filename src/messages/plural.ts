/** `1 photo`, `2 photos`. */
export const counted = (number: number, one: string, many = `${one}s`): string =>
  number === 1 ? `1 ${one}` : `${number} ${many}`;
