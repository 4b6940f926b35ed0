// Sets of places a word stands in, each under one number, so that a posting holds a number however many places there
// are. A catalog has a few hundred different sets.

export class FieldMasks {
  private readonly sets: string[][] = [];
  private readonly numbers = new Map<string, number>();
  /** From a set (the empty one first) and one more place to the set that holds both. */
  private readonly steps: Map<string, number>[] = [new Map()];

  /** The number of the set that has `place` beside those of set `number`; `undefined` is the empty set. */
  with(number: number | undefined, place: string): number {
    const from = number === undefined ? 0 : number + 1;
    const known = this.steps[from]?.get(place);
    if (known !== undefined) return known;
    const places = [...new Set([...(number === undefined ? [] : (this.sets[number] ?? [])), place])].sort();
    const key = places.join(' ');
    const found = this.numbers.get(key) ?? this.sets.push(places) - 1;
    this.numbers.set(key, found);
    this.steps[found + 1] ??= new Map();
    this.steps[from]?.set(place, found);
    return found;
  }

  get all(): readonly (readonly string[])[] {
    return this.sets;
  }

  static from(sets: readonly (readonly string[])[]): FieldMasks {
    const made = new FieldMasks();
    for (const places of sets) {
      made.numbers.set(places.join(' '), made.sets.push([...places]) - 1);
      made.steps[made.sets.length] = new Map();
    }
    return made;
  }

  /** By number, 1 for the sets of which a place passes. */
  withAny(predicate: (place: string) => boolean): Uint8Array {
    return Uint8Array.from(this.sets, (places) => (places.some(predicate) ? 1 : 0));
  }
}
