// What must hold of words, rows W1 to W8 of the invariants, asked of a plain memory: every word that was ever said has
// a name of its own, and stays alive until somebody who saw it says something else in its place. Whatever happens, a
// word that is alive is found: in a catalog, in a conflict, in a sidecar, in an image, in a saved item. At rest none that is
// not alive holds anywhere, and catalog and sidecars say the same.

import { effectiveFields, foundWords, parseSidecar } from '@/core/metadata/xmp/sidecar';
import type { FieldKey, FieldValues } from '@/core/fields/registry';
import type { Collection } from '@/core/catalog/collection';
import type { ConflictRecord, PhotoRecord } from '@/storage/catalog/records';
import { embeddedIn } from '@/storage/catalog/sidecars';
import { isLeftover } from '@/storage/drives/drive';
import { bytesOf } from '@/storage/drives/safe-write';
import { type Disk, sha256Of } from './disks';
import type { World } from './world';

export const WORD_FIELDS = ['headline', 'city', 'source'] as const satisfies readonly FieldKey[];

/** Words end as they begin, so that none is found in another. */
const WORD = /w\d+w/g;
const NAME = /k\d+k/g;
const CHOICE = /c\d+c/;

export interface CatalogWords {
  photos: Map<string, PhotoRecord>;
  conflicts: ConflictRecord[];
  collections: Map<string, Collection>;
}

const fail = (row: string, words: string): never => {
  throw new Error(`${row}: ${words}`);
};

const valueOf = (fields: FieldValues | undefined, key: FieldKey): string | null => {
  const value = fields?.[key];
  return typeof value === 'string' && new RegExp(`^(?:${WORD.source})$`).test(value) ? value : null;
};

const found = new WeakMap<Uint8Array, string[]>();

/** The words that stand anywhere in these bytes. */
export function wordsIn(bytes: Uint8Array): string[] {
  const known =
    found.get(bytes) ??
    Buffer.from(bytes)
      .toString('latin1')
      .match(new RegExp(`${WORD.source}|${NAME.source}`, 'g')) ??
    [];
  found.set(bytes, known);
  return known;
}

export class WordsModel {
  private number = 0;
  /** Of what each word was said: the picture, or a collection. */
  private readonly said = new Map<string, string>();
  private readonly alive = new Set<string>();
  /**
   * Words that somebody saw and said something else in the place of; and the disk on which another program did, which a
   * catalog must hear to know it.
   */
  private readonly replaced = new Map<string, Disk | null>();

  constructor(private readonly world: World) {}

  newWord(of: string): string {
    const word = `w${++this.number}w`;
    this.said.set(word, of);
    return word;
  }

  newName(): string {
    const name = `k${++this.number}k`;
    this.said.set(name, '');
    return name;
  }

  /** What is chosen is no word: of two choices made apart one holds. It is only asked for where it holds. */
  newChoice(): string {
    return `c${++this.number}c`;
  }

  /** Another program says something in the place of what stood there. */
  saidElsewhere(word: string, instead: string | null, disk: Disk): void {
    if (instead) this.replace(instead, disk);
    this.say(word);
  }

  private say(word: string): void {
    this.alive.add(word);
    this.replaced.delete(word);
  }

  private replace(word: string, on: Disk | null = null): void {
    this.alive.delete(word);
    this.replaced.set(word, on);
  }

  /**
   * Another program wrote the image anew, with nothing of what stood in it: some of that it saw, and some it cannot
   * have seen.
   */
  replacedInImage(bytes: Uint8Array): void {
    for (const word of wordsIn(bytes)) this.alive.delete(word);
  }

