// Which photos belong together (`core/sift/sets.ts`), kept up to date photo by photo. A change asks anew only for the
// photos it can
// reach: those the same camera took shortly before and after, those of the same base name, those a person put together
// with them, and whatever these reach in turn. Found for all at once, 100,000 take two seconds; for one and its
// neighbours, some milliseconds.

import { ALONE, type Member, SET_LIMITS, type SetKind, findSets, panoramaQuestions } from '../sift/sets';
import { hasBit, slotsIn } from './bit-set';
import type { Columns } from './columns';
import { lowerBound } from '../text/lower-bound';
import { SET_CODES } from './search-record';
import type { Sections } from './sections';
import { marksOf, placeIn, reordered } from './slot-order';

/** A set of the catalog: its photos by slot, in clock order, a companion behind its raw. */
export interface SlotSet {
  kind: SetKind;
  slots: readonly number[];
}

/** The sets of the catalog. */
export interface Sets {
  list: readonly SlotSet[];
  /** Which one a slot is in; −1 for none. */
  of: Int32Array;
}

type SetMember = Member & { slot: number };

/** A stem's hash and a slot in one number that is whole and exact: 31 and 22 bits, for up to four million photos. */
const SLOTS = 2 ** 22;
/**
 * Of more than one photo in so many, all are found anew; in a small catalog what a change reaches is always found by
 * itself.
 */
const MANY = 8;
const SMALL = 1000;

export class PhotoSets {
  private list: SlotSet[] = [];
  private of = new Int32Array(0);
  /** Pairs whose pictures must be compared. */
  private questions: (readonly [number, number])[] = [];
  /** Slots of photos with a clock, by body and clock. */
  private timeline = new Uint32Array(0);
  /** Hashes of stems with their slots, ascending; some may be of stems a photo no longer has. */
  private stems = new Float64Array(0);
  private readonly laterStems = new Map<number, Set<number>>();
  /** The longest exposure of each body, in seconds, by its number; never too short. */
  private longest: number[] = [];
  private readonly changed = new Set<number>();
  /** Nothing is known yet. */
  private whole = true;

  constructor(private readonly columns: Columns) {}

  /** Camera, clock, exposure, name or what was decided by hand of a photo is not what it was, or it came or went. */
  forget(slot: number): void {
    if (!this.whole) this.changed.add(slot);
  }

  get found(): Sets {
    this.update();
    return { list: this.list, of: this.of };
  }

  /** Pairs whose pictures must be compared, at most so many, the last found first. */
  asked(limit: number): (readonly [number, number])[] {
    this.update();
    return this.questions.slice(-limit).reverse();
  }

  private update(): void {
    if (this.of.length < this.columns.size) {
      const of = new Int32Array(Math.ceil(this.columns.size * 1.1)).fill(-1);
      of.set(this.of);
      this.of = of;
    }
    if (this.whole || this.changed.size * MANY > this.columns.size) this.findAll();
    else if (this.changed.size > 0) this.findAround();
    this.changed.clear();
  }

  private findAll(): void {
    const { columns } = this;
    const live = slotsIn(columns.live);
    const members = this.membersOf(live);
    this.of.fill(-1);
    [this.list, this.questions, this.longest] = [[], [], []];
    this.take(members);
    const clock = columns.column('clock');
    this.timeline = live.filter((slot) => !Number.isNaN(clock[slot])).sort((a, b) => this.compare(a, b));
    this.laterStems.clear();
    this.stems = Float64Array.from(
      members.flatMap(({ slot, shot }) => shot.stems.map((stem) => hashOf(stem) * SLOTS + slot)),
    ).sort();
    for (const slot of live) this.noteExposure(slot);
    this.whole = false;
  }

