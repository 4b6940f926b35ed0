// What must hold after every act, asked of a plain model: the bytes of every disk before and after, what every catalog
// says, and a memory of what was ever measured, bent, moved, erased and settled. Rows F1 to F12 of the invariants; each
// failure names its row.

import { copyStatusOf } from '@/core/fixity/copies';
import { parseManifestLine } from '@/core/fixity/manifest';
import { asideOf } from '@/core/names/set-aside';
import { isPhotoName } from '@/core/formats/containers/formats';
import type { FileRecord } from '@/storage/catalog/records';
import { isLeftover } from '@/storage/drives/drive';
import { type Disk, sha256Of } from './disks';
import { type CatalogWords, WordsModel } from './words';
import type { World } from './world';

export interface DiskState {
  /** Every file of the person's, by its path: digest of its bytes. */
  photos: Map<string, string>;
  /** Every file at all. */
  all: Map<string, string>;
  /** By the folder the manifest is of and the path in it; a drive that lies in another has one of its own. */
  manifest: Map<string, { folder: string; path: string; sha256: string }>;
  /** Paths the disk's own records call damaged. */
  damaged: Map<string, string>;
  /** What the disk's own records say was verified, and when. */
  readings: Set<string>;
  /** The ids its root and folders are marked with, by folder. */
  marks: Map<string, string>;
}

export interface CatalogState extends CatalogWords {
  files: Map<string, FileRecord>;
}

export interface WorldState {
  disks: Map<Disk, DiskState>;
  catalogs: CatalogState[];
}

const isPhotoPath = (path: string) =>
  isPhotoName(path) &&
  !isLeftover(path) &&
  (!path.includes('_wembo/') || asideOf(path.slice(Math.max(0, path.lastIndexOf('_wembo/')))) !== null);
const text = (disk: Disk, path: string) => disk.drive.text(path) ?? '';

function stateOfDisk(world: World, disk: Disk): DiskState {
  for (const [path, { bytes }] of disk.drive.files) if (isPhotoPath(path)) world.meet(bytes);
  // a drive that takes letters and accents apart has one file under both spellings
  const spelled = (path: string) => (disk.drive.names === 'decomposed' ? path.normalize('NFC') : path);
  const all = new Map([...disk.drive.files].map(([path, { bytes }]) => [spelled(path), sha256Of(bytes)]));
  const state: DiskState = {
    photos: new Map([...all].filter(([path]) => isPhotoPath(path))),
    all,
    manifest: new Map(),
    damaged: new Map(),
    readings: new Set(),
    marks: new Map(),
  };
  let driveId = '';
  for (const path of disk.drive.files.keys()) {
    const [, folder = ''] = /^(.*?)_wembo\/(?:drive\.json|manifest-sha256\.txt|fixity\.jsonl)$/.exec(path) ?? [];
    if (path.endsWith('_wembo/drive.json'))
      state.marks.set(folder, (JSON.parse(text(disk, path)) as { id: string }).id);
    if (path.endsWith('_wembo/manifest-sha256.txt'))
      for (const line of text(disk, path).split('\n')) {
        const read = parseManifestLine(line);
        const key = read && spelled(`${folder}|${read.path}`);
        if (key && state.manifest.has(key)) throw new Error(`F5: ${path} names ${read.path} twice`);
        if (key) state.manifest.set(key, { folder, path: spelled(folder + read.path), sha256: read.sha256 });
      }
    if (path.endsWith('_wembo/fixity.jsonl'))
      for (const line of text(disk, path).split('\n')) {
        const {
          drive,
          path: of = '',
          sha256 = '',
          state: is,
          verified,
        } = (line === '' ? {} : JSON.parse(line)) as {
          drive?: string;
          path?: string;
          sha256?: string;
          state?: string;
          verified?: number;
        };
        driveId = drive ?? driveId;
        if (verified !== undefined)
          state.readings.add(readingOf({ driveId, state: 'present', sha256, verifiedAt: verified }));
        if (is === 'damaged') state.damaged.set(spelled(folder + of), sha256);
      }
  }
  return state;
}