  /** What an act of the person's changed in the catalog: that was seen, and what stands there now was said. */
  personSaid(before: CatalogWords, after: CatalogWords): void {
    for (const [id, photo] of after.photos) {
      const was = before.photos.get(id);
      for (const key of was ? WORD_FIELDS : []) {
        const [old, now] = [valueOf(was?.fields, key), valueOf(photo.fields, key)];
        if (old === now) continue;
        if (old) this.replace(old);
        if (now) this.say(now);
      }
    }
    for (const conflict of before.conflicts) {
      if (after.conflicts.some(({ fileId, foundAt }) => fileId === conflict.fileId && foundAt === conflict.foundAt))
        continue;
      for (const key of WORD_FIELDS) {
        const theirs = conflict.keys.includes(key) ? valueOf(conflict.theirs, key) : null;
        if (theirs && valueOf(after.photos.get(conflict.photoId)?.fields, key) !== theirs) this.replace(theirs);
      }
    }
    for (const conflict of after.conflicts) {
      if (before.conflicts.some(({ fileId, foundAt }) => fileId === conflict.fileId && foundAt === conflict.foundAt))
        continue;
      for (const key of WORD_FIELDS) {
        const theirs = conflict.keys.includes(key) ? valueOf(conflict.theirs, key) : null;
        if (theirs) this.say(theirs);
      }
    }
    for (const [id, { name, deleted }] of after.collections) {
      const was = before.collections.get(id);
      const [old] = (was && !was.deleted ? was.name.match(NAME) : null) ?? [];
      const [now] = (deleted ? null : name.match(NAME)) ?? [];
      if (old === now) continue;
      if (old) this.replace(old);
      if (now) this.say(now);
    }
  }

  /** What an act of the person's was about is given up: erased, or settled as gone. */
  givenUp(picture: string): void {
    for (const [word, of] of this.said) if (of === picture && picture !== '') this.alive.delete(word);
  }

  private places(catalogs: readonly CatalogWords[]): Set<string> {
    const there = new Set<string>();
    for (const { photos, conflicts, collections } of catalogs) {
      for (const { fields } of photos.values()) for (const key of WORD_FIELDS) there.add(valueOf(fields, key) ?? '');
      for (const { theirs, keys } of conflicts) for (const key of keys) there.add(valueOf(theirs, key) ?? '');
      for (const { name } of collections.values()) for (const word of name.match(NAME) ?? []) there.add(word);
    }
    // a part that an interruption left behind is no place: it is cleared away
    for (const disk of this.world.allDisks)
      for (const [path, { bytes }] of disk.drive.files)
        for (const word of isLeftover(path) ? [] : wordsIn(bytes)) there.add(word);
    return there;
  }

  /** W1, W2, W3, W4, W8: nothing that anybody said, and nobody who saw it replaced, is nowhere. */
  hold(catalogs: readonly CatalogWords[]): void {
    const there = this.places(catalogs);
    for (const word of this.alive)
      if (!there.has(word))
        fail('W2', `${word}${this.said.get(word) ? ` of ${this.said.get(word)}` : ', a name,'} is nowhere any more`);
  }

  /** The world changed, or a browser's data are gone: what went with that is no fault of ours. */
  forget(catalogs: readonly CatalogWords[], isAnotherCatalog: boolean): void {
    const there = this.places(catalogs);
    for (const word of this.alive) {
      if (!there.has(word)) this.alive.delete(word);
    }
    // that it was replaced may be known to the data alone that are gone, or to a catalog that has not written it yet
    if (isAnotherCatalog) for (const word of this.replaced.keys()) if (there.has(word)) this.replaced.delete(word);
  }

