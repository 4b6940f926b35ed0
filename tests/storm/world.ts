// A world for the storm: disks, places, a card, one or two catalogs, and the application's own storage code acting on
// them, without screens.

import { planTakeIn } from '@/core/take-in/plan';
import { inClockOrder } from '@/core/take-in/runs';
import { NEW_SHEET, type Sheet } from '@/core/take-in/sheet';
import { planSet } from '@/core/fields/edits';
import { newCollection } from '@/core/catalog/collection';
import type { FieldKey } from '@/core/fields/registry';
import { copyStatusOf } from '@/core/fixity/copies';
import type { Change } from '@/core/catalog/change';
import { nextNumber } from '@/storage/catalog/accessions';
import {
  archiveItem,
  historyItem,
  keepSetting,
  makeChange,
  manifestItem,
  redoNext,
  pathToBe,
  undoLast,
} from '@/storage/catalog/changes';
import { backupOf, restoreBackup } from '@/storage/catalog/backup';
import { CatalogDatabase } from '@/storage/catalog/database';
import { queueEmbedding } from '@/storage/catalog/embedding';
import { emptyOutbox } from '@/storage/catalog/outbox';
import type {
  AccessionFileRecord,
  AccessionRecord,
  BagAsked,
  DriveRecord,
  FileRecord,
} from '@/storage/catalog/records';
import { folderIn } from '@/core/names/file-names';
import { folderRefusal, planMoveFolder, planMoveInto } from '@/storage/catalog/folder-moves';
import { DRIVE_STANDINGS } from '@/core/fixity/drive-facts';
import { listDoubles, planDoubles } from '@/storage/catalog/doubles';
import { forgetDrive, planStanding } from '@/storage/catalog/drive-life';
import { BACKUP_FOLDER, backUp } from '@/storage/jobs/backing-up';
import { runDrill } from '@/storage/jobs/drilling';
import { listLeftBehind, rejoinSidecar } from '@/storage/catalog/left-behind';
import { planRoom } from '@/storage/catalog/free-room';
import { planRule } from '@/storage/catalog/keeping';
import { planRename } from '@/storage/catalog/renaming';
import { planBringBack, planSetAside, queueErasing } from '@/storage/catalog/set-aside';
import { DRIVE_FILE, markDrive, readDriveFile } from '@/storage/archive/archive-files';
import { joinDrive, setAsideOn } from '@/storage/catalog/joining';
import { meetMark } from '@/storage/connections/connections';
import { type Drive, isLeftover } from '@/storage/drives/drive';
import { cardStatus, emptySource } from '@/storage/jobs/emptying';
import { freeRoom } from '@/storage/jobs/freeing';
import { makeBag } from '@/storage/jobs/bagging';
import { checkDrive } from '@/storage/jobs/checking';
import { copyPhotos } from '@/storage/jobs/copying';
import type { MakePicture } from '@/storage/file-tasks/deliver';
import { directFileTasks } from '@/storage/file-tasks/file-tasks';
import type { JobTools } from '@/storage/jobs/job-tools';
import { clearLeftovers, scanDrive } from '@/storage/jobs/scan';
import { surveySource } from '@/storage/jobs/source-survey';
import { takeIn } from '@/storage/jobs/take-in';
import { keepAside } from '@/storage/catalog/saved';
import { type SeenValue, decisionsFor, planDecision, sayApart, seenIn } from '@/storage/catalog/sidecars';
import { verifyFile } from '@/storage/jobs/digesting';
import { mendFile, settleFile } from '@/storage/jobs/settling';
import { type Disk, PlaceDrive, Places, Process, newDisk, sha256Of } from './disks';
import { type DeliveryProfile, NEW_PROFILE } from '@/core/send-out/delivery-profile';
import { sendOut, settleDelivery } from '@/storage/jobs/delivering';
import { type Content, codedIn, pictureBytes } from './pictures';

/** What a browser remembers of a catalog: its database, and where each drive was picked. */
interface Catalog {
  name: string;
  placeOf: Map<string, string>;
}

export const CARD = 'card';
export const PLACES = ['p0', 'p1', 'p2'] as const;

let worlds = 0;

const MADE_SIZE = { width: 16, height: 12 };