/** @param before what the catalogs said: one that does not run is as it was */
async function stateOf(world: World, before: readonly CatalogState[]): Promise<WorldState> {
  const catalogs = world.catalogs.map(
    (_, index) => before[index] ?? { files: new Map(), photos: new Map(), conflicts: [], collections: new Map() },
  );
  const { db } = world;
  catalogs[world.current] = {
    files: new Map((await db.files.toArray()).map((file) => [file.id, file])),
    photos: new Map((await db.photos.toArray()).map((photo) => [photo.id, photo])),
    conflicts: await db.conflicts.toArray(),
    collections: new Map((await db.collections.toArray()).map((one) => [one.id, one])),
  };
  return { disks: new Map(world.allDisks.map((disk) => [disk, stateOfDisk(world, disk)])), catalogs };
}

/** An act as the model sees it. */
export interface Acted {
  kind: string;
  /** The drive an act of a person was about and came to its end with; `null` where it was stopped or failed. */
  scanned: string | null;
  /** Copies asked for before a card is emptied, and from which place. */
  emptied: { copies: number; disk: Disk; below: string } | null;
}

const fail = (row: string, words: string): never => {
  throw new Error(`${row}: ${words}`);
};

/** Acts by which a person says something in the place of what stands in the catalog. */
const SAYING: ReadonlySet<string> = new Set(['describe', 'undo', 'redo', 'decide', 'keep', 'leave-field']);

export class Model {
  /** Digests of what was damaged after it had been measured: they are nobody's measure. */
  readonly bent = new Set<string>();
  /** Pictures the person erased. */
  readonly erased = new Set<string>();
  /** `disk/path` from which something moved away, by whatever hand, or whose absence was settled. */
  readonly left = new Set<string>();
  private before!: WorldState;
  readonly words: WordsModel;

  constructor(private readonly world: World) {
    this.words = new WordsModel(world);
  }

  /** What the catalog that runs said after the last act. */
  get own(): CatalogState {
    return this.before.catalogs[this.world.current] as CatalogState;
  }

  async begin(): Promise<void> {
    this.before = await stateOf(this.world, []);
  }

  /**
   * Whether the drive's own records measure the file at this path: then other bytes there are damage, for every catalog
   * that ever comes.
   */
  isMeasured(disk: Disk, path: string): boolean {
    const spelled = disk.drive.names === 'decomposed' ? path.normalize('NFC') : path;
    return [...(this.before.disks.get(disk)?.manifest.values() ?? [])].some((line) => line.path === spelled);
  }

  /**
   * The person settled a file: what lies there is right, and what was to lie there is gone, on whichever disk bears the
   * drive's mark, plugged in or not.
   */
  settle({ driveId, path, sha256 }: FileRecord): void {
    for (const [disk, { marks }] of this.before.disks) {
      for (const [folder, id] of marks) {
        if (id !== driveId) continue;
        this.left.add(`${disk.name}/${folder}${path}`);
        const there = disk.drive.files.get(keptPath(disk, folder + path));
        if (there) this.bent.delete(sha256Of(there.bytes));
      }
    }
    if (sha256 !== null) this.bent.delete(sha256);
    this.words.givenUp(this.world.contents.get(sha256 ?? '')?.picture ?? '');
  }

  private isErased(picture: string): boolean {
    return this.erased.has(picture) || this.erased.has(picture.replace(/, as first seen at .*$/, ''));
  }

  /** A catalog comes that may know nothing: what lies bent where no record measures it is what it first sees. */
  seenAnew(): void {
    for (const disk of this.world.allDisks) {
      for (const [path, { bytes }] of disk.drive.files)
        if (isPhotoPath(path) && !this.isMeasured(disk, path)) this.firstSeen(disk, path, bytes);
    }
  }

  /**
   * The records at the root of a disk are gone. What lay bent there and was measured by them alone, in no catalog, is what
   * the next one first sees.
   */
  archiveLost(disk: Disk): void {
    const state = this.before.disks.get(disk);
    const driveId = state?.marks.get('');
    const spelled = (path: string) => path.normalize('NFC');
    const known = new Set([
      ...this.before.catalogs
        .flatMap(({ files }) => [...files.values()])
        .filter((file) => file.driveId === driveId && file.sha256 !== null)
        .map(({ path }) => spelled(path)),
      ...[...(state?.manifest.values() ?? [])].filter(({ folder }) => folder !== '').map(({ path }) => spelled(path)),
    ]);
    for (const [path, { bytes }] of disk.drive.files)
      if (isPhotoPath(path) && !known.has(spelled(path))) this.firstSeen(disk, path, bytes);
  }