  private findAround(): void {
    const reached = this.reach(this.replace());
    if (reached.size * MANY > this.columns.size && this.columns.size > SMALL) return this.findAll();
    for (const slot of reached) this.drop(this.of[slot] ?? -1);
    this.questions = this.questions.filter(([a, b]) => !reached.has(a) && !reached.has(b));
    this.take(
      this.membersOf(
        Uint32Array.from(reached)
          .sort()
          .filter((slot) => this.columns.isLive(slot)),
      ),
    );
  }

  /** Puts what changed at its new place in the timeline; answers with it and what stood beside it before. */
  private replace(): Set<number> {
    const { changed, timeline, columns } = this;
    const from = new Set(changed);
    const marks = marksOf(changed, columns.size);
    for (let at = 0; at + 1 < timeline.length; at++) {
      const [one, next] = [timeline[at] as number, timeline[at + 1] as number];
      if (marks[one] !== marks[next]) from.add(one).add(next);
    }
    for (const [a, b] of this.questions) if (marks[a] === 1 || marks[b] === 1) from.add(a).add(b);
    const clock = columns.column('clock');
    const placed = Uint32Array.from(changed)
      .filter((slot) => columns.isLive(slot) && !Number.isNaN(clock[slot]))
      .sort((a, b) => this.compare(a, b));
    this.timeline = reordered(timeline, marks, placed, (a, b) => this.compare(a, b));
    for (const slot of changed) {
      if (!columns.isLive(slot)) continue;
      this.noteExposure(slot);
      for (const stem of columns.strings('stems', slot)) {
        const hash = hashOf(stem);
        const later = this.laterStems.get(hash);
        if (later) later.add(slot);
        else this.laterStems.set(hash, new Set([slot]));
      }
    }
    return from;
  }

  /** All photos that a set of theirs could have in common with these, over whatever others. */
  private reach(from: Set<number>): Set<number> {
    const { columns } = this;
    const reached = new Set<number>();
    const next = [...from];
    const add = (slot: number) => void (!reached.has(slot) && next.push(slot));
    for (let slot = next.pop(); slot !== undefined; slot = next.pop()) {
      if (reached.has(slot)) continue;
      reached.add(slot);
      for (const other of this.list[this.of[slot] ?? -1]?.slots ?? []) add(other);
      if (!columns.isLive(slot)) continue;
      for (const other of this.beside(slot)) add(other);
      for (const stem of columns.strings('stems', slot)) for (const other of this.withStem(hashOf(stem))) add(other);
      const given = columns.textColumn('given');
      const number = given.number(slot);
      if (number !== 0 && given.textOf(number) !== ALONE)
        given.raw.forEach((one, other) => one === number && add(other));
    }
    return reached;
  }

  /** The neighbours in time, where they are so near that one set could have both. */
  private beside(slot: number): number[] {
    const { timeline, columns } = this;
    const [clock, body] = [columns.column('clock'), columns.textColumn('body')];
    if (Number.isNaN(clock[slot])) return [];
    const at = placeIn(timeline, timeline.length, slot, (a, b) => this.compare(a, b));
    const reach = SET_LIMITS.panoramaGapSeconds + (this.longest[body.number(slot)] ?? 0);
    return [timeline[at - 1], timeline[at + 1]].filter(
      (other): other is number =>
        other !== undefined &&
        body.number(other) === body.number(slot) &&
        Math.abs((clock[other] as number) - (clock[slot] as number)) <= reach,
    );
  }

  private withStem(hash: number): number[] {
    const { stems } = this;
    const found = [...(this.laterStems.get(hash) ?? [])];
    for (
      let at = lowerBound(stems, hash * SLOTS);
      at < stems.length && (stems[at] as number) < (hash + 1) * SLOTS;
      at++
    )
      found.push((stems[at] as number) % SLOTS);
    return found;
  }

  private compare(a: number, b: number): number {
    const [clock, body] = [this.columns.column('clock'), this.columns.textColumn('body')];
    return body.number(a) - body.number(b) || (clock[a] as number) - (clock[b] as number) || a - b;
  }

