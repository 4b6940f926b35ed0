// Decoded pictures at hand: the one that is looked at, three ahead and two behind at the size of the screen, real
// pixels of the one or few that are looked at so. Each is kept under the id of its photo; whoever draws asks by that
// id, so that no picture can stand under the name of another. What falls out of the window is closed at once: a decoded
// picture is large.

import { type Corrections, NO_CORRECTIONS, correctionsIn, isIdentity, lookText } from '@/core/looks/corrections';
import { cutOf } from '@/core/looks/geometry';
import type { OpenedFile } from '@/storage/drives/drive';
import type { PictureProblem } from '@/core/problems/problem';
import { pictureProblemOf } from '@/core/problems/undecodable';
import type { FileRecord, PhotoRecord } from '@/storage/catalog/records';
import { OF_PREVIEW } from '@/storage/file-tasks/file-tasks';
import type { Region } from '@/workers/decoding/decoding';
import type { PictureClient } from '@/workers/picture-client';
import type { OpenedPicture } from '@/workers/decoding/decoding';

export type PictureSize = 'preview' | 'screen' | 'full';

/** Why what is shown is not the original as it is. */
export type Instead = 'away' | 'undecodable' | 'embedded' | 'developed' | null;

/** A part of a picture that is too large to be held whole: where it lies in it, and how many pixels are asked for. */
export interface PicturePart {
  region: Region;
  /** The long edge at most; `null` for real ones. */
  pixels: number | null;
}

export interface WantedPicture {
  id: string;
  sizes: readonly PictureSize[];
  /** Of a file with several pages, from 0. */
  page?: number;
  /** What `full` is to be of it; absent for all of it. */
  part?: PicturePart | undefined;
  /** How it is corrected, as a text; where that changes, it is opened anew. */
  look?: string;
}

export interface Picture {
  bitmap: ImageBitmap;
  size: PictureSize;
  instead: Instead;
  /** Why the original cannot be shown. */
  why: PictureProblem | null;
  /** Not for a file that breaks off: it is shown as far as it goes. */
  whole: boolean;
  /** The size of all of it, where that is known. */
  full: { width: number; height: number } | null;
  pages: number;
  /** What of it the bitmap is; `null` for all. */
  part: PicturePart | null;
  /** How it is corrected. */
  look: string;
}

/** How a preview stands in for a picture. */
interface FromBlob extends Pick<Picture, 'size' | 'instead' | 'why'> {
  corrections: Corrections;
  ahead: boolean;
}

export interface Shown {
  /** The best there is now. */
  picture: Picture | null;
  /** All of it, of which `picture` is a part. */
  beneath: Picture | null;
  /** Nothing better will come. */
  settled: boolean;
}

export interface PictureSources {
  photo: (photoId: string) => Promise<PhotoRecord | undefined>;
  original: (photoId: string) => Promise<{ file: OpenedFile; record: FileRecord } | null>;
  preview: (photoId: string) => Promise<Blob | null>;
  largePreview: (photoId: string) => Promise<Blob | null>;
  pictures: () => PictureClient;
  /** The original is looked at, pixel by pixel; `whole` where all of it could be drawn. */
  onSeen: (record: FileRecord, whole: boolean) => void;
}

const SIZES: PictureSize[] = ['full', 'screen', 'preview'];
const NOTHING: Shown = { picture: null, beneath: null, settled: false };

interface Entry {
  pictures: Map<PictureSize, Picture>;
  loading: Set<PictureSize>;
  /** Sizes that were tried and are as good as they get. */
  tried: Set<PictureSize>;
  shown: Shown;
}

export class PictureStore {
  private readonly entries = new Map<string, Entry>();
  private readonly listeners = new Set<() => void>();
  private wanted = new Map<string, Set<PictureSize>>();
  private list: readonly WantedPicture[] = [];
  private fetching = 0;

  /** @param screenPixels the long edge of what fits the screen */
  constructor(
    private readonly sources: PictureSources,
    private readonly screenPixels: () => number,
  ) {}

  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  /** The same object as long as nothing changed. */
  shown(photoId: string, page = 0): Shown {
    return this.entries.get(keyOf({ id: photoId, page }))?.shown ?? NOTHING;
  }