export class World {
  readonly places = new Places();
  readonly disks: Disk[];
  readonly card = newDisk('card', 'exact');
  /** A disk of somebody else's, and one nobody ever connected: what is on them is never touched. */
  readonly strangers: Disk[];
  readonly catalogs: Catalog[];
  /** By the digest of all bytes. */
  readonly contents = new Map<string, Content>();
  private readonly byCoded = new Map<string, Content>();
  current = 0;
  process = new Process();
  db!: CatalogDatabase;
  connected = new Map<string, Drive>();
  clock = 1_800_000_000_000;
  /** A state of a sidecar that may be put back one day, by disk and path. */
  readonly oldSidecars = new Map<string, Uint8Array<ArrayBuffer>>();
  /** The disk each drive is. */
  private readonly markedDisks = new Map<string, Disk | null>();
  private number = 0;
  private readonly fileTasks = directFileTasks({ makePicture: this.makePicture(), decodeMade: async () => MADE_SIZE });
  /** The field in which the person is typing, and what stood there when it began. */
  private typing: { photoId: string; key: FieldKey; seen: SeenValue } | null = null;

  constructor() {
    const id = ++worlds;
    this.disks = [newDisk('exact', 'exact'), newDisk('caseless', 'caseless'), newDisk('decomposed', 'decomposed')];
    this.strangers = [newDisk('nobody’s', 'exact'), newDisk('somebody’s', 'caseless')];
    this.catalogs = [0, 1].map((catalog) => ({ name: `storm-${id}-${catalog}`, placeOf: new Map() }));
    this.strangers[0]?.drive.put('2019/x.jpg', this.newPicture(false));
    this.strangers[1]?.drive.put('a0.jpg', this.newPicture(false));
    this.strangers[1]?.drive.put(
      '_wembo/drive.json',
      JSON.stringify({ format: 'wembo-drive', version: 1, id: 'of-somebody-else', name: 'Theirs', createdAt: 1 }),
    );
    this.disks.forEach((disk, index) => this.places.plug(PLACES[index] ?? '', disk));
    this.places.plug(CARD, this.card);
  }

  get allDisks(): Disk[] {
    return [...this.disks, this.card, ...this.strangers];
  }

  get catalog(): Catalog {
    return this.catalogs[this.current] as Catalog;
  }

  now = (): number => (this.clock += 1000);

  newPicture(edged: boolean, words = '', number = ++this.number): Uint8Array<ArrayBuffer> {
    const bytes = pictureBytes(number, edged, words);
    this.remember(bytes, { picture: `${edged ? 'edged' : 'plain'} ${number}`, isBent: false });
    return bytes;
  }

  remember(bytes: Uint8Array, content: Content): void {
    this.contents.set(sha256Of(bytes), content);
    this.byCoded.set(codedIn(bytes) ?? '', content);
  }

  /** Makes sure that it is known what these bytes are, whoever wrote them. */
  meet(bytes: Uint8Array): void {
    const content = this.contents.has(sha256Of(bytes)) ? undefined : this.byCoded.get(codedIn(bytes) ?? '');
    if (content) this.contents.set(sha256Of(bytes), content);
  }

  /** Starts the application, in a process of its own. */
  async start(): Promise<void> {
    this.process = new Process();
    this.connected = new Map();
    this.typing = null;
    this.db = new CatalogDatabase(this.catalog.name);
    const { process } = this;
    this.db.use({
      stack: 'dbcore',
      name: 'storm',
      create: (core) => ({
        ...core,
        transaction: (...order) => {
          if (!process.takes()) throw new Error('the process has ended');
          return core.transaction(...order);
        },
      }),
    });
    await this.db.open();
  }

  /** The page is gone; what it was doing never comes to its end. */
  stop(): void {
    this.process.kill();
    this.db.close();
  }

  async restart(): Promise<void> {
    this.stop();
    await this.start();
  }

  async end(): Promise<void> {
    this.stop();
    for (const { name } of this.catalogs) await new CatalogDatabase(name).delete();
  }

  drive(place: string): PlaceDrive {
    return new PlaceDrive(this.process, this.places, place);
  }

  /** Looks which drives are there, as the application does when somebody comes back to its window. */
  async checkConnections(): Promise<void> {
    this.connected = new Map();
    for (const record of await this.db.drives.toArray()) {
      const place = this.catalog.placeOf.get(record.id);
      const connection = place === undefined ? null : await meetMark(this.drive(place), record).catch(() => null);
      if (connection?.state === 'connected') this.connected.set(record.id, connection.drive);
    }
  }

  /** The disks the catalog can read now. */
  heardDisks(): Set<Disk | undefined> {
    return new Set([...this.connected.keys()].map((id) => this.places.at(this.catalog.placeOf.get(id) ?? '')?.disk));
  }