  private firstSeen(disk: Disk, path: string, bytes: Uint8Array): void {
    const content = this.world.contents.get(sha256Of(bytes));
    if (!content?.isBent) return;
    this.bent.delete(sha256Of(bytes));
    this.world.remember(bytes, { picture: `${content.picture}, as first seen at ${disk.name}/${path}`, isBent: false });
  }

  erase(picture: string): void {
    this.erased.add(picture);
    this.words.givenUp(picture);
  }

  /** Holds the world against all rows, and remembers it as it is now. */
  async hold(acted: Acted): Promise<void> {
    const after = await stateOf(this.world, this.before.catalogs);
    const { before } = this;
    this.noteMoves(before, after);
    // what was emptied from a folder of a drive was taken from there by us
    if (acted.kind === 'empty' || acted.kind === 'free')
      for (const [disk, { photos }] of before.disks)
        for (const path of photos.keys())
          if (!after.disks.get(disk)?.photos.has(path)) this.left.add(`${disk.name}/${path}`);
    this.holdBytes(before, after, acted);
    this.holdStrangers(before, after);
    this.holdManifests(before, after);
    after.catalogs.forEach((catalog, index) =>
      this.holdCatalog(catalog, before.catalogs[index] as CatalogState, after),
    );
    const own = after.catalogs[this.world.current] as CatalogState;
    if (acted.scanned !== null) this.holdScan(acted.scanned, own, before, after);
    if (SAYING.has(acted.kind)) this.words.personSaid(this.own, own);
    for (const picture of this.erased) this.words.givenUp(picture);
    this.words.hold(after.catalogs);
    this.before = after;
  }

  /** Remembers the world as it is after the world itself changed. */
  async note(isAnotherCatalog = false): Promise<void> {
    const after = await stateOf(this.world, this.before.catalogs);
    this.noteMoves(this.before, after);
    this.words.forget(after.catalogs, isAnotherCatalog);
    this.before = after;
  }

  private noteMoves(before: WorldState, after: WorldState): void {
    for (const [disk, state] of before.disks) {
      const now = after.disks.get(disk);
      for (const [path, sha256] of state.photos) {
        if (!now || this.isPicture(now.photos.get(path), sha256)) continue;
        // it may have been written into on arrival
        const picture = this.world.contents.get(sha256)?.picture;
        if (
          [...now.photos].some(
            ([at, other]) =>
              // it came there: nothing, or something else, had the name before
              !this.isPicture(state.photos.get(at), other) &&
              (other === sha256 || (picture !== undefined && this.world.contents.get(other)?.picture === picture)),
          )
        )
          this.left.add(`${disk.name}/${path}`);
      }
    }
  }

  /** Whether what lies there now still is that picture, whatever was written beside it. */
  private isPicture(now: string | undefined, was: string): boolean {
    const picture = this.world.contents.get(was)?.picture;
    return (
      now === was || (now !== undefined && picture !== undefined && this.world.contents.get(now)?.picture === picture)
    );
  }

  /** F1, F3, F8, F10, F12: no bytes go that were nowhere else. */
  private holdBytes(before: WorldState, after: WorldState, { emptied }: Acted): void {
    const there = new Map<string, Set<Disk>>();
    const pictures = new Set<string>();
    for (const [disk, { photos }] of after.disks) {
      for (const sha256 of photos.values()) {
        there.set(sha256, (there.get(sha256) ?? new Set()).add(disk));
        const content = this.world.contents.get(sha256);
        if (content && !content.isBent) pictures.add(content.picture);
      }
    }
    for (const [disk, { photos }] of before.disks) {
      for (const [path, sha256] of photos) {
        if (there.has(sha256)) continue;
        const content = this.world.contents.get(sha256);
        if (content && (this.isErased(content.picture) || (!content.isBent && pictures.has(content.picture)))) continue;
        fail(
          'F1',
          `${disk.name}/${path} (${content?.picture ?? 'unknown'}${content?.isBent ? ', bent' : ''}) is nowhere any more`,
        );
      }
    }
    if (!emptied) return;
    const now = after.disks.get(emptied.disk);
    for (const [path, sha256] of before.disks.get(emptied.disk)?.photos ?? []) {
      if (!path.startsWith(emptied.below) || now?.photos.has(path)) continue;
      const picture = this.world.contents.get(sha256)?.picture;
      const copies = [...after.disks].filter(
        ([disk, { photos }]) =>
          (disk !== emptied.disk || emptied.below !== '') &&
          [...photos].some(
            ([at, other]) =>
              !(disk === emptied.disk && at.startsWith(emptied.below)) &&
              (other === sha256 ||
                (picture !== undefined &&
                  this.world.contents.get(other)?.picture === picture &&
                  !this.world.contents.get(other)?.isBent)),
          ),
      );
      if (copies.length < emptied.copies)
        fail('F3', `${path} went from the card with ${copies.length} of ${emptied.copies} copies`);
    }
  }