  /** Real pixels, or the largest there is of them. */
  has(photoId: string, size: PictureSize): boolean {
    return this.entries.get(photoId)?.pictures.has(size) ?? false;
  }

  /** What is to be at hand from now on, most urgent first; everything else is let go. */
  want(list: readonly WantedPicture[]): void {
    this.wanted = new Map();
    for (const one of list) {
      const key = keyOf(one);
      this.wanted.set(key, new Set([...(this.wanted.get(key) ?? []), ...one.sizes]));
      const entry = this.entries.get(key);
      // another part: what there is stays in sight until that comes
      if (entry && !samePart(entry.pictures.get('full')?.part ?? null, one.part ?? null)) entry.tried.delete('full');
      // corrected otherwise: the same
      for (const [size, { look }] of entry?.pictures ?? [])
        if (one.look !== undefined && look !== one.look) entry?.tried.delete(size);
    }
    for (const [id, entry] of this.entries) {
      const keep = this.wanted.get(id);
      for (const [size, { bitmap }] of entry.pictures) {
        if (keep?.has(size)) continue;
        bitmap.close();
        entry.pictures.delete(size);
        entry.tried.delete(size);
      }
      if (!keep) this.entries.delete(id);
      else this.settle(id, entry);
    }
    this.list = list;
    void this.fetch();
  }

  /**
   * One after the other, what is looked at before what is fetched ahead: several large pictures decoded at once make
   * each of them late. The small previews of all come at once beside that.
   */
  private async fetch(): Promise<void> {
    const mine = ++this.fetching;
    const { list } = this;
    list.forEach((one, index) => one.sizes.includes('preview') && void this.load(one, 'preview', index > 0));
    for (const large of ['screen', 'full'] as const)
      if (list[0]?.sizes.includes(large)) await this.load(list[0], large, false);
    for (const one of list.slice(1)) {
      for (const large of ['screen', 'full'] as const) {
        if (mine !== this.fetching) return;
        if (one.sizes.includes(large)) await this.load(one, large, true);
      }
    }
  }

  /** Files that were away may be there now: what was tried in vain is tried again. */
  again(): void {
    for (const entry of this.entries.values()) {
      for (const size of entry.tried)
        if (!entry.pictures.has(size) || entry.pictures.get(size)?.instead === 'away') entry.tried.delete(size);
    }
    void this.fetch();
  }

  close(): void {
    this.want([]);
  }

  private entryOf(id: string): Entry {
    const entry = this.entries.get(id) ?? { pictures: new Map(), loading: new Set(), tried: new Set(), shown: NOTHING };
    this.entries.set(id, entry);
    return entry;
  }

  private async load(wanted: WantedPicture, size: PictureSize, ahead: boolean): Promise<void> {
    const id = keyOf(wanted);
    const entry = this.entryOf(id);
    if (entry.loading.has(size) || entry.tried.has(size)) return;
    entry.loading.add(size);
    const picture = await this.open(wanted, size, ahead).catch(() => null);
    entry.loading.delete(size);
    if (this.entries.get(id) !== entry || !this.wanted.get(id)?.has(size)) {
      picture?.bitmap.close(); // no longer wanted when it came
      return;
    }
    entry.tried.add(size);
    const before = entry.pictures.get(size);
    if (picture) entry.pictures.set(size, picture);
    this.settle(id, entry);
    if (picture) before?.bitmap.close();
    // the view went on while this part was decoded, or it was corrected meanwhile
    const now = this.list.find((one) => keyOf(one) === id);
    const isOther = size === 'full' && !samePart(wanted.part ?? null, now?.part ?? null);
    const isStale =
      picture !== null && now?.look !== undefined && now.look !== wanted.look && now.look !== picture.look;
    if (now && (isOther || isStale)) {
      entry.tried.delete(size);
      void this.load(now, size, ahead);
    }
  }