  driveOf = (id: string): Drive | null => this.connected.get(id) ?? null;

  tools(): JobTools {
    const signal = new AbortController().signal;
    return {
      db: this.db,
      fileTasks: this.fileTasks,
      now: this.now,
      control: { signal, atRest: async () => undefined, progress: () => undefined, reporting: () => undefined },
    };
  }

  /** A connected drive by any number; `null` where none is. */
  async pick(number: number): Promise<{ record: DriveRecord; drive: Drive } | null> {
    const drives = (await this.db.drives.toArray()).filter(({ id }) => this.connected.has(id));
    const record = drives[number % Math.max(1, drives.length)];
    const drive = record && this.driveOf(record.id);
    return record && drive ? { record, drive } : null;
  }

  // --- what a person has the application do ---

  /** @param asOther what a clone is said to be: another drive, or the one it was cloned from */
  async connect(place: string, asOther: boolean): Promise<void> {
    if (!this.places.at(place) || this.strangers.includes(this.places.at(place)?.disk as Disk)) return;
    const mark = await readDriveFile(this.drive(place));
    const known = mark && (await this.db.drives.get(mark.id));
    // a folder inside a drive of the catalog is refused
    if ([...this.catalog.placeOf].some(([id, at]) => id !== mark?.id && place.startsWith(`${at}/`))) return;
    if (!mark && [...this.catalog.placeOf.values()].includes(place)) return; // the mark is lost: nobody says so here
    const isClone = known && this.connected.has(known.id) && this.catalog.placeOf.get(known.id) !== place;
    if (known && !(isClone && asOther)) this.catalog.placeOf.set(known.id, place);
    else {
      const id = mark && !isClone ? mark.id : `drive-${this.now()}`;
      await markDrive(
        this.drive(place),
        { id, name: mark?.name ?? place, createdAt: this.clock },
        isClone ? (mark?.id ?? null) : null,
      );
      await this.db.drives.put({
        id,
        name: mark?.name ?? place,
        kind: 'folder',
        handle: null,
        access: 'write',
        takenOut: false,
        addedAt: this.clock,
        scannedAt: null,
        bytes: 0,
        embeds: false,
        marked: true,
      });
      this.catalog.placeOf.set(id, place);
      this.markedDisks.set(id, this.places.at(place)?.disk ?? null);
      // drives of the catalog that lie in it become a part of it
      for (const [innerId, at] of [...this.catalog.placeOf]) {
        if (!at.startsWith(`${place}/`) || (await setAsideOn(this.db, innerId)) > 0) continue;
        await joinDrive(this.db, { innerId, outerId: id, path: at.slice(place.length + 1) }, this.now());
        this.catalog.placeOf.delete(innerId);
      }
    }
    await this.checkConnections();
  }

  /** A drive that lies where it was marked, by any number; `null` where none does. */
  private async pickLying(
    number: number,
    isConnected: (id: string) => boolean,
  ): Promise<{ record: DriveRecord; place: string } | null> {
    const lying = (await this.db.drives.toArray()).filter(
      ({ id }) =>
        isConnected(id) &&
        this.places.at(this.catalog.placeOf.get(id) ?? '')?.disk === this.markedDisks.get(id) &&
        this.markedDisks.get(id),
    );
    const record = lying[number % Math.max(1, lying.length)];
    const place = record && this.catalog.placeOf.get(record.id);
    return record && place ? { record, place } : null;
  }

  /**
   * A drive loses its mark, is taken for a new one, and turns out to be that drive. @param seen whether the new one was
   * looked through before
   */
  async oneDisk(number: number, seen: boolean): Promise<void> {
    const found = await this.pickLying(number, (id) => this.connected.has(id));
    if (!found) return;
    const { record, place } = found;
    await this.drive(place).remove(DRIVE_FILE);
    const id = `drive-${this.now()}`;
    await markDrive(this.drive(place), { id, name: `${record.name} again`, createdAt: this.clock }, null);
    await this.db.drives.put({ ...record, id, name: `${record.name} again`, scannedAt: null });
    this.catalog.placeOf.delete(record.id);
    this.catalog.placeOf.set(id, place);
    this.markedDisks.set(id, this.places.at(place)?.disk ?? null);
    await this.checkConnections();
    const drive = this.driveOf(id);
    if (seen && drive) await scanDrive(this.tools(), id, drive);
    await joinDrive(this.db, { innerId: record.id, outerId: id, path: '' }, this.now());
    await this.checkConnections();
  }