  /**
   * W5, W6, W7: everything is plugged in and written. Nothing holds that was replaced, and every sidecar says what the
   * catalog says.
   */
  async holdAtRest(words: CatalogWords): Promise<void> {
    const { db } = this.world;
    const heard = this.world.heardDisks();
    for (const photo of words.photos.values()) {
      const conflicts = words.conflicts.filter(({ photoId }) => photoId === photo.id);
      for (const key of WORD_FIELDS) {
        const value = valueOf(photo.fields, key);
        const replacedOn = value === null ? undefined : this.replaced.get(value);
        const isBack = replacedOn === null || (replacedOn !== undefined && heard.has(replacedOn));
        if (isBack && !(await this.wasSent(photo.id)))
          fail('W6', `${String(value)} holds in ${key} again, although it was replaced`);
      }
      if (conflicts.length > 0) continue;
      for (const file of await db.files.where('photoId').equals(photo.id).toArray()) {
        const drive = this.world.driveOf(file.driveId);
        if (!drive || file.state !== 'present') continue;
        // without one of its own the image speaks for itself
        const opened = file.sidecar ? await drive.open(file.sidecar.path).catch(() => null) : null;
        const sidecar = opened ? parseSidecar(new Uint8Array(await opened.arrayBuffer())) : null;
        const says = effectiveFields(embeddedIn(file, photo), sidecar?.state === 'read' ? sidecar.value : null);
        for (const key of WORD_FIELDS)
          if (valueOf(says, key) !== valueOf(photo.fields, key))
            fail('W7', `${file.id} says ${String(says[key])} in ${key}, and the catalog ${String(photo.fields[key])}`);
      }
    }
    for (const collection of words.collections.values()) {
      const [name] = (collection.deleted ? null : collection.name.match(NAME)) ?? [];
      for (const { id } of name ? await db.drives.toArray() : []) {
        const drive = this.world.driveOf(id);
        const opened = await drive?.open('_wembo/collections.json').catch(() => null);
        if (drive && name && !(opened && new TextDecoder().decode(await bytesOf(opened)))?.includes(name))
          fail('W8', `the collection ${name} is not on ${id}`);
      }
    }
    for (const { id: setting, value } of await db.settings.toArray()) {
      const [chosen] = JSON.stringify(value).match(CHOICE) ?? [];
      for (const { id } of chosen ? await db.drives.toArray() : []) {
        const drive = this.world.driveOf(id);
        const opened = await drive?.open('_wembo/settings.json').catch(() => null);
        if (drive && chosen && !(opened && new TextDecoder().decode(await bytesOf(opened)))?.includes(chosen))
          fail('W8', `what was chosen for ${setting} is not on ${id}`);
      }
    }
    const open = new Set(words.conflicts.map(({ fileId }) => fileId));
    for (const { id, driveId, task, problem } of await db.outbox.toArray()) {
      // a file that is missing may come back: what is to become of it waits for it
      const isAway =
        (task.kind === 'move' || task.kind === 'erase') && (await db.files.get(task.fileId))?.state === 'missing';
      const isOpen = task.kind === 'sidecar' && open.has(task.fileId);
      const mayWait = isAway || isOpen || task.kind === 'copy' || task.kind === 'manifest';
      if (this.world.driveOf(driveId) && !mayWait && problem === null) fail('W7', `at rest, ${id} still waits`);
    }
    const last = (await db.journal.orderBy('seq').last())?.seq;
    for (const { id, historyThrough } of last === undefined ? [] : await db.drives.toArray()) {
      if (this.world.driveOf(id) && (historyThrough?.[db.catalogId] ?? 0) < (last ?? 0))
        fail('W8', `the history on ${id} ends before act ${String(last)}`);
    }
  }

  /** A file that was sent says what held when it went: a catalog that never heard of the delivery takes it for a photo. */
  private async wasSent(photoId: string): Promise<boolean> {
    for (const { driveId, path } of await this.world.db.files.where('photoId').equals(photoId).toArray()) {
      const opened = await this.world
        .driveOf(driveId)
        ?.open(path)
        .catch(() => null);
      const bytes = opened && new Uint8Array(await opened.arrayBuffer());
      if (bytes && this.world.contents.get(sha256Of(bytes))?.picture.startsWith('sent ')) return true;
    }
    return false;
  }

  /** W6: a catalog made anew says of every picture what the one before said, where that was settled. */
  holdRebuilt(before: ReadonlyMap<string, FieldValues>, after: ReadonlyMap<string, FieldValues>): void {
    for (const [picture, fields] of before) {
      const again = after.get(picture);
      for (const key of again ? WORD_FIELDS : [])
        if (valueOf(fields, key) !== valueOf(again, key))
          fail(
            'W6',
            `made anew, ${picture} says ${String(again?.[key])} in ${key} where it said ${String(fields[key])}`,
          );
    }
  }
}

/**
 * Whether all that a sidecar says in these fields is as Wembo wrote it: an older state of it, put back, is known for
 * what it is.
 */
export function isOurs(bytes: Uint8Array): boolean {
  const parsed = parseSidecar(bytes);
  if (parsed.state !== 'read') return false;
  const { fields, versions, foreign } = foundWords({}, parsed.value);
  return foreign.size === 0 && WORD_FIELDS.every((key) => fields[key] === undefined || versions[key] !== undefined);
}

/** The sidecars on a disk, by their paths. */
export const sidecarsOn = (disk: Disk): string[] =>
  [...disk.drive.files.keys()]
    .filter((path) => path.toLowerCase().endsWith('.xmp') && !path.includes('_wembo/') && !path.includes('.part'))
    .sort();
