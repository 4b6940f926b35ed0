// The photos of a scope in their order, on the page's side: slots as the index answered them, and which photo has which
// slot. Nothing is copied for a hundred thousand photos but the few that are asked for.

import { Strings } from './strings';

export class PhotoOrder {
  private positions: Int32Array | null = null;

  /**
   * @param ids by slot, kept by whoever feeds the index; a slot never changes its photo
   */
  constructor(
    private readonly slots: Uint32Array,
    private readonly ids: Strings,
  ) {}

  get length(): number {
    return this.slots.length;
  }

  at(position: number): string | undefined {
    const slot = this.slots[position];
    return slot === undefined ? undefined : this.ids.text(slot);
  }

  /** −1 where it is not among them. The first question costs a pass over all. */
  indexOf(id: string | null): number {
    const slot = id === null ? -1 : this.ids.find(id);
    if (slot < 0) return -1;
    return this.allPositions()[slot] ?? -1;
  }

  slice(start: number, end: number): string[] {
    return Array.from(this.slots.subarray(Math.max(0, start), end), (slot) => this.ids.text(slot));
  }

  all(): string[] {
    return this.slice(0, this.length);
  }

  /** The slots, for asking that these photos stay. */
  get asSlots(): Uint32Array {
    return this.slots;
  }

  private allPositions(): Int32Array {
    if (this.positions) return this.positions;
    const positions = new Int32Array(this.ids.size).fill(-1);
    this.slots.forEach((slot, position) => (positions[slot] = position));
    return (this.positions = positions);
  }
}

export const NO_PHOTOS = new PhotoOrder(new Uint32Array(), new Strings());