  /** A drive lost its mark; the person looked into the folder, and says that it is this drive all the same. */
  async markAgain(number: number): Promise<void> {
    const found = await this.pickLying(number, (id) => !this.connected.has(id));
    if (!found || (await readDriveFile(this.drive(found.place)))) return;
    const { record, place } = found;
    await markDrive(this.drive(place), { id: record.id, name: record.name, createdAt: record.addedAt }, null);
    await this.checkConnections();
  }

  async scan(number: number): Promise<string | null> {
    const picked = await this.pick(number);
    if (!picked) return null;
    const {
      record: { id },
      drive,
    } = picked;
    const report = await scanDrive(this.tools(), id, drive);
    await clearLeftovers(drive, report.leftovers, Number.MAX_SAFE_INTEGER);
    await this.db.outbox.bulkPut([
      archiveItem(id, this.now()),
      manifestItem(id, this.clock),
      historyItem(id, this.clock, 0),
    ]);
    return id;
  }

  async copy(from: number, to: number): Promise<void> {
    const [source, target] = [await this.pick(from), await this.pick(to)];
    if (!source || !target || source.record.id === target.record.id) return;
    await copyPhotos(this.tools(), {
      source: { id: source.record.id, drive: source.drive, writable: true },
      target: { id: target.record.id, drive: target.drive },
      photoIds: null,
    });
  }

  /** Photos are sent to a drive; a run that was stopped is taken up again, every other time. */
  async deliver(to: number, which: number): Promise<void> {
    const target = await this.pick(to);
    const [begun] = await this.db.deliveryRuns.toArray();
    if (begun && which % 2 === 1) return this.sendOut(begun.id);
    const photos = (await this.db.photos.toArray()).slice(which % 3, (which % 3) + 3);
    if (!target || photos.length === 0) return;
    const id = `run-${this.now()}`;
    const folder: DeliveryProfile['folder'] = { kind: 'on-drive', driveId: target.record.id, parts: [] };
    await this.db.deliveryRuns.put({
      id,
      profile: { ...NEW_PROFILE, id: 'p', name: 'Press', folder, updatedAt: 0, deleted: false },
      day: '2026-11-30',
      begunAt: this.now(),
      zipPath: null,
    });
    await this.db.deliveryItems.bulkPut(
      photos.map((photo, order) => ({
        id: `${id}/${photo.id}`,
        runId: id,
        photoId: photo.id,
        order,
        driveId: target.record.id,
        // the names of two deliveries meet, and those of photos that are there
        path: which % 4 === 0 ? `2019/a${order}.jpg` : `sent/${order}.jpg`,
        pixels: MADE_SIZE,
        sent: null,
      })),
    );
    await this.sendOut(id);
  }

  private async sendOut(runId: string): Promise<void> {
    await sendOut(this.tools(), { runId, driveOf: this.driveOf, drawOverlay: async () => null });
    await settleDelivery(this.db, runId, this.now());
  }

  /** A picture of its own, of which it is known that it was made for sending. */
  private makePicture(): MakePicture {
    return async () => {
      const bytes = pictureBytes(++this.number, false);
      this.remember(bytes, { picture: `sent ${this.number}`, isBent: false });
      return { blob: new Blob([bytes]), ...MADE_SIZE, quality: 90 };
    };
  }

  async check(number: number): Promise<string | null> {
    const picked = await this.pick(number);
    if (picked) await checkDrive(this.tools(), picked.record.id, picked.drive, true);
    return picked?.record.id ?? null;
  }

  /** A part of a drive is read, what was read longest ago first. */
  async checkPart(number: number): Promise<void> {
    const picked = await this.pick(number);
    const order = { since: this.now(), share: number % 2 === 0 ? 1 / 3 : 1 / 90 };
    if (picked) await checkDrive(this.tools(), picked.record.id, picked.drive, true, order);
  }

  /** A drive is copied as a whole, and the other takes its place where all of it is verified there. */
  async replace(from: number, to: number): Promise<void> {
    const [source, target] = [await this.pick(from), await this.pick(to)];
    if (!source || !target || source.record.id === target.record.id) return;
    await copyPhotos(this.tools(), {
      source: { id: source.record.id, drive: source.drive, writable: true },
      target: { id: target.record.id, drive: target.drive },
      photoIds: null,
      whole: true,
      replacesOn: '2026-11-30',
    });
  }

