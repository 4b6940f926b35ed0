// A direction as a field holds it: `243.5`, degrees from true north over east; `243.5 magnetic` where it is from the
// compass's north.

export interface Direction {
  degrees: number;
  magnetic: boolean;
}

export const directionText = (degrees: number, magnetic: boolean): string =>
  `${Number(degrees.toFixed(2))}${magnetic ? ' magnetic' : ''}`;

/** Reads what `directionText` writes. */
export function parseDirection(text: string): Direction | null {
  const found = /^(\d{1,3}(?:\.\d{1,6})?)( magnetic)?$/.exec(text.trim());
  return found && Number(found[1]) <= 360 ? { degrees: Number(found[1]), magnetic: found[2] !== undefined } : null;
}