  /** F6: what bears no mark, or the mark of nobody here, is never touched. */
  private holdStrangers(before: WorldState, after: WorldState): void {
    for (const disk of this.world.strangers) {
      const [was, is] = [
        before.disks.get(disk)?.all ?? new Map<string, string>(),
        after.disks.get(disk)?.all ?? new Map<string, string>(),
      ];
      for (const [path, sha256] of is)
        if (was.get(path) !== sha256) fail('F6', `${disk.name}/${path} was written on a disk that is not ours`);
      for (const path of was.keys())
        if (!is.has(path)) fail('F6', `${disk.name}/${path} was taken from a disk that is not ours`);
    }
  }

  /** F4, F5: lines stay, and say what was first measured. */
  private holdManifests(before: WorldState, after: WorldState): void {
    for (const [disk, { manifest, photos }] of after.disks) {
      // a folder that is connected by itself does not see what the drive around it has measured
      for (const { folder, path, sha256 } of manifest.values())
        if (folder === '' && this.bent.has(sha256))
          fail('F4', `the manifest of ${disk.name} measures ${path} by its damage`);
      const was = before.disks.get(disk);
      for (const [key, { path, sha256 }] of was?.manifest ?? []) {
        const line = manifest.get(key)?.sha256;
        const picture = this.world.contents.get(sha256)?.picture ?? '';
        if (line === sha256 || this.left.has(`${disk.name}/${path}`) || this.isErased(picture)) continue;
        if (line === undefined)
          fail('F5', `the manifest of ${disk.name} lost ${path}${photos.has(path) ? ', which is there' : ''}`);
        else if (this.world.contents.get(line)?.picture !== picture)
          fail('F4', `${path} on ${disk.name} has another measure`);
      }
    }
  }

  /** F2, F4, F9, F11, of one catalog. */
  private holdCatalog(catalog: CatalogState, before: CatalogState, world: WorldState): void {
    const pictures = new Map<string, string>();
    const known = new Set([
      ...[...before.files.values()].map(readingOf),
      ...[...this.before.disks.values()].flatMap(({ readings }) => [...readings]),
    ]);
    for (const [id, file] of catalog.files) {
      const photo = file.photoId === null ? undefined : catalog.photos.get(file.photoId);
      if (file.sha256 !== null && this.bent.has(file.sha256) && !this.isNested(file.driveId, world))
        fail('F4', `the catalog measures ${id} by its damage`);
      const was = before.files.get(id);
      const pictureOf = (sha256: string | null | undefined) => this.world.contents.get(sha256 ?? '')?.picture;
      if (
        was?.sha256 &&
        was.photoId === file.photoId &&
        pictureOf(was.sha256) !== pictureOf(file.sha256) &&
        !this.isLeft(file, world)
      )
        fail('F4', `${id} has another measure than before`);
      if (photo?.sha256 && file.state === 'present' && file.sha256 !== null && copyStatusOf(file, photo) === 'in-doubt')
        fail('F11', `${id} is of a photo whose measure it does not have`);
      const isVerified = photo !== undefined && copyStatusOf(file, photo) === 'verified';
      const isNews = !known.has(readingOf(file));
      const there = this.bytesAt(file, world);
      // a file we wrote into when the browser was killed has the same picture, and another length and time than
      // recorded: it is read again
      const isRight = (sha256: string) =>
        sha256 === file.sha256 ||
        (!this.bent.has(sha256) && pictureOf(sha256) !== undefined && pictureOf(sha256) === pictureOf(file.sha256));
      if (isVerified && isNews && there.length > 0 && !there.some(isRight))
        fail('F2', `${id} counts as verified and is not its measure`);
      if (isVerified && isNews && there.length === 0 && this.isMarkAnywhere(file.driveId, world))
        fail('F2', `${id} counts as verified and is not there`);
      if (file.state === 'damaged' && isNews && there.length > 0 && there.every((sha256) => sha256 === file.sha256))
        fail('F9', `${id} counts as damaged and is its measure`);
      if (!isVerified || file.photoId === null) continue;
      const picture = this.world.contents.get(file.sha256 ?? '')?.picture ?? '';
      const other = pictures.get(file.photoId);
      if (other !== undefined && other !== picture)
        fail('F11', `photo ${file.photoId} is made of ${other} and ${picture}`);
      pictures.set(file.photoId, picture);
    }
  }