  private noteExposure(slot: number): void {
    const seconds = Math.min(this.columns.column('exposure')[slot] ?? NaN, SET_LIMITS.exposureSeconds);
    const body = this.columns.textColumn('body').number(slot);
    if (seconds > (this.longest[body] ?? 0)) this.longest[body] = seconds;
  }

  private membersOf(slots: Uint32Array): SetMember[] {
    const { columns } = this;
    return Array.from(slots, (slot) => ({
      id: columns.ids.text(slot),
      name: columns.strings('names', slot)[0] ?? '',
      shot: columns.shot(slot),
      slot,
    }));
  }

  private take(members: SetMember[]): void {
    for (const { kind, members: of } of findSets(members)) {
      const slots = of.map(({ slot }) => slot);
      for (const slot of slots) this.of[slot] = this.list.length;
      this.list.push({ kind, slots });
    }
    for (const [a, b] of panoramaQuestions(members)) this.questions.push([a.slot, b.slot]);
  }

  /** Takes a set out; the last one gets its number. */
  private drop(number: number): void {
    const last = number < 0 ? undefined : this.list.pop();
    if (!last) return;
    const set = this.list[number] ?? last;
    for (const slot of set.slots) this.of[slot] = -1;
    if (set === last) return;
    this.list[number] = last;
    for (const slot of last.slots) this.of[slot] = number;
  }

  save(sections: Sections): void {
    const { list } = this.found;
    sections.put('sets.slots', Uint32Array.from(list.flatMap(({ slots }) => slots)));
    sections.put(
      'sets.sizes',
      Uint32Array.from(list, ({ slots }) => slots.length),
    );
    sections.put(
      'sets.kinds',
      Uint8Array.from(list, ({ kind }) => SET_CODES.indexOf(kind)),
    );
    sections.put('sets.questions', Uint32Array.from(this.questions.flat()));
    sections.put('sets.timeline', this.timeline.slice());
    const later = [...this.laterStems].flatMap(([hash, slots]) => Array.from(slots, (slot) => hash * SLOTS + slot));
    sections.put('sets.stems', joined(this.stems, later));
  }

  static open(sections: Sections, columns: Columns): PhotoSets {
    const opened = new PhotoSets(columns);
    const [slots, sizes, kinds, questions] = [
      sections.get('sets.slots', Uint32Array),
      sections.get('sets.sizes', Uint32Array),
      sections.get('sets.kinds', Uint8Array),
      sections.get('sets.questions', Uint32Array),
    ];
    opened.of = new Int32Array(columns.size).fill(-1);
    let from = 0;
    opened.list = Array.from(sizes, (size, number) => {
      const members = Array.from(slots.subarray(from, from + size));
      for (const slot of members) opened.of[slot] = number;
      from += size;
      return { kind: SET_CODES[kinds[number] ?? 0] ?? 'chosen', slots: members };
    });
    for (let at = 0; at + 1 < questions.length; at += 2)
      opened.questions.push([questions[at] as number, questions[at + 1] as number]);
    opened.timeline = sections.get('sets.timeline', Uint32Array);
    opened.stems = sections.get('sets.stems', Float64Array);
    for (let slot = 0; slot < columns.size; slot++) if (hasBit(columns.live, slot)) opened.noteExposure(slot);
    opened.whole = false;
    return opened;
  }
}

/** Both in one order, each once. */
function joined(sorted: Float64Array<ArrayBuffer>, more: readonly number[]): Float64Array<ArrayBuffer> {
  const all = new Float64Array(sorted.length + more.length);
  all.set(sorted);
  all.set(more, sorted.length);
  return all.sort().filter((one, at) => one !== all[at - 1]);
}

/** FNV-1a over UTF-16 units (Fowler, Noll, Vo), 31 of its bits. */
function hashOf(text: string): number {
  let hash = 0x811c9dc5;
  for (let at = 0; at < text.length; at++) hash = Math.imul(hash ^ text.charCodeAt(at), 0x01000193);
  return hash >>> 1;
}