  async drill(from: number, to: number): Promise<void> {
    const [source, target] = [await this.pick(from), await this.pick(to)];
    if (!source || !target) return;
    const name = `drill-${this.now()}`;
    await runDrill(this.tools(), { source: { id: source.record.id, drive: source.drive }, target: target.drive, name });
  }

  async backUp(number: number): Promise<void> {
    const on = await this.pick(number);
    if (on) await backUp(this.tools(), { driveId: on.record.id, drive: on.drive });
  }

  /** A drive is retired, declared lost, or in use again. */
  async stand(number: number): Promise<void> {
    const drives = await this.db.drives.toArray();
    const drive = drives[number % Math.max(1, drives.length)];
    const standing = DRIVE_STANDINGS[number % DRIVE_STANDINGS.length] ?? 'in-use';
    if (drive) await this.change(await planStanding(this.db, drive.id, standing, '2026-11-30', this.now()));
  }

  /** Only one that holds nothing that is not elsewhere; then it may be connected again as any other. */
  async forget(number: number): Promise<void> {
    const drives = await this.db.drives.toArray();
    const drive = drives[number % Math.max(1, drives.length)];
    if (!drive || (await forgetDrive(this.db, drive.id))) return;
    this.connected.delete(drive.id);
    this.catalog.placeOf.delete(drive.id);
  }

  /** Of what lies twice on a drive one stays. */
  async settleDoubles(number: number): Promise<void> {
    const groups = await listDoubles(this.db, await this.db.photos.toCollection().primaryKeys());
    const chosen = groups.map((group) => ({
      files: group.files,
      staysId: group.files[number % group.files.length]?.id ?? '',
    }));
    const change = await planDoubles(this.db, chosen, '2026-11-30');
    if (change.moves.length > 0) await this.change(change);
  }

  async outbox(): Promise<void> {
    await emptyOutbox({
      db: this.db,
      driveOf: this.driveOf,
      embed: (order) => this.fileTasks.embed(order),
      copy: (order) => this.fileTasks.copy(order, () => undefined),
      now: () => (this.clock += 30_000),
    });
  }

  async takeIn(main: number, second: number): Promise<void> {
    const [first, other] = [await this.pick(main), await this.pick(second)];
    if (!first) return;
    const two = other && other.record.id !== first.record.id ? other : null;
    const card = this.drive(CARD);
    const { items } = await surveySource(
      { db: this.db, fileTasks: this.fileTasks, signal: new AbortController().signal, onProgress: () => undefined },
      card,
      { withSubfolders: true, below: '' },
    );
    const chosen = inClockOrder(
      items
        .filter(({ status, problem }) => status?.state !== 'known' && !problem)
        .map((item) => ({ ...item, path: item.frame.photos[0]?.path ?? '', captured: item.reading?.captured ?? null })),
    );
    if (chosen.length === 0) return;
    const sheet: Sheet = {
      ...NEW_SHEET,
      driveId: first.record.id,
      second: { ...NEW_SHEET.second, driveId: two?.record.id ?? null },
      asItIs: main % 3 === 2 ? first.record.id : null,
    };
    const number = await nextNumber(this.db, 2026);
    const accession: AccessionRecord = {
      id: `acc-${this.now()}`,
      number,
      name: '',
      note: '',
      source: 'Card',
      sourceId: CARD,
      recordedAt: null,
      startedAt: this.clock,
      endedAt: null,
      onSource: items.length,
      known: items.length - chosen.length,
      leftOut: 0,
      routine: null,
      sheet,
      runs: [],
    };
    const plan = planTakeIn({
      frames: chosen,
      sheet,
      accession: number,
      source: 'Card',
      main: { files: await pathsOn(first.drive) },
      second: two ? { files: await pathsOn(two.drive) } : null,
    });
    await this.db.accessions.put(accession);
    await this.db.accessionFiles.bulkPut(
      plan.files.map((file): AccessionFileRecord => ({
        ...file,
        id: `${accession.id}/${file.from}`,
        accessionId: accession.id,
        sha256: null,
        photoId: null,
        placed: [],
        described: false,
      })),
    );
    await takeIn(this.tools(), {
      accession,
      source: card,
      main: { id: first.record.id, drive: first.drive },
      second: two ? { id: two.record.id, drive: two.drive } : null,
      asItIs: sheet.asItIs ? first.drive : null,
    });
  }