  private isNested(driveId: string, { disks }: WorldState): boolean {
    return [...disks.values()].some(({ marks }) => [...marks].some(([folder, id]) => id === driveId && folder !== ''));
  }

  private isLeft(file: FileRecord, { disks }: WorldState): boolean {
    return [...disks].some(([disk, { marks }]) =>
      [...marks].some(([folder, id]) => id === file.driveId && this.left.has(`${disk.name}/${folder}${file.path}`)),
    );
  }

  private isMarkAnywhere(driveId: string, { disks }: WorldState): boolean {
    return [...disks.values()].some(({ marks }) => [...marks.values()].includes(driveId));
  }

  /** What lies where a record says, or where it was just being moved to, on every disk that bears the drive's mark. */
  private bytesAt(file: FileRecord, { disks }: WorldState): string[] {
    return [...disks].flatMap(([disk, { marks }]) =>
      [...marks].flatMap(([folder, id]) => {
        const places = id === file.driveId ? [file.path, ...(file.movingTo === null ? [] : [file.movingTo])] : [];
        const there = places
          .map((path) => disk.drive.files.get(keptPath(disk, folder + path)))
          .find((one) => one !== undefined);
        return there ? [sha256Of(there.bytes)] : [];
      }),
    );
  }

  /** F5, F9: what the disk's own records said was damaged or there before a scan, the catalog says after it. */
  private holdScan(driveId: string, catalog: CatalogState, before: WorldState, after: WorldState): void {
    for (const [disk, { damaged, manifest, marks }] of before.disks) {
      for (const [folder, id] of marks) {
        const isNested = (path: string) =>
          [...marks.keys()].some((other) => other !== folder && other.startsWith(folder) && path.startsWith(other));
        if (id !== driveId || this.world.places.at(this.world.catalog.placeOf.get(driveId) ?? '')?.disk !== disk)
          continue;
        const photos = after.disks.get(disk)?.photos ?? new Map<string, string>();
        const fileAt = (path: string) =>
          catalog.files.get(`${driveId}/${path.slice(folder.length)}`) ??
          catalog.files.get(`${driveId}/${path.slice(folder.length).normalize('NFD')}`);
        for (const [path, sha256] of damaged) {
          const there = photos.get(path);
          if (
            path.startsWith(folder) &&
            !isNested(path) &&
            there !== undefined &&
            there !== sha256 &&
            this.bent.has(there) &&
            fileAt(path)?.state !== 'damaged'
          )
            fail('F9', `${disk.name}/${path} was found damaged, and a scan has forgotten it`);
        }
        for (const line of manifest.values()) {
          const { path } = line;
          if (
            line.folder !== folder ||
            isNested(path) ||
            photos.has(path) ||
            this.left.has(`${disk.name}/${path}`) ||
            this.isErased(this.world.contents.get(line.sha256)?.picture ?? '')
          )
            continue;
          if (fileAt(path)?.state !== 'missing')
            fail('F5', `${disk.name}/${path} is missing, and a scan does not say so`);
        }
      }
    }
  }
}

/** What was said of a file when it was last read, wherever it lies now. */
const readingOf = ({
  driveId,
  state,
  sha256,
  verifiedAt,
}: Pick<FileRecord, 'driveId' | 'state' | 'sha256' | 'verifiedAt'>): string =>
  [driveId, state, sha256, verifiedAt].join(' ');

function keptPath(disk: Disk, path: string): string {
  if (disk.drive.files.has(path) || disk.drive.names === 'exact') return path;
  return (
    [...disk.drive.files.keys()].find(
      (there) => there.toLowerCase().normalize('NFC') === path.toLowerCase().normalize('NFC'),
    ) ?? path
  );
}