  private async open(
    { id, page = 0, part }: WantedPicture,
    size: PictureSize,
    ahead: boolean,
  ): Promise<Picture | null> {
    const { sources } = this;
    const photo = await sources.photo(id);
    // of a file with several pages the first is the photo
    const corrections = page === 0 ? correctionsIn(photo?.fields.corrections) : NO_CORRECTIONS;
    const instead = (reason: Instead, why: PictureProblem | null, embedded: OpenedPicture | null) =>
      this.ofPreview(id, { size, ahead, corrections, instead: reason, why }, embedded);
    if (size === 'preview')
      return page > 0
        ? null
        : this.ofBlob(await sources.preview(id), { size, ahead, corrections, instead: null, why: null });
    const found = photo ? await sources.original(id) : null;
    if (!found || !photo) return instead('away', null, null);
    const ofPart = size === 'full' ? part : undefined;
    const pixels = size === 'full' ? (part?.pixels ?? null) : this.pixelsFor(photo, corrections);
    const wanted = { pixels, page, quick: size === 'screen', corrections, ...(ofPart && { region: ofPart.region }) };
    const shown = sources.pictures().show(found.file, photo, wanted, ahead);
    const opened = await shown.catch((error: unknown) => pictureProblemOf(error));
    if ('code' in opened) {
      if (size === 'full' && !ahead) sources.onSeen(found.record, false);
      return instead('undecodable', opened, null);
    }
    if (size === 'full' && !ahead) sources.onSeen(found.record, opened.from !== 'embedded' && opened.whole);
    if (opened.from === 'embedded') return instead('embedded', null, opened);
    return {
      ...pick(opened),
      size,
      instead: opened.from === 'developed' ? 'developed' : null,
      why: null,
      part: ofPart ?? null,
      look: lookText(corrections),
    };
  }

  /** So many that what remains of the picture fills the screen. */
  private pixelsFor({ width, height }: PhotoRecord, corrections: Corrections): number {
    if (!width || !height || isIdentity(corrections)) return this.screenPixels();
    const kept = cutOf({ width, height }, corrections);
    return Math.ceil((this.screenPixels() * Math.max(width, height)) / Math.max(kept.width, kept.height));
  }

  /** The larger one of what the file has embedded and the previews that are kept. */
  private async ofPreview(id: string, how: FromBlob, embedded: OpenedPicture | null): Promise<Picture | null> {
    const large = await this.ofBlob(await this.sources.largePreview(id), how);
    if (embedded && (!large || embedded.bitmap.width > large.bitmap.width)) {
      large?.bitmap.close();
      const { size, instead, why, corrections } = how;
      return { ...pick(embedded), size, instead, why, part: null, look: lookText(corrections) };
    }
    embedded?.bitmap.close();
    return large ?? this.ofBlob(await this.sources.preview(id), how);
  }

  private async ofBlob(
    blob: Blob | null,
    { size, ahead, corrections, instead, why }: FromBlob,
  ): Promise<Picture | null> {
    const wanted = { pixels: null, corrections };
    const opened = blob && (await this.sources.pictures().show(blob, OF_PREVIEW, wanted, ahead));
    return opened && { ...pick(opened), size, instead, why, part: null, look: lookText(corrections) };
  }

  private settle(id: string, entry: Entry): void {
    const size = SIZES.find((one) => entry.pictures.has(one));
    const picture = (size && entry.pictures.get(size)) ?? null;
    const beneath = picture?.part ? (entry.pictures.get('screen') ?? entry.pictures.get('preview') ?? null) : null;
    const settled = [...(this.wanted.get(id) ?? [])].every((one) => entry.tried.has(one));
    const { shown } = entry;
    if (shown.picture === picture && shown.beneath === beneath && shown.settled === settled) return;
    entry.shown = { picture, beneath, settled };
    for (const listener of this.listeners) listener();
  }
}

const pick = ({ bitmap, whole, full, pages }: OpenedPicture) => ({ bitmap, whole, full, pages });

/** The first page goes by the name of its photo. */
const keyOf = ({ id, page = 0 }: Pick<WantedPicture, 'id' | 'page'>): string => (page > 0 ? `${id} page ${page}` : id);

const samePart = (a: PicturePart | null, b: PicturePart | null): boolean =>
  a === b || (a !== null && b !== null && a.pixels === b.pixels && sameRegion(a.region, b.region));

const sameRegion = (a: Region, b: Region): boolean =>
  a.left === b.left && a.top === b.top && a.width === b.width && a.height === b.height;