  /** @param place the card, or a folder anywhere that is called one */
  async empty(place: string, copies: number, awayCounts: boolean): Promise<void> {
    const rule = { copies, awayCounts };
    const source = this.drive(place);
    const { plan } = await cardStatus(
      { db: this.db, fileTasks: this.fileTasks, signal: new AbortController().signal, driveOf: this.driveOf },
      source,
      rule,
    );
    await emptySource(this.tools(), source, { ...rule, files: plan.removable.length }, this.driveOf);
  }

  /** Room is freed on a drive, by a rule that asks for so many copies, none of them elsewhere. */
  async free(number: number, copies: number, awayCounts: boolean): Promise<void> {
    const picked = await this.pick(number);
    if (!picked) return;
    await this.change(await planRule(this.db, { copies, elsewhere: 0, verifiedWithinDays: 365 }, this.now()));
    const { id: driveId } = picked.record;
    const isHere = (id: string) => this.driveOf(id) !== null;
    const plan = await planRoom(this.db, { driveId, photoIds: null, awayCounts, isHere, now: this.now() });
    const agreed = { files: plan.leaving.length, awayCounts };
    await freeRoom(this.tools(), { driveId, drive: picked.drive, photoIds: null, agreed, driveOf: this.driveOf });
  }

  /** A bag is made on a drive, or one that broke off is taken up again. */
  async bag(number: number, which: number): Promise<void> {
    const picked = await this.pick(number);
    const photoIds = await this.somePhotos(which);
    if (!picked || photoIds.length === 0) return;
    const asked: BagAsked = {
      name: 'bag',
      folder: `bags/${which % 3}`,
      algorithm: which % 2 === 0 ? 'sha256' : 'sha512',
      organization: '',
      contact: '',
      description: '',
    };
    const { driveOf } = this;
    await makeBag(this.tools(), { asked, photoIds, target: picked.drive, driveOf, day: '2026-11-30' });
  }

  /** Where the drive lies that an act with this number picks. */
  async placeOf(number: number) {
    const picked = await this.pick(number);
    return picked && this.places.at(this.catalog.placeOf.get(picked.record.id) ?? '');
  }

  /** Some photos of the catalog, by any number: one in three. */
  async somePhotos(number: number): Promise<string[]> {
    const ids = (await this.db.photos.toCollection().primaryKeys()).filter((_, index) => (index + number) % 3 === 0);
    return ids.slice(0, 5);
  }

  async change(change: Change): Promise<void> {
    await makeChange(this.db, change, this.now());
  }

  async rename(number: number): Promise<void> {
    const plan = await planRename(
      this.db,
      await this.somePhotos(number),
      [
        { kind: 'text', text: `named-${number % 4}-` },
        { kind: 'sequence', start: 1, digits: 3, over: 'folder' },
      ],
      NEW_SHEET.blanks,
      false,
    );
    if (plan.moves.length > 0) await this.change({ kind: 'names', moves: plan.moves, edits: plan.edits });
  }

  /** Some photos into a folder of one drive, new or of others. */
  async moveInto(number: number, other: number): Promise<void> {
    const drives = await this.db.drives.toArray();
    const drive = drives[other % Math.max(1, drives.length)];
    const folder = ['', 'moved', 'moved/deep', '2019'][number % 4] ?? '';
    if (!drive) return;
    const { moves } = await planMoveInto(this.db, await this.somePhotos(number), drive.id, folder);
    if (moves.length > 0) await this.change({ kind: 'names', moves, edits: [] });
  }

  /** The folder of some file gets another path. */
  async moveFolder(number: number, other: number): Promise<void> {
    const files = await this.db.files.filter(({ path }) => path.includes('/')).toArray();
    const file = files[number % Math.max(1, files.length)];
    const from = file && folderIn(pathToBe(file));
    const to = ['renamed', 'renamed/in', 'moved'][other % 3] ?? '';
    if (!file || !from || folderRefusal(from) !== null || folderRefusal(to, from) !== null) return;
    const { moves } = await planMoveFolder(this.db, file.driveId, from, to);
    if (moves.length > 0) await this.change({ kind: 'names', moves, edits: [] });
  }

  /** Photos go to a folder of another drive, and leave the one they come from. */
  async moveOver(number: number, to: number): Promise<void> {
    const [source, target] = [await this.pick(number), await this.pick(to)];
    if (!source || !target || source.record.id === target.record.id) return;
    await copyPhotos(this.tools(), {
      source: { id: source.record.id, drive: source.drive, writable: true },
      target: { id: target.record.id, drive: target.drive },
      photoIds: await this.somePhotos(number),
      over: {
        going: { from: number % 2 === 0 ? null : '2019', to: ['', 'over', '2019'][to % 3] ?? '', leaves: to % 4 !== 3 },
        day: '2026-11-29',
      },
    });
  }

