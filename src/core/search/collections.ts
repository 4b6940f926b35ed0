// Collections as the index knows them: photos gathered by hand, scopes that fill themselves, and folders of both. A
// scope that refers to itself, over whatever others, finds nothing there; the interface says so.

import { type Bits, bitsFor, orInto, setBit } from './bit-set';
import type { Columns } from './columns';
import { findNamed, scopeName, type CollectionNode } from '../catalog/collection';
import { plain } from '../text/fold';

/** What the index is told of a collection. */
export type KeptCollection = CollectionNode &
  ({ kind: 'smart'; scope: string } | { kind: 'hand'; photoIds: readonly string[] } | { kind: 'folder' });

export class Collections {
  private readonly known = new Map<string, Bits>();
  /** Those being answered just now: a collection that comes up again refers to itself. */
  private readonly open = new Set<string>();

  constructor(private readonly kept: readonly KeptCollection[]) {}

  /** As a scope may name them. */
  get names(): string[] {
    return this.kept.map((one) => scopeName(this.kept, one));
  }

  /** Photos changed: smart collections have to be looked at again. */
  forget(): void {
    if (this.known.size > 0) this.known.clear();
  }

  /** Of several with one name, the photos of all; `null` where there is none. */
  bitsOf(name: string, columns: Columns, evaluate: (scope: string) => Bits): Bits | null {
    const named = findNamed(this.kept, plain(name));
    if (named.length === 0) return null;
    const found = bitsFor(columns.size);
    for (const one of named) orInto(found, this.bitsOfOne(one, columns, evaluate));
    return found;
  }

  /** Places by slot, in a collection by hand of that name; `null` where there is none. */
  orderOf(name: string, columns: Columns): ReadonlyMap<number, number> | null {
    const one = findNamed(this.kept, plain(name)).find(({ kind }) => kind === 'hand');
    return one?.kind === 'hand' ? new Map(one.photoIds.map((id, at) => [columns.slotOf(id), at])) : null;
  }

  private bitsOfOne(one: KeptCollection, columns: Columns, evaluate: (scope: string) => Bits): Bits {
    const known = this.known.get(one.id);
    if (known) return known;
    const found = bitsFor(columns.size);
    if (this.open.has(one.id)) return found;
    this.open.add(one.id);
    if (one.kind === 'smart') orInto(found, evaluate(one.scope));
    else if (one.kind === 'hand') for (const id of one.photoIds) putIn(found, columns.slotOf(id));
    else
      for (const inside of this.kept)
        if (inside.parentId === one.id) orInto(found, this.bitsOfOne(inside, columns, evaluate));
    this.open.delete(one.id);
    // what was answered while another was open may lack that one's photos
    if (this.open.size === 0) this.known.set(one.id, found);
    return found;
  }
}

function putIn(bits: Bits, slot: number): void {
  if (slot >= 0) setBit(bits, slot);
}