  /** A sidecar that was left behind is put beside a photo it may belong to. */
  async rejoin(number: number): Promise<void> {
    const rows = (await listLeftBehind(this.db, this.driveOf, 100)).filter(
      ({ record, of }) => of.length > 0 && this.driveOf(record.driveId),
    );
    const row = rows[number % Math.max(1, rows.length)];
    const [drive, file] = [this.driveOf(row?.record.driveId ?? ''), row?.of[number % row.of.length]];
    if (row && drive && file) await rejoinSidecar(this.db, drive, row.record, file.id, this.now(), '2026-11-29');
  }

  async setAside(number: number): Promise<void> {
    await this.change((await planSetAside(this.db, (await this.somePhotos(number)).slice(0, 2), '2026-11-29')).change);
  }

  async bringBack(number: number): Promise<void> {
    await this.change((await planBringBack(this.db, await this.somePhotos(number))).change);
  }

  /** @returns the digests of all that the person gave up by this */
  async erase(number: number): Promise<FileRecord[]> {
    const ids = (await this.somePhotos(number)).slice(0, 1);
    const files = await this.db.files.where('photoId').anyOf(ids).toArray();
    await queueErasing(this.db, ids, this.now());
    return files;
  }

  /** @param said the word for a picture, or none: then the field is cleared */
  async describe(number: number, key: FieldKey, said: (picture: string) => string | undefined): Promise<void> {
    const all = await this.db.photos.toCollection().primaryKeys();
    const photo = await this.db.photos.get(all[number % Math.max(1, all.length)] ?? '');
    if (!photo) return;
    const file = await this.db.files.where('photoId').equals(photo.id).first();
    const picture = this.contents.get(file?.sha256 ?? '')?.picture ?? '';
    await this.change({ kind: 'fields', origin: 'person', edits: planSet([photo], key, said(picture)) });
  }

  /** The person begins to type in a field of one photo: what stands there now was seen. */
  async beginTyping(number: number, key: FieldKey): Promise<void> {
    const all = await this.db.photos.toCollection().primaryKeys();
    const photo = await this.db.photos.get(all[number % Math.max(1, all.length)] ?? '');
    this.typing = photo ? { photoId: photo.id, key, seen: seenIn(photo, key) } : null;
  }

  /** What was typed is kept, beside what came in meanwhile. */
  async leaveField(said: (picture: string) => string): Promise<void> {
    const { typing } = this;
    this.typing = null;
    const photo = await this.db.photos.get(typing?.photoId ?? '');
    if (!typing || !photo) return;
    const file = await this.db.files.where('photoId').equals(photo.id).first();
    const word = said(this.contents.get(file?.sha256 ?? '')?.picture ?? '');
    if (await sayApart(this.db, photo.id, typing.key, word, typing.seen, this.now())) return;
    await this.change({ kind: 'fields', origin: 'person', edits: planSet([photo], typing.key, word) });
  }

  /** A choice that belongs to the archive. */
  async choose(number: number, value: string): Promise<void> {
    await keepSetting(this.db, number % 2 === 0 ? 'pinned' : 'card-fields', { chosen: value }, this.now());
  }

  /** A photo is looked at pixel by pixel: one of its files is read in full behind that. */
  async lookClosely(number: number): Promise<void> {
    const files = (await this.db.files.toArray()).filter(
      ({ driveId, photoId, state }) => photoId !== null && state !== 'missing' && this.connected.has(driveId),
    );
    const file = files[number % Math.max(1, files.length)];
    const drive = this.driveOf(file?.driveId ?? '');
    if (file && drive)
      await verifyFile({ ...this.tools(), signal: new AbortController().signal }, drive, file.id, true);
  }

  /** The person has files of a later version kept aside, wherever they are in the way. */
  async keepAside(): Promise<void> {
    for (const problem of await this.db.archiveProblems
      .filter(({ kind, keptAs }) => kind === 'newer' && keptAs === null)
      .toArray()) {
      const drive = this.driveOf(problem.driveId);
      if (!drive) continue;
      await keepAside(this.db, drive, problem, async () => true);
      await this.db.outbox.put(archiveItem(problem.driveId, this.now()));
    }
  }

  /** Decides some of what is to be decided: for here, or for there. */
  async decide(number: number): Promise<void> {
    const conflicts = (await this.db.conflicts.toArray()).filter((_, index) => index % 3 === number % 3 || number > 8);
    const change = await planDecision(
      this.db,
      await decisionsFor(this.db, conflicts, number % 2 === 0 ? 'here' : 'theirs'),
    );
    if (change) await this.change(change);
  }

  /** Keeps a collection under a new name, gives one another, or deletes one. */
  async keep(number: number, name: () => string): Promise<void> {
    const there = (await this.db.collections.toArray()).filter(({ deleted }) => !deleted);
    const before = number % 3 === 0 ? undefined : there[number % Math.max(1, there.length)];
    const at = this.clock;
    const after = before
      ? { ...before, ...(number % 3 === 1 ? { name: name() } : { deleted: true }), updatedAt: at }
      : {
          ...newCollection(name(), 'smart', { scope: 'boat' }),
          id: `c${this.now()}-${this.current}`,
          updatedAt: at,
          deleted: false,
        };
    await this.change({ kind: 'kept', savedKind: 'collections', before: before ?? null, after });
  }

  /** Brings a file that is damaged or missing back from a verified copy. */
  async mend(number: number): Promise<void> {
    const inDoubt = (await this.db.files.where('state').anyOf('damaged', 'missing').toArray()).filter(({ driveId }) =>
      this.connected.has(driveId),
    );
    const file = inDoubt[number % Math.max(1, inDoubt.length)];
    const photo = file?.photoId ? await this.db.photos.get(file.photoId) : undefined;
    const copies = photo
      ? (await this.db.files.where('photoId').equals(photo.id).toArray()).filter(
          (one) =>
            one.id !== file?.id &&
            this.connected.has(one.driveId) &&
            copyStatusOf(one, photo) === 'verified' &&
            one.sha256 === file?.sha256,
        )
      : [];
    const [from] = copies;
    const [drive, source] = [this.driveOf(file?.driveId ?? ''), this.driveOf(from?.driveId ?? '')];
    if (file && from && drive && source)
      await mendFile(this.tools(), file.id, { drive, from: { drive: source, fileId: from.id }, day: '2026-11-29' });
  }

  undo = () => undoLast(this.db, this.now());
  redo = () => redoNext(this.db, this.now());

  async embed(number: number): Promise<void> {
    const picked = await this.pick(number);
    if (!picked) return;
    await this.db.drives.update(picked.record.id, { embeds: !picked.record.embeds });
    await queueEmbedding(this.db, picked.record.id, this.now());
  }

  /** The person settles the first file that is damaged, in doubt or missing. */
  async settle(number: number): Promise<FileRecord | null> {
    const inDoubt = await this.db.files.where('state').anyOf('damaged', 'doubt', 'missing').toArray();
    const file = inDoubt[number % Math.max(1, inDoubt.length)];
    if (!file) return null;
    const drive = this.driveOf(file.driveId);
    if (file.state === 'missing') await settleFile(this.tools(), null, file.id, 'gone');
    else if (drive) await settleFile(this.tools(), drive, file.id, number % 2 === 0 ? 'as-it-is' : 'damaged');
    return file;
  }

  // --- what is lost, and what comes back ---

  /** The browser's data are deleted; the drives are connected again where they are plugged in. */
  async rebuild(): Promise<void> {
    this.stop();
    await new CatalogDatabase(this.catalog.name).delete();
    this.catalog.placeOf.clear();
    await this.start();
  }

  /** The browser's data are gone, and a backup is taken up in their place, however old; one that was just made where no disk has any. */
  async restore(number: number): Promise<void> {
    const backups = this.disks.flatMap(({ drive }) =>
      [...drive.files].filter(([path]) => path.startsWith(BACKUP_FOLDER) && !isLeftover(path)),
    );
    const [, file] = backups[number % Math.max(1, backups.length)] ?? [];
    const pieces: Uint8Array<ArrayBuffer>[] = file ? [file.bytes] : [];
    if (!file) for await (const piece of backupOf(this.db, this.now())) pieces.push(piece);
    this.stop();
    await new CatalogDatabase(this.catalog.name).delete();
    this.catalog.placeOf.clear();
    this.catalog.name += '+';
    await restoreBackup(new Blob(pieces), this.catalog.name);
    await this.start();
  }

  async switchCatalog(): Promise<void> {
    this.stop();
    this.current = 1 - this.current;
    await this.start();
  }
}

async function pathsOn(drive: Drive): Promise<string[]> {
  const paths: string[] = [];
  for await (const { path } of drive.list()) paths.push(path);
  return paths;
}
